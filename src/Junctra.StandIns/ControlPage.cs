using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>
/// The hands of the demo world: keys of the simulated phones are held, cables and batteries moved and screens seen, as JSON. The page
/// (<see cref="BenchPage"/>) does all it does by this. It stands in for a bench with phones on it; the product knows nothing of it.
/// </summary>
internal static class ControlPage
{
    private const int MaxEvents = 1000;

    public static void Map(WebApplication app, IReadOnlyDictionary<string, BenchPhone> phones, BenchList list)
    {
        BenchPage.Map(app, phones);
        app.MapGet("/phones", () => phones.ToDictionary(pair => pair.Key, pair => Look(pair.Value)));
        app.MapGet("/phones/{name}/log", (string name) =>
            phones.TryGetValue(name, out var phone) ? Results.Json(phone.Log) : Results.NotFound()
        );
        app.MapPut("/phones/{name}/faults", (string name, StandInFaults faults) =>
        {
            if (!phones.TryGetValue(name, out var phone))
                return Results.NotFound();
            phone.Faults = faults;
            return Results.NoContent();
        });
        app.MapGet("/list/{port}", (string port) => Results.Json(list[port]));
        app.MapPut("/list/{port}", (string port, ListFaults faults) =>
        {
            list[port] = faults;
            return Results.NoContent();
        });
        app.MapPost("/list/renew", () => list.Renew());
        app.MapPost("/phones/{name}/events", async (string name, HttpRequest request) =>
        {
            if (!phones.TryGetValue(name, out var phone))
                return Results.NotFound();
            try
            {
                using var body = new StreamReader(request.Body);
                var events = TwinEvent.FromJson(await body.ReadToEndAsync());
                if (events.Count > MaxEvents)
                    return Results.BadRequest($"At most {MaxEvents} events at once.");
                await phone.DoAsync(events);
                return Results.Json(Look(phone));
            }
            catch (JsonException error)
            {
                return Results.BadRequest(error.Message);
            }
        });
        app.MapPost("/phones/{name}/keys/{key}/{way}", async (string name, string key, string way) =>
        {
            if (!phones.TryGetValue(name, out var phone) || way is not ("down" or "up"))
                return Results.NotFound();
            await phone.DoAsync(way == "down" ? new KeyDown(key) : new KeyUp(key));
            return Results.Json(Look(phone));
        });
        app.MapPost("/phones/{name}/touch/{entry}", async (string name, string entry) =>
        {
            if (!phones.TryGetValue(name, out var phone))
                return Results.NotFound();
            await phone.DoAsync(new Choose(entry));
            return Results.Json(Look(phone));
        });
        app.MapPost("/phones/{name}/select/{entry}", async (string name, string entry) =>
        {
            if (!phones.TryGetValue(name, out var phone))
                return Results.NotFound();
            if (phone.Twin.EntriesOf(phone.State).All(one => one.Id != entry))
                return Results.BadRequest($"Its screen shows no {entry}.");
            await phone.SelectAsync(entry);
            return Results.Json(Look(phone));
        });
        app.MapPost("/phones/{name}/into/{mode}", async (string name, string mode) =>
        {
            if (!phones.TryGetValue(name, out var phone) || PhoneModes.Parse(mode) is not { } wanted)
                return Results.NotFound();
            return await phone.BringAsync(wanted)
                ? Results.Json(Look(phone))
                : Results.BadRequest($"No way leads from {phone.State.Mode.Label()} into {wanted.Label()}.");
        });
        app.MapGet("/phones/{name}/files", (string name) =>
            phones.TryGetValue(name, out var phone)
                ? Results.Json(new { storage = phone.Storage.All().Select(Listed), card = phone.CardFolder.All().Select(Listed) })
                : Results.NotFound()
        );
        app.MapPost("/phones/{name}/copy-to-card", async (string name, string from, string to) => !phones.TryGetValue(name, out var phone)
                ? Results.NotFound()
            : await phone.CopyToCardAsync(from, to) ? Results.Json(Look(phone))
            : Results.BadRequest($"{from} is nowhere, or the card takes no {to}."));
        app.MapPost("/phones/{name}/patch", async (string name, string file) => !phones.TryGetValue(name, out var phone)
                ? Results.NotFound()
            : await phone.PatchAsync(file) is { } why ? Results.BadRequest($"It does not patch {file}: {why}")
            : Results.Json(Look(phone)));
        app.MapPost("/phones/{name}/needle/{part}", async (string name, string part) => !phones.TryGetValue(name, out var phone)
                ? Results.NotFound()
            : await phone.HoldNeedleAsync(part) ? Results.Json(Look(phone))
            : Results.BadRequest($"Its board has no {part}."));
        app.MapPost("/phones/{name}/{act}", async (string name, string act) =>
        {
            if (!phones.TryGetValue(name, out var phone))
                return Results.NotFound();
            return await ActAsync(phone, act) ? Results.Json(Look(phone)) : Results.BadRequest($"{act} does nothing here.");
        });
    }

