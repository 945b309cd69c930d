using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;

namespace Junctra.StandIns;

/// <summary>The page of the simulated bench: what of it does not change, and its files.</summary>
internal static class BenchPage
{
    private static readonly (string File, string Type)[] Files =
    [
        ("bench.html", "text/html; charset=utf-8"),
        ("bench.css", "text/css; charset=utf-8"),
        ("bench.js", "text/javascript; charset=utf-8"),
    ];

    public static void Map(WebApplication app, IReadOnlyDictionary<string, BenchPhone> phones)
    {
        foreach (var (file, type) in Files)
            app.MapGet(file == "bench.html" ? "/" : $"/page/{file}", () => Results.Stream(Open(file), type));
        app.MapGet("/page/bench", () => Results.Json(Describe(phones)));
    }

    private static Stream Open(string file) =>
        typeof(BenchPage).Assembly.GetManifestResourceStream(file) ?? throw new InvalidOperationException($"{file} was not built in.");

    private static object Describe(IReadOnlyDictionary<string, BenchPhone> phones) =>
        new
        {
            drift = Mirrors.DriftTicket,
            packages = DemoBundles.All.Select(package => package.FileName),
            modes = Enum.GetValues<PhoneMode>()
                .Where(mode => mode is not (PhoneMode.Unknown or PhoneMode.Starting))
                .Select(mode => new { id = mode.Id(), label = mode.Label() }),
            phones = phones.ToDictionary(
                pair => pair.Key,
                pair => new
                {
                    ticket = DemoPhones.All.First(one => one.Name == pair.Key).Ticket,
                    model = pair.Value.Twin.Model.Code,
                    name = pair.Value.Twin.Model.ProductName,
                    batteryOut = pair.Value.Twin.Model.BatteryOut,
                    sketch = Sketch(pair.Value.Twin.Family),
                }
            ),
        };

    private static object Sketch(KeyFamily family)
    {
        var sketch = PhoneSketch.Of(family, false, large: true);
        return new
        {
            width = sketch.Width,
            height = sketch.Height,
            body = new[] { sketch.Body.X, sketch.Body.Y, sketch.Body.W, sketch.Body.H },
            screen = new[] { sketch.Screen.X, sketch.Screen.Y, sketch.Screen.W, sketch.Screen.H },
            parts = sketch.Parts.Select(part => new
            {
                id = part.Stave.Id,
                name = part.Stave.Name,
                isKey = part.Stave.IsKey,
                side = EnumNames.Of(part.Stave.Side),
                x = part.X,
                y = part.Y,
                width = part.Width,
                height = part.Height,
                labelX = part.LabelX,
                labelY = part.LabelY,
                anchor = part.Anchor,
            }),
        };
    }
}
