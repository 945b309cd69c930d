using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads the recipes of a key family: its scores, and what each asks and reaches.</summary>
internal static class KeyRecipeReader
{
    public static List<KeyRecipe> ReadAll(CatalogueNode root, List<Stave> staves)
    {
        var recipes = root.Children("recipes").Select(node => ReadRecipe(node, staves)).ToList();
        foreach (var twice in recipes.GroupBy(recipe => recipe.Id).Where(group => group.Count() > 1))
            root.Problem($"The recipe {twice.Key} stands here {twice.Count()} times.");
        return recipes;
    }

    private static KeyRecipe ReadRecipe(CatalogueNode node, List<Stave> staves)
    {
        var length = node.Number("length-seconds", 1, KeyFamilyReader.MaxSeconds);
        var marks = node.Children("marks")
            .Select(mark =>
                Close(
                    mark,
                    new KeyMark(mark.Text("id"), mark.Number("at", 0, length), KeyFamilyReader.Stage(mark, "shows"), mark.Text("says"))
                )
            )
            .ToList();
        foreach (var twice in marks.GroupBy(mark => mark.Id).Where(group => group.Count() > 1))
            node.Problem($"The mark {twice.Key} stands here {twice.Count()} times.", "marks");
        var to = ReadGoal(node, out var target);
        var failsTo = PhoneMode.Unknown;
        var failChance = 0.15;
        if (node.Has("fails"))
        {
            var fails = node.Child("fails");
            failChance = fails.Number("chance", 0, 0.9);
            failsTo = fails.Word(
                "to",
                text =>
                    text switch
                    {
                        "again" => PhoneMode.Unknown,
                        "start" => PhoneMode.Starting,
                        _ => PhoneModes.Parse(text),
                    },
                "again, start, " + CatalogueWords.Modes
            );
            fails.RejectUnknownKeys();
        }

        var recipe = new KeyRecipe(
            node.Text("id"),
            node.Text("name"),
            [.. node.Texts("from").Select(text => ReadMode(node, text))],
            target,
            to,
            node.Number("minutes", 0.05, 120),
            length,
            [.. node.Children("bars").Select(bar => ReadBar(bar, staves, marks, length))],
            marks,
            node.Has("before") ? node.Texts("before") : [],
            node.Texts("words"),
            [
                .. node.Children("wrong")
                    .Select(sign =>
                        Close(
                            sign,
                            new WrongSign(
                                sign.Text("sees"),
                                sign.Text("means"),
                                sign.Text("then"),
                                sign.Word("is", PhoneModes.Parse, CatalogueWords.Modes)
                            )
                        )
                    ),
            ]
        )
        {
            FailChance = failChance,
            FailsTo = failsTo,
            Cable = node.Has("cable") ? node.Word("cable", CatalogueWords.CableAtStart, CatalogueWords.CablesAtStart) : CableAtStart.Any,
            NeedsBatteryOut = node.Flag("needs-battery-out"),
            LastResort = node.Flag("last-resort"),
            Risk = node.OptionalText("risk"),
            Needs = node.Has("needs") ? [.. node.Children("needs").Select(ReadNeed)] : [],
        };
        node.RejectUnknownKeys();
        return recipe;
    }

    private static WayNeed ReadNeed(CatalogueNode node)
    {
        var text = node.Text("fact");
        if (text.Length > 0 && FactName.Parse(text) is null)
            node.Problem($"{text} is no fact.", "fact");
        var need = new WayNeed(FactName.Parse(text) ?? FactName.Mode, node.Texts("is"));
        node.RejectUnknownKeys();
        return need;
    }

    private static PhoneMode ReadGoal(CatalogueNode node, out Target target)
    {
        var text = node.Text("to");
        target = text switch
        {
            "recovery" => Target.Recovery,
            "write-mode" => Target.WriteMode,
            "start" => Target.Start,
            _ => Target.Stage,
        };
        return target == Target.Stage ? ReadMode(node, text, "to") : PhoneMode.Unknown;
    }

    private static PhoneMode ReadMode(CatalogueNode node, string text, string key = "from")
    {
        if (PhoneModes.Parse(text) is { } mode)
            return mode;
        if (text.Length > 0)
            node.Problem($"{key} names {text}; it must be one of {CatalogueWords.Modes}.", key);
        return PhoneMode.Unknown;
    }

    private static KeyBar ReadBar(CatalogueNode node, List<Stave> staves, List<KeyMark> marks, double length)
    {
        var bar = new KeyBar(node.Text("stave"), ReadMoment(node, "from", marks), ReadMoment(node, "to", marks), node.Text("label"))
        {
            Press = node.Has("press") ? ReadTolerance(node.Child("press")) : null,
            Release = node.Has("release") ? ReadTolerance(node.Child("release")) : null,
            Stays = node.Flag("stays"),
            Does = node.OptionalText("does"),
        };
        node.RejectUnknownKeys();
        if (!staves.Any(stave => stave.Id == bar.StaveId))
            node.Problem($"The stave {bar.StaveId} is not among the family's staves.");
        var (from, to) = (Usual(bar.From, marks), Usual(bar.To, marks));
        if (to <= from)
            node.Problem("A bar must end after it begins.");
        if (to > length)
            node.Problem($"This bar ends at {to} seconds, after the score's {length}.");
        return bar;
    }

    private static double Usual(Moment moment, List<KeyMark> marks) =>
        (marks.FirstOrDefault(mark => mark.Id == moment.After)?.AtSeconds ?? 0) + moment.Seconds;

    private static Moment ReadMoment(CatalogueNode node, string key, List<KeyMark> marks)
    {
        var moment = node.Word(key, text => Moment.Parse(text), "seconds, such as 2.5, or a mark and seconds, such as menu + 0.5");
        if (moment.After is { } mark && !marks.Any(known => known.Id == mark))
            node.Problem($"{key} is bound to {mark}, which is no mark of this recipe.", key);
        return moment;
    }

    private static Tolerance ReadTolerance(CatalogueNode node)
    {
        double? early = node.Has("early") ? node.Number("early", 0, KeyFamilyReader.MaxSeconds) : null,
            late = node.Has("late") ? node.Number("late", 0, KeyFamilyReader.MaxSeconds) : null;
        var tolerance = new Tolerance(
            early,
            early is null ? PhoneMode.Unknown : node.Word("early-shows", PhoneModes.Parse, CatalogueWords.Modes),
            late,
            late is null ? PhoneMode.Unknown : node.Word("late-shows", PhoneModes.Parse, CatalogueWords.Modes)
        );
        node.RejectUnknownKeys();
        return tolerance;
    }

    private static T Close<T>(CatalogueNode node, T value)
    {
        node.RejectUnknownKeys();
        return value;
    }
}
