using Junctra.Formats.CatalogueFiles;
using Junctra.StandIns;

// Four commands: `mirror-files FOLDER` writes what the mirrors have and ends; `packages FOLDER` writes the demo library and ends (with `factory-sets` only those); `large-package FILE MEBIBYTES` writes one set with a raw system
// image of that size, for measuring; `serve` (with --catalogue, --data, --control and
// --phone-a/--phone-b/--phone-c ports, --rate, --restart-ms, --first-boot-ms, --most-download, and for the mirrors --mirror-files, --mirror-pace) plays the phones until it is stopped.
if (args is ["packages", var folder, .. var which])
{
    await DemoPackages.WriteAsync(folder);
    if (which is not ["factory-sets"]) await DemoBundles.WriteAsync(folder);
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
    await DemoPackages.WriteAsync(new DemoPackage(Path.GetFileName(large), "HX204", "HX204/15.26w10-7.r3", 15, 3, size, Layout: DemoLayout.PlainRaw), output);
    return 0;
}

if (args is not ["serve", ..])
{
    Console.Error.WriteLine("Say `packages FOLDER`, `large-package FILE MEBIBYTES` or `serve --catalogue DIR --data DIR --control PORT --phone-a PORT --phone-b PORT --phone-c PORT`.");
    return 2;
}

var builder = WebApplication.CreateSlimBuilder();
builder.Configuration.AddCommandLine(args[1..]);
builder.Logging.SetMinimumLevel(LogLevel.Warning);
var settings = builder.Configuration;
var catalogue = CatalogueReader.Read(settings["catalogue"] ?? "catalogue");
var data = settings["data"] ?? throw new InvalidOperationException("Say --data DIR, where the phones keep their partitions.");
var pace = new StandInPace(
    settings.GetValue("rate", 0L), TimeSpan.FromMilliseconds(settings.GetValue("restart-ms", 1500)), TimeSpan.FromMilliseconds(settings.GetValue("first-boot-ms", 8000)),
    settings.GetValue("most-download", 4 << 20));

var phones = new Dictionary<string, FastbootServer>
{
    ["A"] = new(SimulatedPhone.Open(Path.Combine(data, "a"), catalogue, DemoPhones.A), settings.GetValue("phone-a", 5641), pace),
    ["B"] = new(SimulatedPhone.Open(Path.Combine(data, "b"), catalogue, DemoPhones.B), settings.GetValue("phone-b", 5642), pace),
    ["C"] = new(SimulatedPhone.Open(Path.Combine(data, "c"), catalogue, DemoPhones.C), settings.GetValue("phone-c", 5643), pace),
};

builder.WebHost.UseUrls($"http://127.0.0.1:{settings.GetValue("control", 5640)}");
var app = builder.Build();
ControlPage.Map(app, phones);
if (settings["mirror-files"] is { } mirrorFiles)
{
    await DemoBundles.WriteOfMirrorsAsync(mirrorFiles);
    Mirrors.Map(app, mirrorFiles, settings.GetValue("mirror-pace", 1.0));
}

foreach (var phone in phones.Values) phone.Follow();
await app.RunAsync();
foreach (var phone in phones.Values) phone.Dispose();
return 0;
