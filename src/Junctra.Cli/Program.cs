using System.CommandLine;
using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Core.Packages;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Inspection;

// What a shell needs of the core: check a catalogue that was edited, and look into a package file.
var catalogueOption = new Option<DirectoryInfo>("--catalogue") { Description = "Folder of the catalogue", DefaultValueFactory = _ => new DirectoryInfo("catalogue") };
var json = new JsonSerializerOptions(JsonSerializerDefaults.Web) { WriteIndented = true, Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) } };

var check = new Command("catalogue", "Checks the files of a catalogue; every mistake with its file and line") { catalogueOption };
check.SetAction(result => Guard(() =>
{
    var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
    Console.WriteLine($"{catalogue.Makers.Count} makers, {catalogue.Models.Count()} models, {catalogue.Regions.Count} regions: all in order.");
    return Task.FromResult(0);
}));

var fileArgument = new Argument<FileInfo>("file") { Description = "Package file" };
var inspect = new Command("inspect", "Looks into a package file and prints what it is, as JSON") { fileArgument, catalogueOption };
inspect.SetAction((result, cancel) => Guard(async () =>
{
    var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
    var file = result.GetValue(fileArgument)!;
    await using var stream = file.OpenRead();
    var package = PackageReader.Read(file.Name, await PackageInspector.InspectAsync(stream, cancel: cancel), catalogue);
    Console.WriteLine(JsonSerializer.Serialize(package, json));
    return package.Findings.Any(finding => finding.Weight == FindingWeight.Fatal) ? 1 : 0;
}));

return await new RootCommand("Junctra at the command line") { check, inspect }.Parse(args).InvokeAsync();

static async Task<int> Guard(Func<Task<int>> act)
{
    try
    {
        return await act();
    }
    catch (Exception error) when (error is CatalogueException or IOException or UnauthorizedAccessException)
    {
        Console.Error.WriteLine(error.Message);
        return 2;
    }
}
