using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Routes;

/// <summary>All ways of a phone: the edges of its track plan.</summary>
public static class WayCompiler
{
    private const double WipedSetUp = 0.05;
    private static readonly WayNeed Allowed = WayNeed.Of(FactName.UsbDebugging, Debugging.Authorised);
    private static readonly WayNeed Rooted = WayNeed.Of(FactName.Root, Presence.Present);

    // Every route of every job asks for the same ones, and a catalogue never changes.
    private static readonly ConditionalWeakTable<
        ModelCatalogue,
        ConcurrentDictionary<(string Model, PhoneMode StartsInto), IReadOnlyList<Way>>
    > Known = [];

    /// <summary>The ways of a model's phones.</summary>
    /// <param name="model">The model.</param>
    /// <param name="catalogue">Its key family, and what all phones have.</param>
    /// <param name="startsInto">Where a start of this phone ends: the system, or what it does instead.</param>
    public static IReadOnlyList<Way> Of(PhoneModel model, ModelCatalogue catalogue, PhoneMode startsInto) =>
        Known.GetOrCreateValue(catalogue).GetOrAdd((model.Code, startsInto), _ => Compile(model, catalogue, startsInto));

    private static List<Way> Compile(PhoneModel model, ModelCatalogue catalogue, PhoneMode startsInto)
    {
        var family = catalogue.KeyFamilyOf(model);
        var ways = new List<Way>();
        foreach (
            var recipe in family.Recipes.Concat(catalogue.CommonWays.Recipes).Where(recipe => !recipe.NeedsBatteryOut || model.BatteryOut)
        )
        {
            foreach (var from in recipe.From)
                Add(
                    ways,
                    model,
                    family,
                    startsInto,
                    WayKind.Keys,
                    recipe.Id,
                    from,
                    recipe.Target,
                    recipe.To.Standing(),
                    recipe,
                    recipe.FailChance,
                    recipe.FailsTo,
                    recipe.Needs
                );
        }

        foreach (var stage in Enum.GetValues<PhoneStage>())
        {
            if (catalogue.CommonWays.MenuOf(family, stage) is { } menu)
                AddMenu(ways, model, family, startsInto, menu);
        }

        foreach (var command in catalogue.CommonWays.Commands.Where(command => command.When != EntryCondition.TwoSlots || model.Slots > 1))
        {
            foreach (var stage in command.In)
            {
                IReadOnlyList<WayNeed> needs = stage == PhoneStage.System ? [Allowed] : [];
                Add(
                    ways,
                    model,
                    family,
                    startsInto,
                    WayKind.Command,
                    command.Id,
                    stage.Mode(),
                    command.Target,
                    command.To,
                    CommandScore(command, stage),
                    command.FailChance,
                    PhoneMode.Unknown,
                    needs
                );
            }
        }

        AddWaits(ways, family, catalogue, startsInto);
        return ways;
    }

    private static void AddMenu(List<Way> ways, PhoneModel model, KeyFamily family, PhoneMode startsInto, PhoneMenu menu)
    {
        var shown = menu.Entries.Where(entry => entry.When != EntryCondition.TwoSlots || model.Slots > 1).ToList();
        for (var at = 0; at < shown.Count; at++)
        {
            var entry = shown[at];
            if (entry.To is null && entry.Target == Target.Stage)
                continue;
            // Ways are for going somewhere; what erases, writes or changes the lock is the plan's.
            if (entry.Does is not (MenuEffect.None or MenuEffect.FinishSetup))
                continue;
            var score = menu.IsTouch
                ? TouchScore(menu, entry)
                : MenuScore(menu, entry, at, menu.SelectKey ?? family.Behaviour.SelectKey, family);
            // With the cable in, a phone that is switched off shows the charging picture.
            if (entry.To == PhoneStage.SwitchingOff)
                score = score with { Cable = CableAtStart.Out, Before = ["Pull the cable: with it in, the phone does not stay off."] };
            IReadOnlyList<WayNeed> needs = entry.When == EntryCondition.Root ? [Rooted] : [];
            Add(
                ways,
                model,
                family,
                startsInto,
                entry.When == EntryCondition.Root ? WayKind.RootManager : WayKind.Menu,
                $"{menu.Stage.Id()}-{entry.Id}",
                menu.Stage.Mode(),
                entry.Target,
                entry.To,
                score,
                entry.FailChance,
                PhoneMode.Unknown,
                needs
            );
        }
    }