    private static async Task<bool> ActAsync(BenchPhone phone, string act)
    {
        var state = phone.State;
        switch (act)
        {
            // Power and Volume down, held through the restart until the menu shows; then the cable in again.
            case "hold-menu-keys" when state.Stage is not (PhoneStage.Fastboot or PhoneStage.Emergency):
                if (
                    phone.Twin.Family.Recipes.FirstOrDefault(recipe =>
                        recipe.Id == (state.Stage == PhoneStage.Off ? "off-to-bootloader" : "loop-to-bootloader")
                    )
                    is not { } recipe
                )
                    return false;
                await phone.PlayAsync(recipe);
                return true;
            case "renew":
                await phone.RenewAsync();
                return true;
            case "power":
                await phone.DoAsync(new KeyDown("power"), new TimePasses(1500), new KeyUp("power"));
                return true;
            case "cable":
                await phone.DoAsync(state.Cable == CableTo.Nothing ? new CableIn(BenchPhone.Computer) : new CableOut());
                return true;
            case "charger":
                await phone.DoAsync(state.Cable == CableTo.Nothing ? new CableIn(null) : new CableOut());
                return true;
            case "battery":
                await phone.DoAsync(state.BatteryIn ? new BatteryOut() : new BatteryIn());
                return true;
            case "card":
                await phone.MoveCardAsync();
                return true;
            case "needle":
                return await phone.HoldNeedleAsync();
            default:
                return false;
        }
    }

    private static object Listed((string Name, long Bytes, string Sha256) file) =>
        new
        {
            name = file.Name,
            bytes = file.Bytes,
            sha256 = file.Sha256,
        };

    private static object Look(BenchPhone phone)
    {
        var screen = phone.Twin.ScreenOf(phone.State);
        return new
        {
            mode = phone.State.Mode.Id(),
            stage = phone.State.Stage.Id(),
            port = phone.Port,
            screen = (string[])
                [
                    .. screen.Title.Length > 0 ? new[] { screen.Title } : [screen.Picture],
                    .. screen.Lines,
                    .. screen.Entries.Select((entry, i) => (i == screen.Marked ? "▸ " : "  ") + entry.Label),
                ],
            label = phone.State.Mode.Label(),
            title = screen.Title,
            picture = screen.Picture,
            lines = screen.Lines,
            marked = screen.Marked,
            entries = screen.Entries.Select(entry => new { id = entry.Id, label = entry.Label }),
            touch = screen.Marked < 0,
            cable = phone.State.Cable.ToString().ToLowerInvariant(),
            battery = phone.State.BatteryIn,
            card = phone.State.Card is not null,
            // Only what is dead is opened, and only where something can be reached by it.
            opens = phone.State is { Stage: PhoneStage.Off, Faults.DeadBoard: true },
            root = phone.State.Stage == PhoneStage.System && phone.Twin.RootOf(phone.State) is not null,
            down = phone.State.Keys.Keys,
            serial = phone.State.Serial,
            rollbackFloor = phone.State.Floor,
        };
    }
}
