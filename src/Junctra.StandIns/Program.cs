using Junctra.Formats.Boards;
using Junctra.Formats.CatalogueFiles;
using Junctra.StandIns;
using Junctra.StandIns.Boards;
using Junctra.StandIns.History;

// Commands: `board FILE` writes the netlist of the demo's board and ends; `history PACKAGES FILE CATALOGUE` plays the demo shop's
// past and ends; `mirror-files FOLDER` writes what the mirrors have and ends;
// `packages FOLDER CATALOGUE` writes the demo library, the loaders beside it, and ends (with `factory-sets` in place of the catalogue only
// those); `large-package FILE MEBIBYTES` writes one set with a raw system image of that size, for measuring, `large-bundle` a bundle with
// one; `serve` (with --catalogue, --data, --control and --phone-a to --phone-p ports, --list for the computer's list of phones, --rate,
// --pace, --long-pace, --most-download, and for the mirrors --mirror-files, --mirror-pace) plays the phones until it is stopped.
if (args is ["packages", var folder, .. var which])
{
    await DemoPackages.WriteAsync(folder);
    if (which is not ["factory-sets"])
    {
        await DemoBundles.WriteAsync(folder);
        if (which is [var catalogueFolder])
            await DemoBundles.WriteLoadersAsync(folder, CatalogueReader.Read(catalogueFolder));
    }

    await DemoPackages.PublishAsync(folder);
    return 0;
}

if (args is ["history", var demoPackages, var history, var demoCatalogue])
{
    await using var output = File.Create(history);
    var made = CatalogueReader.Read(demoCatalogue);
    await HistoryFile.WriteAsync(made, await HistoryFile.ReadAsync(made, demoPackages), output);
    return 0;
}

if (args is ["board", var boardFile])
{
    await using var output = new StreamWriter(boardFile);
    NetlistWriter.Write(InventedBoard.Of(InventedBoard.SeedOfTheDemo).Board with { Job = "Tern 6 main board, invented" }, output);
    return 0;
}

if (args is ["mirror-files", var mirrorFolder])
{
    await DemoBundles.WriteOfMirrorsAsync(mirrorFolder);
    return 0;
}

if (args is ["large-package", var large, var mebibytes] && int.TryParse(mebibytes, out var size) && size is > 0 and < 1900)
{
    await using var output = File.Create(large);
    await DemoPackages.WriteAsync(
        new DemoPackage(Path.GetFileName(large), "HX204", "HX204/15.26w10-7.r3", 15, 3, size, Layout: DemoLayout.PlainRaw),
        output
    );
    return 0;
}

if (
    args is ["large-bundle", var largeBundle, var bundleSize]
    && int.TryParse(bundleSize, out var bundleMebibytes)
    && bundleMebibytes is > 0 and < 16_384
)
{
    await using var output = File.Create(largeBundle);
    await DemoBundles.WriteLargeAsync(output, bundleMebibytes);
    return 0;
}

if (args is not ["serve", ..])
{
    Console.Error.WriteLine(
        "Say `packages FOLDER CATALOGUE`, `large-package FILE MEBIBYTES` or `serve --catalogue DIR --data DIR --control PORT --phone-a PORT …`."
    );
    return 2;
}

var builder = WebApplication.CreateSlimBuilder();
builder.Configuration.AddCommandLine(args[1..]);
builder.Logging.SetMinimumLevel(LogLevel.Warning);
var settings = builder.Configuration;
var catalogue = CatalogueReader.Read(settings["catalogue"] ?? "catalogue");
var data = settings["data"] ?? throw new InvalidOperationException("Say --data DIR, where the phones keep their partitions.");
var pace = new StandInPace(
    settings.GetValue("rate", 0L),
    settings.GetValue("pace", 4.0),
    settings.GetValue("long-pace", 25.0),
    settings.GetValue("most-download", 4 << 20)
);

Dictionary<string, BenchPhone> phones;
try
{
    phones = DemoPhones.All.ToDictionary(
        phone => phone.Name,
        phone =>
            BenchPhone.Open(
                phone.Name,
                settings.GetValue($"phone-{phone.Name.ToLowerInvariant()}", 0),
                Path.Combine(data, phone.Name.ToLowerInvariant()),
                catalogue,
                phone.Birth(catalogue),
                pace
            )
    );
}
catch (InvalidDataException error)
{
    Console.Error.WriteLine($"{error.Message} Start the demo world anew: ./junctra demo reset");
    return 1;
}

var list = new BenchList(phones);

builder.WebHost.UseUrls($"http://127.0.0.1:{settings.GetValue("control", 5640)}");
var app = builder.Build();
ControlPage.Map(app, phones, list);
if (settings["mirror-files"] is { } mirrorFiles)
{
    await DemoBundles.WriteOfMirrorsAsync(mirrorFiles);
    Mirrors.Map(app, mirrorFiles, settings.GetValue("mirror-pace", 1.0));
}

using var ending = new CancellationTokenSource();
var listing = settings.GetValue("list", 0) is > 0 and var listPort
    ? BenchServer.ServeListAsync(listPort, list.At, ending.Token)
    : Task.CompletedTask;
await app.RunAsync();
await ending.CancelAsync();
await listing;
foreach (var phone in phones.Values)
    await phone.DisposeAsync();
return 0;
