using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M15: the radio's software serves the networks of the phone's region, and does not go back where the maker minds that. It has builds of its own, which need not
/// carry the system's name; each maker's grammar of them says what they tell.
/// </summary>
public sealed class M15Radio : IMatchRule
{
    private static readonly RuleSentence None = RuleSentence.Idle("It brings no radio software; the phone keeps its own.");
    private static readonly RuleSentence Same = RuleSentence.Go("The radio build that is on the phone already.");
    private static readonly RuleSentence Fine = RuleSentence.Go("Its radio build {radio} serves the phone's networks and does not go back.");
    private static readonly RuleSentence NoRule = RuleSentence.Idle("This maker's radios go back and forth, and serve all regions.");
    private static readonly RuleSentence OtherNetworks = RuleSentence.Care("Its radio build {radio} is for the networks of {theirs}; the phone is of {ours}.")
        .Costing(ConsequenceKind.Network, "The mobile network may be slow, or missing.");
    private static readonly RuleSentence Older = RuleSentence.Care("Its radio build {radio} is older than {ours}, which is on the phone.")
        .Costing(ConsequenceKind.Network, "The mobile network may be lost until a newer radio build is written.");
    private static readonly RuleSentence NotTold = RuleSentence.Care("Whether its radio goes back cannot be told: {what}.")
        .Costing(ConsequenceKind.Network, "The mobile network may be lost until a newer radio build is written.");
    private static readonly RuleSentence Unknown = RuleSentence.Ask("This maker's phones refuse an older radio, and the radio build on the phone is not known. {how}");
    private static readonly RuleSentence Silent = RuleSentence.Ask("This maker's phones refuse an older radio, and the package does not say its radio build. Ask its source.");
    private static readonly RuleSentence Refused = RuleSentence.Stop("Its radio build {radio} is older than {ours}, which is on the phone, and this maker's phones refuse that half way.");

    /// <inheritdoc/>
    public string Id => "M15";

    /// <inheritdoc/>
    public string Title => "Radio";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.RadioBuild, FactName.Region, FactName.RegionGroup, FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [None, Same, Fine, NoRule, OtherNetworks, Older, NotTold, Unknown, Silent, Refused];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Images.All(image => image.Role != PartitionRole.Radio)) return None.With();
        var rules = c.Phone[FactName.ModelCode].Values.Select(code => c.Catalogue.MakerOf(code)?.Radio).OfType<RadioRules>().ToList();
        if (rules.Count == 0) return NoRule.With();
        var theirs = c.Package.Says(FactName.RadioBuild);
        var worst = rules.SelectMany(rule => theirs.Count == 0 ? [JudgeSilent(rule)] : theirs.Select(radio => JudgeBuild(c, rule, radio))).MaxBy(judgement => judgement.Verdict);
        var disputed = new[] { FactName.RadioBuild, FactName.Region }.Select(name => c.Phone[name]).FirstOrDefault(fact => fact.State == FactState.Conflicting);
        return disputed is null ? worst : Judging.AtLeastAsk(worst, () => Judging.Disagreement(disputed));
    }

    private static Judgement JudgeSilent(RadioRules rule) => rule.Older switch
    {
        OlderRadio.Allowed => NoRule.With(),
        OlderRadio.Refused => Silent.With(),
        _ => NotTold.With("the package does not say its radio build"),
    };

    private static Judgement JudgeBuild(MatchCase c, RadioRules rule, string radio)
    {
        var ours = c.Phone[FactName.RadioBuild];
        if (ours.State != FactState.Unknown && ours.Values.All(value => value.Equals(radio, StringComparison.OrdinalIgnoreCase))) return Same.With();
        var reading = rule.Grammar.Read(radio);
        List<Judgement> said = [];
        if (reading?.Facts.FirstOrDefault(fact => fact.Name == FactName.RegionGroup) is { Value: { } serves })
        {
            foreach (var group in Groups(c).Where(group => !group.Equals(serves, StringComparison.OrdinalIgnoreCase))) said.Add(OtherNetworks.With(radio, serves, group));
        }

        if (rule.Older != OlderRadio.Allowed)
        {
            if (ours.State == FactState.Unknown) said.Add(rule.Older == OlderRadio.Refused ? Unknown.With(c.HowToRead(FactName.RadioBuild)) : NotTold.With("the radio build on the phone is not known"));
            foreach (var value in ours.Values)
            {
                var order = reading is not null && rule.Grammar.Read(value) is { } theirs ? rule.Grammar.Compare(reading, theirs) : null;
                if (order is null && !value.Equals(radio, StringComparison.OrdinalIgnoreCase)) said.Add(NotTold.With($"{radio} and {value} cannot be put in order"));
                if (order < 0) said.Add((rule.Older == OlderRadio.Refused ? Refused : Older).With(radio, value));
            }
        }

        return said.Count == 0 ? Fine.With(radio) : said.MaxBy(judgement => judgement.Verdict);
    }

    private static IEnumerable<string> Groups(MatchCase c) => c.Phone[FactName.Region].State == FactState.Unknown
        ? c.Phone[FactName.RegionGroup].Values
        : c.Phone[FactName.Region].Values.Select(code => c.Catalogue.Region(code)?.Group).OfType<string>();
}
