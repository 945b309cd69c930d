using System.CommandLine;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Formats.Inspection;
using Junctra.Formats.PhoneFiles;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>Plans of jobs, and their rehearsal.</summary>
internal static class PlanCommands
{
    private static readonly Option<FileInfo?> PackageOption = new("--package")
    {
        Description = "Package file; left out for a path that takes none",
    };
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
            DataOption,
            PathOption,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        plan.SetAction(
            (result, cancel) =>
                Shell.GuardAsync(async () =>
                {
                    var (outcome, match) = await PlanAsync(result, cancel);
                    var report = PlanFile.Of(outcome, match);
                    Shell.Show(result, report, Print.Plan);
                    return outcome.Plan is null ? 1 : 0;
                })
        );
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
            DataOption,
            PathOption,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        rehearse.SetAction(
            (result, cancel) =>
                Shell.GuardAsync(async () =>
                {
                    var (outcome, _) = await PlanAsync(result, cancel);
                    var report = RehearsalFile.Of(outcome);
                    Shell.Show(result, report, Print.Rehearsal);
                    return outcome.Plan is null ? 1 : 0;
                })
        );
        return rehearse;
    }

    private static async Task<(PlanOutcome Outcome, MatchReport? Match)> PlanAsync(ParseResult result, CancellationToken cancel)
    {
        var catalogue = Shell.CatalogueOf(result);
        var phone = PhoneFileReader.Read(result.GetValue(Shell.Phone)!.FullName, catalogue);
        if (result.GetValue(PathOption) is { } letter && PathList.Find(letter) is null)
            throw new IOException(
                $"{letter} is no path. Paths are {string.Join(", ", PathList.All.Select(path => $"{path.Letter} ({path.Title})"))}."
            );
        Package? package = null;
        if (result.GetValue(PackageOption) is { } file)
        {
            if (!file.Exists)
                throw new FileNotFoundException($"There is no file {file.FullName}.");
            package = PackageReader.Read(
                file.Name,
                await FolderInspection.InspectAsync(file, LibraryFolder.Read(file.DirectoryName!), Shell.Trusted(result), cancel),
                catalogue
            );
        }

        var match = package is null ? null : Matcher.Match(phone.Phone, package, catalogue, phone.Policy);
        var erase = result.GetValue(DataOption) is { } data ? data == "erase" : package is null || phone.Policy.DataMayGo;
        return (
            PathList.Compile(
                new PathCase(phone.Phone, package, erase, catalogue, match?.NeedsCleanWrite ?? false),
                result.GetValue(PathOption)
            ),
            match
        );
    }
}
