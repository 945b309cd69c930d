using System.CommandLine;
using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Formats.Inspection;
using Junctra.Formats.PhoneFiles;
using Junctra.Formats.PlanFiles;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>Plans of jobs, and their rehearsal.</summary>
internal static class PlanCommands
{
    private static readonly Option<FileInfo?> PackageOption = new("--package")
    {
        Description = "Package file; left out for a path that takes none",
    };
    private static readonly Option<FileInfo?> RestOption = new("--rest") { Description = "Bundle from which a patched part was made" };
    private static readonly Option<string?> DataOption = new("--data")
    {
        Description = "keep or erase; as the phone's file has it where it is left out",
    };
    private static readonly Option<string?> PathOption = new("--path")
    {
        Description = "Letter of the path; the first that suits where it is left out",
    };

    static PlanCommands() => DataOption.AcceptOnlyFromAmong("keep", "erase");

    /// <summary>Plans a job.</summary>
    public static Command Plan()
    {
        var plan = new Command("plan", "Plans a job: the steps in the only safe order; ends with 1 when there is no plan")
        {
            Shell.Phone,
            PackageOption,
            RestOption,
            DataOption,
            PathOption,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        plan.SetAction((result, cancel) => Shell.GuardAsync(result, async () =>
                {
                    var (outcome, match) = await PlanAsync(result, cancel);
                    var report = PlanFile.Of(outcome, match);
                    Shell.Show(result, report, Print.Plan);
                    return outcome.Plan is null ? 1 : 0;
                }));
        return plan;
    }

    /// <summary>Plays a plan on twins.</summary>
    public static Command Rehearse()
    {
        var rehearse = new Command(
            "rehearse",
            "Plays a plan on twins of the phone, with a break before and within every step; ends with 1 when there is no plan"
        )
        {
            Shell.Phone,
            PackageOption,
            RestOption,
            DataOption,
            PathOption,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        rehearse.SetAction((result, cancel) => Shell.GuardAsync(result, async () =>
                {
                    var (outcome, _) = await PlanAsync(result, cancel);
                    var report = RehearsalFile.Of(outcome);
                    Shell.Show(result, report, Print.Rehearsal);
                    return outcome.Plan is null ? 1 : 0;
                }));
        return rehearse;
    }

    /// <summary>Every way of doing a job.</summary>
    public static Command Ways()
    {
        var ways = new Command(
            "ways",
            "Every way of doing a job, what each costs more, and why the others are missing; ends with 1 when none has a plan"
        )
        {
            Shell.Phone,
            PackageOption,
            RestOption,
            DataOption,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        ways.SetAction((result, cancel) => Shell.GuardAsync(result, async () =>
                {
                    var (@case, match) = await CaseAsync(result, cancel);
                    // A command line knows no ports, and does not ask what this computer carries out.
                    var report = WaysFile.Of(@case, match, @case.Package?.Contents.SizeBytes, _ => true);
                    Shell.Show(result, report, Print.Ways);
                    return report.Ways.Any(way => way.Cost is not null) ? 0 : 1;
                }));
        return ways;
    }

    private static async Task<(PlanOutcome Outcome, MatchReport? Match)> PlanAsync(ParseResult result, CancellationToken cancel)
    {
        if (result.GetValue(PathOption) is { } letter && PathList.Find(letter) is null)
            throw new IOException(
                $"{letter} is no path. Paths are {string.Join(", ", PathList.All.OrderBy(path => path.Letter, StringComparer.Ordinal).Select(path => $"{path.Letter} ({path.Title})"))}."
            );
        var (@case, match) = await CaseAsync(result, cancel);
        return (PathList.Compile(@case, result.GetValue(PathOption)), match);
    }

    private static async Task<(PathCase Case, MatchReport? Match)> CaseAsync(ParseResult result, CancellationToken cancel)
    {
        var catalogue = Shell.CatalogueOf(result);
        var phone = PhoneFileReader.Read(result.GetValue(Shell.Phone)!.FullName, catalogue);
        var package = await PackageAsync(PackageOption);
        var rest = await PackageAsync(RestOption);
        var around = package is null || rest is null ? null : new Surroundings([package, rest], catalogue);
        var match = package is null ? null : Matcher.Match(phone.Phone, package, catalogue, phone.Policy, around);
        var erase = result.GetValue(DataOption) is { } data ? data == "erase" : package is null || phone.Policy.DataMayGo;
        return (
            PathCase.Of(
                phone.Phone,
                package,
                erase,
                catalogue,
                phone.Policy,
                match,
                package?.Kind == PackageKind.BundlePart ? around?.OriginOf(package)?.Original : null
            ),
            match
        );

        async Task<Package?> PackageAsync(Option<FileInfo?> option)
        {
            if (result.GetValue(option) is not { } file)
                return null;
            if (!file.Exists)
                throw new FileNotFoundException($"There is no file {file.FullName}.");
            return PackageReader.Read(
                file.Name,
                await FolderInspection.InspectAsync(file, LibraryFolder.Read(file.DirectoryName!), Shell.Trusted(result), cancel),
                catalogue
            );
        }
    }
}
