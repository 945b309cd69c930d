using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads a file of <c>key-families/</c>, and <c>common-ways.yaml</c>.</summary>
internal static class KeyFamilyReader
{
    /// <summary>Longest time that a recipe or a phone may take for one thing.</summary>
    public const double MaxSeconds = 120;

    public static KeyFamily Read(CatalogueNode root)
    {
        var staves = root.Children("staves").Select(ReadStave).ToList();
        var behaviour = root.Has("reactions") ? ReadBehaviour(root, staves) : PhoneBehaviour.None;
        var recipes = KeyRecipeReader.ReadAll(root, staves);
        var family = new KeyFamily(root.Text("id"), root.Text("name"), staves, recipes, behaviour);
        root.RejectUnknownKeys();
        return family;
    }

    public static CommonWays ReadCommon(CatalogueNode root)
    {
        var common = new CommonWays(
            [.. root.Children("menus").Select(node => ReadMenu(node, null))],
            [.. root.Children("commands").Select(ReadCommand)],
            KeyRecipeReader.ReadAll(
                root,
                [new Stave(Stave.Cable, "Cable", KeySide.Bottom), new Stave(Stave.Battery, "Battery", KeySide.Back)]
            )
        );
        root.RejectUnknownKeys();
        foreach (var twice in common.Commands.GroupBy(command => command.Id).Where(group => group.Count() > 1))
            root.Problem($"The command {twice.Key} stands here {twice.Count()} times.", "commands");
        return common;
    }

    private static Stave ReadStave(CatalogueNode node)
    {
        var stave = new Stave(
            node.Text("id"),
            node.Text("name"),
            node.Has("side") ? node.Word("side", CatalogueWords.Side, CatalogueWords.Sides) : KeySide.None,
            node.Has("at") ? node.Number("at", 0, 1) : 0.5
        );
        node.RejectUnknownKeys();
        return stave;
    }

    private static PhoneBehaviour ReadBehaviour(CatalogueNode root, List<Stave> staves)
    {
        var times = root.Has("times") ? ReadTimes(root.Child("times")) : new StageTimes();
        var behaviour = new PhoneBehaviour(
            [.. root.Children("reactions").Select(node => ReadReaction(node, staves))],
            root.Has("menus") ? [.. root.Children("menus").Select(node => ReadMenu(node, staves))] : [],
            times,
            root.Text("select-key"),
            Stage(root, "recovery-opens-with")
        );
        if (!staves.Any(stave => stave.Id == behaviour.SelectKey))
            root.Problem($"The key {behaviour.SelectKey} is not among the family's staves.", "select-key");
        if (behaviour.RecoveryOpensWith is not (PhoneStage.NoCommand or PhoneStage.StockRecovery))
            root.Problem("recovery-opens-with must be no-command or stock-recovery.", "recovery-opens-with");
        return behaviour;
    }

    private static StageTimes ReadTimes(CatalogueNode node)
    {
        var usual = new StageTimes();
        var times = new StageTimes(
            Ms(node, "waking", usual.WakingMs),
            Ms(node, "dark", usual.DarkMs),
            Ms(node, "power-on", usual.PowerOnMs),
            Ms(node, "logo", usual.LogoMs),
            Ms(node, "booting", usual.BootingMs),
            Ms(node, "loop", usual.LoopMs),
            Ms(node, "recovery-starting", usual.RecoveryStartingMs),
            Ms(node, "switching-off", usual.SwitchingOffMs),
            Ms(node, "update", usual.UpdateMs)
        );
        node.RejectUnknownKeys();
        return times;
    }

    // A stage that takes no time would let a phone run through its loop for ever at one moment.
    private static long Ms(CatalogueNode node, string key, long usual) =>
        node.Has(key) ? (long)(node.Number(key, 0.1, 3600) * 1000) : usual;

    private static KeyReaction ReadReaction(CatalogueNode node, List<Stave> staves)
    {
        var tap = node.OptionalText("tap");
        var keys =
            node.Has("hold") ? node.Texts("hold")
            : node.Has("while") ? node.Texts("while")
            : [];
        if (keys.Count == 0 && tap is null)
            node.Problem("A reaction needs keys: hold, or tap.");
        foreach (var key in (tap is null ? keys : [.. keys, tap]).Where(key => !staves.Any(stave => stave.Id == key && stave.IsKey)))
            node.Problem($"“{key}” is no key among the family's staves.");
        var to = ReadTarget(node, out var target);
        if (target == Target.Recovery)
            to = PhoneStage.RecoveryStarting;
        else if (target != Target.Stage)
            node.Problem("A reaction must lead to a stage, or to recovery.", "to");
        var reaction = new KeyReaction(ReadStages(node), keys, to ?? PhoneStage.Off)
        {
            HoldMs = tap is null ? (long)(node.Number("seconds", 0.05, MaxSeconds) * 1000) : 0,
            Tap = tap,
            TapMostMs = node.Has("at-most") ? (long)(node.Number("at-most", 0.1, MaxSeconds) * 1000) : 2000,
            OrMore = node.Flag("or-more"),
            FromPress = node.Flag("from-press"),
            FromStart = node.Flag("from-start"),
            Forced = node.Flag("forced"),
            NeedsPermission = node.Flag("needs-permission"),
            Cable = node.Has("cable") ? node.Word("cable", CatalogueWords.CableNeed, CatalogueWords.CableNeeds) : CableNeed.Any,
            Does = node.Has("does") ? node.Word("does", CatalogueWords.Effect, CatalogueWords.Effects) : MenuEffect.None,
        };
        node.RejectUnknownKeys();
        return reaction;
    }