    private static void Add(
        List<Way> ways,
        PhoneModel model,
        KeyFamily family,
        PhoneMode startsInto,
        WayKind kind,
        string id,
        PhoneMode from,
        Target target,
        PhoneStage? to,
        KeyRecipe score,
        double failChance,
        PhoneMode failsTo,
        IReadOnlyList<WayNeed> needs
    )
    {
        var times = family.Behaviour.Times;
        var (restart, start, recovery) = (
            (times.DarkMs + times.PowerOnMs) / 60_000.0,
            (times.LogoMs + times.BootingMs) / 60_000.0,
            times.RecoveryStartingMs / 60_000.0
        );
        switch (target)
        {
            case Target.Start:
                Put(startsInto, restart + (startsInto == PhoneMode.BootLoop ? 0.1 : start), needs);
                break;
            case Target.Recovery:
                Put(
                    family.Behaviour.RecoveryOpensWith.Mode(),
                    (kind == WayKind.Keys ? 0 : restart) + recovery,
                    [.. needs, WayNeed.Of(FactName.Recovery, RecoveryKind.Stock, presumed: true)]
                );
                Put(
                    PhoneMode.CustomRecovery,
                    (kind == WayKind.Keys ? 0 : restart) + recovery,
                    [.. needs, WayNeed.Of(FactName.Recovery, RecoveryKind.Custom)]
                );
                break;
            case Target.WriteMode:
                Put(model.WriteMode, restart, needs);
                break;
            default:
                if (to is { } stage)
                    Put(
                        stage == PhoneStage.SwitchingOff ? PhoneMode.Off : stage.Mode(),
                        stage == PhoneStage.SwitchingOff ? times.SwitchingOffMs / 60_000.0 : 0,
                        needs
                    );
                break;
        }

        void Put(PhoneMode leadsTo, double passing, IReadOnlyList<WayNeed> all)
        {
            if (leadsTo == from)
                return;
            var fails = failsTo switch
            {
                PhoneMode.Unknown => from,
                PhoneMode.Starting => startsInto,
                _ => failsTo,
            };
            // A phone whose set-up was not gone through may ask for the former account; nobody knows before.
            var chance = from == PhoneMode.SetupWizard && leadsTo == PhoneMode.System ? Math.Max(failChance, WipedSetUp) : failChance;
            ways.Add(new Way(id, kind, from, leadsTo, score, Math.Round(score.Minutes + passing, 3), chance, fails, all));
        }
    }

    private static void AddWaits(List<Way> ways, KeyFamily family, ModelCatalogue catalogue, PhoneMode startsInto)
    {
        var times = family.Behaviour.Times;
        Wait("start", PhoneMode.Starting, startsInto, (times.LogoMs + times.BootingMs) / 60_000.0, "Wait: it starts by itself.");
        Wait(
            "update",
            PhoneMode.UpdateRunning,
            startsInto,
            times.UpdateMs / 60_000.0 + catalogue.Figures.FirstBootMinutes.Typical,
            "Wait until the update is in and the phone has started. Touch neither keys nor cable."
        );

        void Wait(string id, PhoneMode from, PhoneMode to, double minutes, string words) =>
            ways.Add(
                new Way(
                    "wait-" + id,
                    WayKind.Wait,
                    from,
                    to,
                    Score("wait-" + id, "Wait", from, [], 5, [], words) with
                    {
                        FailChance = 0.02,
                    },
                    minutes,
                    0.02,
                    from,
                    []
                )
            );
    }

    private static KeyRecipe TouchScore(PhoneMenu menu, MenuEntry entry) =>
        Score(
            $"{menu.Stage.Id()}-{entry.Id}",
            entry.Label,
            menu.Stage.Mode(),
            [new KeyBar(Stave.Screen, new Moment(null, 1), new Moment(null, 1.5), entry.Label) { Does = entry.Id }],
            entry.Minutes ?? 0.3,
            [],
            $"On the screen: {entry.Label}. Choose by the words, they stand elsewhere on some phones."
        );

    private static KeyRecipe MenuScore(PhoneMenu menu, MenuEntry entry, int presses, string select, KeyFamily family)
    {
        var bars = Enumerable
            .Range(0, presses)
            .Select(i => new KeyBar(
                "volume-down",
                new Moment(null, 1 + i),
                new Moment(null, 1.3 + i),
                presses == 1 ? "once"
                    : i == 0 ? $"{presses} times"
                    : ""
            ))
            .Append(new KeyBar(select, new Moment(null, 1 + presses), new Moment(null, 1.3 + presses), "select"))
            .ToList();
        var move = presses == 0 ? $"“{entry.Label}” is marked" : $"Press Volume down until “{entry.Label}” is marked";
        return Score(
            $"{menu.Stage.Id()}-{entry.Id}",
            $"{menu.Title}: {entry.Label}",
            menu.Stage.Mode(),
            bars,
            entry.Minutes ?? 0.1 + presses / 30.0,
            [],
            $"{move}: go by the words, not by the place. {family.StaveOf(select).Name} selects."
        ) with
        {
            InTurn = true,
        };
    }

    private static KeyRecipe CommandScore(LinkCommand command, PhoneStage stage) =>
        Score(
            command.Id,
            $"Command: {command.Label}",
            stage.Mode(),
            [new KeyBar(Stave.Computer, new Moment(null, 1), new Moment(null, 1.5), command.Label) { Does = command.Id }],
            command.Minutes,
            ["The cable from this computer is in."],
            $"From the computer: {command.Label}."
        ) with
        {
            Cable = CableAtStart.Computer,
        };

    private static KeyRecipe Score(
        string id,
        string name,
        PhoneMode from,
        List<KeyBar> bars,
        double minutes,
        IReadOnlyList<string> before,
        string words
    ) => new(id, name, [from], Target.Stage, PhoneMode.Unknown, minutes, Math.Max(3, bars.Count + 2), bars, [], before, [words], []);
}
