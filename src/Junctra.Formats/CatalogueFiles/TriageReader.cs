using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>
/// Reads <c>triage.yaml</c>. The weights of a check's outcomes become likelihoods that add up to 1 for every class; the table's
/// slips mix in the chance that an answer is simply wrong, so that none is ever impossible.
/// </summary>
internal static class TriageReader
{
    private static readonly string StationWords = string.Join(", ", Stations.All.Select(station => station.Slug()));

    public static TriageTables Read(CatalogueNode root, IReadOnlySet<string> makers, IReadOnlyList<KeyFamily> families)
    {
        var slip = root.Number("slip", 0.001, 0.5);
        var intakeSlip = root.Number("intake-slip", 0.001, 0.5);
        var ways = root.Children("ways-out").Select(ReadWay).ToList();
        Unique(root, "way out", ways.Select(way => way.Id));
        var classes = root.Children("classes").Select(node => ReadClass(node, ways, makers, families)).ToList();
        Unique(root, "class", classes.Select(fault => fault.Id));
        var checks = root.Children("checks").Select(node => ReadCheck(node, classes, slip, intakeSlip)).ToList();
        Unique(root, "check", checks.Select(check => check.Id));
        var tables = new TriageTables(classes, checks, Way(root, "charge-first", ways), Way(root, "aside", ways));
        root.RejectUnknownKeys();
        return tables;
    }

    private static WayOut ReadWay(CatalogueNode node)
    {
        var station = node.OptionalText("station");
        if (station is not null && !Stations.All.Any(one => one.Slug() == station))
            node.Problem($"station is {station}; it must be one of {StationWords}.", "station");
        var paths = node.Texts("paths");
        foreach (var path in paths.Where(path => path.Length != 1 || path[0] is < 'A' or > 'N'))
            node.Problem($"{path} is no path; paths have the letters A to N.", "paths");
        var way = new WayOut(
            node.Text("id"),
            node.Text("title"),
            paths,
            node.Word("toll", CatalogueWords.Toll, CatalogueWords.Tolls),
            node.Text("words"),
            station
        );
        node.RejectUnknownKeys();
        return way;
    }

    private static FaultClass ReadClass(
        CatalogueNode node,
        List<WayOut> ways,
        IReadOnlySet<string> makers,
        IReadOnlyList<KeyFamily> families
    )
    {
        var fault = new FaultClass(
            node.Text("id"),
            node.Text("label"),
            node.Text("looks"),
            ReadPrior(node, makers, families),
            Way(node, "way-out", ways)
        );
        node.RejectUnknownKeys();
        return fault;
    }

    private static Prior ReadPrior(CatalogueNode node, IReadOnlySet<string> makers, IReadOnlyList<KeyFamily> families)
    {
        if (!node.IsGroup("prior"))
            return new Prior(node.Number("prior", 0.001, 1e6), new Dictionary<string, double>(), new Dictionary<string, double>());
        var group = node.Child("prior");
        var prior = new Prior(
            group.Number("usual", 0.001, 1e6),
            Weights(group, "makers", makers.Contains, "is no maker of the catalogue"),
            Weights(group, "key-families", name => families.Any(family => family.Id == name), "is no key family of the catalogue")
        );
        group.RejectUnknownKeys();
        return prior;
    }

    private static Dictionary<string, double> Weights(CatalogueNode group, string key, Func<string, bool> isKnown, string otherwise)
    {
        var weights = new Dictionary<string, double>(StringComparer.Ordinal);
        if (!group.Has(key))
            return weights;
        foreach (var (name, value) in group.Child(key).Entries())
        {
            if (!isKnown(name))
                value.Problem($"{name} {otherwise}.");
            weights[name] = Weight(value, name, 0.001);
        }

        return weights;
    }