    /// <summary>Stages of a list; <c>running</c> stands for all in which hardware watches for a forced restart.</summary>
    private static List<PhoneStage> ReadStages(CatalogueNode node)
    {
        var stages = new List<PhoneStage>();
        foreach (var text in node.Texts("in"))
        {
            if (text == "running")
                stages.AddRange(
                    Enum.GetValues<PhoneStage>()
                        .Where(stage =>
                            stage
                                is not (
                                    PhoneStage.Off
                                    or PhoneStage.Waking
                                    or PhoneStage.Charging
                                    or PhoneStage.Dark
                                    or PhoneStage.Emergency
                                )
                        )
                );
            else if (PhoneStages.Parse(text) is { } stage)
                stages.Add(stage);
            else if (text.Length > 0)
                node.Problem($"in names {text}; it must be running or one of {CatalogueWords.Stages}.", "in");
        }

        return stages;
    }

    private static PhoneMenu ReadMenu(CatalogueNode node, List<Stave>? staves)
    {
        var select = node.OptionalText("select-key");
        if (select is not null && staves?.Any(stave => stave.Id == select) == false)
            node.Problem($"The key {select} is not among the family's staves.", "select-key");
        var menu = new PhoneMenu(
            Stage(node, "stage"),
            node.Text("title"),
            node.Flag("touch"),
            [.. node.Children("entries").Select(ReadEntry)]
        )
        {
            SelectKey = select,
        };
        node.RejectUnknownKeys();
        foreach (var twice in menu.Entries.GroupBy(entry => entry.Id).Where(group => group.Count() > 1))
            node.Problem($"The entry {twice.Key} stands here {twice.Count()} times.", "entries");
        if (menu.Entries.Count == 0)
            node.Problem("A menu needs an entry.", "entries");
        return menu;
    }

    private static MenuEntry ReadEntry(CatalogueNode node)
    {
        var target = Target.Stage;
        var to = node.Has("to") ? ReadTarget(node, out target) : null;
        var entry = new MenuEntry(node.Text("id"), node.Text("label"), target, to)
        {
            Does = node.Has("does") ? node.Word("does", CatalogueWords.Effect, CatalogueWords.Effects) : MenuEffect.None,
            When = node.Has("when")
                ? node.Word("when", CatalogueWords.EntryCondition, CatalogueWords.EntryConditions)
                : EntryCondition.Always,
            TakesMs = node.Has("takes-seconds") ? (long)(node.Number("takes-seconds", 0.1, 3600) * 1000) : 0,
            Confirm = node.Flag("confirm"),
            Minutes = node.Has("minutes") ? node.Number("minutes", 0.05, 120) : null,
            FailChance = node.Has("fails") ? node.Number("fails", 0, 0.9) : 0.02,
        };
        node.RejectUnknownKeys();
        return entry;
    }

    private static LinkCommand ReadCommand(CatalogueNode node)
    {
        var to = ReadTarget(node, out var target);
        var command = new LinkCommand(node.Text("id"), node.Text("label"), ReadStages(node), target, to)
        {
            Minutes = node.Has("minutes") ? node.Number("minutes", 0.05, 120) : 0.3,
            FailChance = node.Has("fails") ? node.Number("fails", 0, 0.9) : 0.02,
            When = node.Has("when")
                ? node.Word("when", CatalogueWords.EntryCondition, CatalogueWords.EntryConditions)
                : EntryCondition.Always,
            Does = node.Has("does") ? node.Word("does", CatalogueWords.Effect, CatalogueWords.Effects) : MenuEffect.None,
        };
        node.RejectUnknownKeys();
        return command;
    }

    private static PhoneStage? ReadTarget(CatalogueNode node, out Target target)
    {
        var text = node.Text("to");
        target = text switch
        {
            "recovery" => Target.Recovery,
            "write-mode" => Target.WriteMode,
            "start" => Target.Start,
            _ => Target.Stage,
        };
        if (target != Target.Stage || text.Length == 0)
            return null;
        if (PhoneStages.Parse(text) is { } stage)
            return stage;
        node.Problem($"to is {text}; it must be recovery, write-mode, start or one of {CatalogueWords.Stages}.", "to");
        return null;
    }

    /// <summary>The stage that a key of a node names.</summary>
    public static PhoneStage Stage(CatalogueNode node, string key) => node.Word(key, PhoneStages.Parse, CatalogueWords.Stages);
}
