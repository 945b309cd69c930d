using System.Text.Encodings.Web;
using Junctra.Core.Modes;

namespace Junctra.StandIns;

/// <summary>
/// The hands of the demo world: a page on which the keys of the simulated phones are pressed and their screens seen, and the
/// same as JSON. It stands in for a bench with phones on it; the product knows nothing of it.
/// </summary>
internal static class ControlPage
{
    public static void Map(WebApplication app, IReadOnlyDictionary<string, FastbootServer> phones)
    {
        app.MapGet("/", () => Results.Content(Page(phones), "text/html; charset=utf-8"));
        app.MapGet("/phones", () => phones.ToDictionary(pair => pair.Key, pair => Look(pair.Value)));
        app.MapGet("/phones/{name}/log", (string name) => phones.TryGetValue(name, out var server) ? Results.Json(server.Log) : Results.NotFound());
        app.MapPut("/phones/{name}/faults", (string name, StandInFaults faults) =>
        {
            if (!phones.TryGetValue(name, out var server)) return Results.NotFound();
            server.Faults = faults;
            return Results.NoContent();
        });
        app.MapPost("/phones/{name}/{act}", async (string name, string act, HttpRequest request) =>
        {
            if (!phones.TryGetValue(name, out var server)) return Results.NotFound();
            var done = true;
            await server.WithHandsAsync(async () => done = await ActAsync(server, act));
            if (!done) return Results.BadRequest($"{act} does nothing here.");
            return request.HasFormContentType ? Results.Redirect("/") : Results.Json(Look(server));
        });
    }

    private static async Task<bool> ActAsync(FastbootServer server, string act)
    {
        var phone = server.Phone;
        switch (act)
        {
            // Power and Volume down, held through the restart until the menu shows.
            case "hold-menu-keys" when phone.Memory.Mode is not (PhoneMode.Unknown or PhoneMode.Fastboot):
                await server.RestartAsync(toBootloader: true);
                return true;
            case "power" when phone.Memory.Mode is PhoneMode.Off or PhoneMode.Fastboot:
                await server.RestartAsync(toBootloader: false);
                return true;
            case "switch-off" when phone.Memory.Mode is not PhoneMode.Unknown:
                phone.Enter(PhoneMode.Off);
                return true;
            case "cable":
                phone.MoveCable(!phone.Memory.CableIn);
                return true;
            default:
                return false;
        }
    }

    private static object Look(FastbootServer server) => new
    {
        mode = server.Passing ?? server.Phone.Memory.Mode.Id(),
        port = server.Port,
        screen = Screen(server),
        cable = server.Phone.Memory.CableIn,
        serial = server.Phone.Memory.Serial,
        rollbackFloor = server.Phone.Memory.RollbackFloor,
    };

    private static string[] Screen(FastbootServer server)
    {
        var memory = server.Phone.Memory;
        if (server.Passing is { } passing) return [passing];
        return memory.Mode switch
        {
            PhoneMode.Off => ["dark"],
            PhoneMode.Unknown => ["dark; no key works"],
            PhoneMode.BootLoop => ["the maker's picture, again and again"],
            PhoneMode.Fastboot => ["Bootloader menu", $"model {memory.Model}", $"serial {memory.Serial}", $"revision {memory.RunningRevision}, floor {memory.RollbackFloor}", memory.Unlocked ? "unlocked" : "locked", memory.CableIn ? "cable in" : "cable out"],
            _ => [memory.Mode == PhoneMode.SetupWizard ? "Welcome. Choose a language" : "Home screen", .. server.Phone.Settings()?.Where(line => line.Key is "build" or "os").Select(line => $"{(line.Key == "os" ? "OS version" : "build")} {line.Value}") ?? []],
        };
    }

    private static string Page(IReadOnlyDictionary<string, FastbootServer> phones)
    {
        var html = HtmlEncoder.Default;
        var cards = phones.Select(pair => $"""
            <section><h2>Phone on port {html.Encode(pair.Key)} <small>127.0.0.1:{pair.Value.Port}</small></h2>
            <pre aria-live="polite">{html.Encode(string.Join('\n', Screen(pair.Value)))}</pre>
            {Button(pair.Key, "hold-menu-keys", "Hold Power and Volume down until the menu shows")}
            {Button(pair.Key, "power", "Press Power")}
            {Button(pair.Key, "switch-off", "Switch off")}
            {Button(pair.Key, "cable", pair.Value.Phone.Memory.CableIn ? "Pull the cable" : "Push the cable in")}</section>
            """);
        return $$"""
            <!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="3"><title>Simulated phones</title>
            <style>body{font:16px/1.5 sans-serif;margin:24px;background:#f5f2ea;color:#18212b}main{display:flex;gap:20px;flex-wrap:wrap}
            section{background:#fffdf8;border:1px solid #ddd6c6;border-radius:12px;padding:16px;width:340px}small{font-weight:400;color:#56616c}
            pre{background:#18212b;color:#f3efe4;border-radius:10px;padding:16px;min-height:150px;white-space:pre-wrap}button{display:block;width:100%;margin:6px 0;padding:9px;font:inherit}</style>
            <h1>Simulated phones</h1><p>These stand in for phones on the bench. Press here what you would press there. The mirror Drift takes the ticket code {{Mirrors.DriftTicket}}.</p><main>{{string.Concat(cards)}}</main></html>
            """;

        string Button(string name, string act, string label) =>
            $"""<form method="post" action="/phones/{html.Encode(name)}/{act}"><input type="hidden" name="x" value="1"><button>{html.Encode(label)}</button></form>""";
    }
}
