using System.CommandLine;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Formats.MatchFiles;
using Junctra.Formats.PhoneFiles;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>What is asked of package files.</summary>
internal static class PackageCommands
{
    /// <summary>Looks into a package file.</summary>
    public static Command Inspect()
    {
        var fileArgument = new Argument<FileInfo>("file") { Description = "Package file" };
        var inspect = new Command("inspect", "Looks into a package file; ends with 1 when it must not be written")
        {
            fileArgument,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        inspect.SetAction((result, cancel) => Shell.GuardAsync(result, async () =>
                {
                    var catalogue = Shell.CatalogueOf(result);
                    var file = result.GetValue(fileArgument)!;
                    if (!file.Exists)
                        throw new FileNotFoundException($"There is no file {file.FullName}.");
                    var contents = await FolderInspection.InspectAsync(
                        file,
                        LibraryFolder.Read(file.DirectoryName!),
                        Shell.Trusted(result),
                        cancel
                    );
                    var report = PackageReport.Of(PackageReader.Read(file.Name, contents, catalogue));
                    Shell.Show(result, report, Print.Package);
                    return report.IsIntact ? 0 : 1;
                }));
        return inspect;
    }

    /// <summary>Judges every package of a folder for a phone.</summary>
    public static Command Match()
    {
        var libraryOption = new Option<DirectoryInfo>("--library") { Description = "Folder of package files", Required = true };
        var policyOption = new Option<FileInfo?>("--policy")
        {
            Description = "File with schools, goal and wish; they go before those of the phone's file",
        };
        var match = new Command("match", "Judges every package of a folder for a phone; ends with 1 when none may be written")
        {
            Shell.Phone,
            libraryOption,
            policyOption,
            Shell.Trust,
            Shell.Catalogue,
            Shell.Json,
        };
        match.SetAction((result, cancel) => Shell.GuardAsync(result, async () =>
                {
                    var catalogue = Shell.CatalogueOf(result);
                    var phone = PhoneFileReader.Read(result.GetValue(Shell.Phone)!.FullName, catalogue);
                    var policy = result.GetValue(policyOption) is { } policyFile
                        ? PhoneFileReader.ReadPolicy(policyFile.FullName, phone.Policy)
                        : phone.Policy;
                    var library = LibraryFolder.Read(result.GetValue(libraryOption)!.FullName);
                    var trusted = Shell.Trusted(result);
                    var packages = new List<Package>();
                    foreach (var file in library.Packages)
                    {
                        packages.Add(
                            PackageReader.Read(file.Name, await FolderInspection.InspectAsync(file, library, trusted, cancel), catalogue)
                        );
                    }

                    var ranked = Matcher.Rank(phone.Phone, packages, catalogue, policy);
                    var report = MatchReportFile.Of(phone.Phone, policy, catalogue, ranked, library.Arriving.Select(file => file.Name));
                    Shell.Show(result, report, Print.Match);
                    return report.Candidates.Any(candidate => candidate.MayBeChosen) ? 0 : 1;
                }));
        return match;
    }
}