    private static TriageCheck ReadCheck(CatalogueNode node, List<FaultClass> classes, double benchSlip, double intakeSlip)
    {
        var nodes = node.Children("outcomes");
        var atIntake = node.Has("at") && node.Word("at", text => text == "intake" ? true : (bool?)null, "intake");
        var slip = atIntake ? intakeSlip : benchSlip;
        if (nodes.Count < 2)
            node.Problem("A check needs two outcomes at least.", "outcomes");
        if (!atIntake && nodes.Count > TriageTables.MaxOutcomes)
            node.Problem($"At the bench a check has {TriageTables.MaxOutcomes} outcomes at most: they lie on the keys.", "outcomes");
        var weights = nodes.Select(outcome => ReadWeights(outcome, classes)).ToList();
        var sums = classes.Select((_, i) => weights.Sum(row => row[i])).ToArray();
        for (var i = 0; i < classes.Count; i++)
            if (nodes.Count > 0 && sums[i] <= 0)
                node.Problem(
                    $"No outcome of this check ever comes with {classes[i].Id}. Give one of them a weight for it, or for otherwise.",
                    "outcomes"
                );
        var outcomes = nodes
            .Select(
                (outcome, k) =>
                    ReadOutcome(
                        outcome,
                        [.. classes.Select((_, i) => (1 - slip) * (sums[i] > 0 ? weights[k][i] / sums[i] : 0) + slip / nodes.Count)]
                    )
            )
            .ToList();
        var check = new TriageCheck(
            node.Text("id"),
            node.Text("ask"),
            node.Text("how"),
            node.Number("minutes", 0.05, 600),
            node.Word("risk", CatalogueWords.Risk, CatalogueWords.Risks),
            atIntake,
            node.Flag("charges"),
            outcomes,
            node.Has("records") ? node.Word("records", CatalogueWords.Source, CatalogueWords.Sources) : null
        );
        node.RejectUnknownKeys();
        Unique(node, "outcome", outcomes.Select(outcome => outcome.Id));
        return check;
    }

    private static double[] ReadWeights(CatalogueNode outcome, List<FaultClass> classes)
    {
        var group = outcome.Child("weights");
        var named = new Dictionary<string, double>(StringComparer.Ordinal);
        foreach (var (name, value) in group.Entries())
        {
            if (name != "otherwise" && !classes.Any(fault => fault.Id == name))
                value.Problem($"{name} is no fault class.");
            named[name] = Weight(value, name, 0);
        }

        var otherwise = named.GetValueOrDefault("otherwise");
        return [.. classes.Select(fault => named.GetValueOrDefault(fault.Id, otherwise))];
    }

    private static CheckOutcome ReadOutcome(CatalogueNode node, double[] likelihood)
    {
        var facts = new List<(FactName, string)>();
        if (node.Has("facts"))
        {
            foreach (var (name, _) in node.Child("facts").Entries())
            {
                if (FactName.Parse(name) is not { } fact)
                {
                    node.Problem($"{name} is no fact.", "facts");
                    continue;
                }

                foreach (var text in node.Child("facts").Texts(name))
                {
                    if (fact.Normalise(text) is { } value)
                        facts.Add((fact, value));
                    else
                        node.Problem($"{text} is no value of {name}.", "facts");
                }
            }
        }

        var outcome = new CheckOutcome(
            node.Text("id"),
            node.Text("label"),
            likelihood,
            facts,
            node.Has("mode") ? node.Word("mode", PhoneModes.Parse, CatalogueWords.Modes) : null,
            [.. Reached(node, "reached", true), .. Reached(node, "not-reached", false)],
            node.Has("sign") ? node.Word("sign", CatalogueWords.Sign, CatalogueWords.Signs) : BenchSign.None,
            node.Has("goal") ? node.Word("goal", GoalWords.ParseGoal, CatalogueWords.Goals) : null
        );
        node.RejectUnknownKeys();
        return outcome;
    }

    private static IEnumerable<(PhoneMode, bool)> Reached(CatalogueNode node, string key, bool reached)
    {
        if (!node.Has(key))
            yield break;
        foreach (var text in node.Texts(key))
        {
            if (PhoneModes.Parse(text) is { } mode)
                yield return (mode, reached);
            else
                node.Problem($"{key} names {text}; it must be one of {CatalogueWords.Modes}.", key);
        }
    }

    private static WayOut Way(CatalogueNode node, string key, List<WayOut> ways)
    {
        var id = node.Text(key);
        if (ways.FirstOrDefault(way => way.Id == id) is { } found)
            return found;
        if (id.Length > 0)
            node.Problem($"{key} names {id}, which is not among the ways out.", key);
        return new WayOut(id, id, [], Toll.Look, "", null);
    }

    private static double Weight(CatalogueNode value, string name, double least)
    {
        if (
            double.TryParse(
                value.Scalar,
                System.Globalization.NumberStyles.Float,
                System.Globalization.CultureInfo.InvariantCulture,
                out var number
            )
            && number >= least
            && number <= 1e6
        )
            return number;
        value.Problem($"The weight of {name} must be a number from {least} to 1000000.");
        return 1;
    }

    private static void Unique(CatalogueNode node, string what, IEnumerable<string> ids)
    {
        foreach (var twice in ids.GroupBy(id => id).Where(group => group.Count() > 1))
            node.Problem($"The {what} {twice.Key} stands here {twice.Count()} times.");
    }
}
