using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M15: the radio's software serves the networks of the phone's region, and does not go back where the maker minds that. It has builds of
/// its own, which need not carry the system's name; each maker's grammar of them says what they tell.
/// </summary>
public sealed class M15Radio : IMatchRule
{
    private static readonly RuleSentence None = RuleSentence.Idle("It brings no radio software; the phone keeps its own.");
    private static readonly RuleSentence Same = RuleSentence.Go("The radio build that is on the phone already.");
    private static readonly RuleSentence Fine = RuleSentence.Go("Its radio build {radio}: {why}.");
    private static readonly RuleSentence NoRule = RuleSentence.Idle("This maker's radios go back and forth, and serve all regions.");
    private static readonly RuleSentence OtherNetworks = RuleSentence
        .Care("Its radio build {radio} is for the networks of {theirs}; the phone is of {ours}.")
        .Costing(ConsequenceKind.Network, "The mobile network may be slow, or missing.");
    private static readonly RuleSentence Older = RuleSentence
        .Care("Its radio build {radio} is older than {ours}, which is on the phone.")
        .Costing(ConsequenceKind.Network, "The mobile network may be lost until a newer radio build is written.");
    private static readonly RuleSentence NotTold = RuleSentence
        .Care("Whether its radio goes back cannot be told: {what}.")
        .Costing(ConsequenceKind.Network, "The mobile network may be lost until a newer radio build is written.");
    private static readonly RuleSentence NoModel = RuleSentence.Ask("Whether its radio fits is not known before the model code is. {how}");
    private static readonly RuleSentence UnknownNetworks = RuleSentence.Ask(
        "Its radio build {radio} is for the networks of {theirs}, and the phone's region is not known. {how}"
    );
    private static readonly RuleSentence Unreadable = RuleSentence.Ask(
        "Its radio build {radio} does not read as one of this maker's, so which networks it serves is not known. Ask its source."
    );
    private static readonly RuleSentence NoOrder = RuleSentence.Ask(
        "This maker's phones refuse an older radio, and {radio} and {ours} cannot be put in order. Ask its source."
    );
    private static readonly RuleSentence RefusedBound = RuleSentence.Stop(
        "Its radio build {radio} is older than {ours}, which this phone has had, and this maker's phones refuse that half way."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask(
        "An older radio may cost the network, or is refused half way, and the radio build on the phone is not known. {how}"
    );
    private static readonly RuleSentence Silent = RuleSentence.Ask(
        "An older radio may cost the network, or is refused half way, and the package does not say its radio build. Ask its source."
    );
    private static readonly RuleSentence SilentNetworks = RuleSentence.Ask(
        "It brings radio software and does not say its build, so which networks it serves is not known. Ask its source."
    );
    private static readonly RuleSentence Refused = RuleSentence.Stop(
        "Its radio build {radio} is older than {ours}, which is on the phone, and this maker's phones refuse that half way."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Radio;

    /// <inheritdoc/>
    public string Title => "Radio";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.RadioBuild, FactName.Region, FactName.RegionGroup, FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [
        None,
        Same,
        Fine,
        NoRule,
        OtherNetworks,
        Older,
        NotTold,
        NoModel,
        UnknownNetworks,
        Unreadable,
        NoOrder,
        Unknown,
        Silent,
        SilentNetworks,
        Refused,
        RefusedBound,
    ];

    /// <inheritdoc/>
    public IEnumerable<Fact> Besides(MatchCase c) => c.Phone.Earlier.Where(fact => fact.Name == FactName.RadioBuild);

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Images.All(image => image.Role != PartitionRole.Radio))
            return None.With();
        var makers = c.Phone[FactName.ModelCode].Values.Select(code => c.Catalogue.MakerOf(code)).ToList();
        if (makers.Count == 0 || makers.Any(maker => maker is null))
            return NoModel.With(c.HowToRead(FactName.ModelCode));
        var rules = c.Phone[FactName.ModelCode].Values.Select(code => c.Catalogue.MakerOf(code)?.Radio).OfType<RadioRules>().ToList();
        if (rules.Count == 0)
            return NoRule.With();
        var theirs = c.Package.Says(FactName.RadioBuild);
        var worst = rules
            .SelectMany(rule => theirs.Count == 0 ? [JudgeSilent(rule)] : theirs.Select(radio => JudgeBuild(c, rule, radio)))
            .MaxBy(judgement => judgement.Verdict);
        var disputed = new[] { FactName.RadioBuild, FactName.Region }
            .Select(name => c.Phone[name])
            .FirstOrDefault(fact => fact.State == FactState.Conflicting);
        return disputed is null ? worst : Judging.AtLeastAsk(worst, () => Judging.Disagreement(disputed));
    }

    private static Judgement JudgeSilent(RadioRules rule) =>
        rule.Older != OlderRadio.Allowed ? Silent.With()
        : rule.Grammar.Fields.Any(field => field.Tells == FactName.RegionGroup) ? SilentNetworks.With()
        : NoRule.With();

    private Judgement JudgeBuild(MatchCase c, RadioRules rule, string radio)
    {
        var ours = c.Phone[FactName.RadioBuild];
        if (
            ours.State != FactState.Unknown
            && ours.Values.All(value => value.Equals(radio, StringComparison.OrdinalIgnoreCase))
            && !(rule.Older == OlderRadio.Refused && Besides(c).Any())
        )
            return Same.With();
        var reading = rule.Grammar.Read(radio);
        List<Judgement> said = [];
        var why = new List<string>();
        if (reading is null)
            said.Add(Unreadable.With(radio));
        if (reading?.Facts.FirstOrDefault(fact => fact.Name == FactName.RegionGroup) is { Value: { } serves })
        {
            var groups = Groups(c).ToList();
            if (groups.Count == 0)
                said.Add(UnknownNetworks.With(radio, serves, c.HowToRead(FactName.Region)));
            foreach (var group in groups.Where(group => !group.Equals(serves, StringComparison.OrdinalIgnoreCase)))
                said.Add(OtherNetworks.With(radio, serves, group));
            why.Add($"it serves the networks of {serves}, where the phone is from");
        }
        else
        {
            why.Add("this maker's radios serve all regions");
        }

        if (rule.Older == OlderRadio.Allowed)
            why.Add("this maker's radios go back and forth");
        else
        {
            why.Add("it is not older than the one on the phone");
            // What was fused is never mended: a radio that a write has replaced is a bound like one that is there.
            var had =
                rule.Older == OlderRadio.Refused
                    ? c.Phone.Earlier.Where(fact => fact.Name == FactName.RadioBuild).Select(fact => fact.Value).Distinct()
                    : [];
            foreach (var value in had.Where(value => OrderOf(rule, reading, value) < 0))
                said.Add(RefusedBound.With(radio, value));
            if (ours.State == FactState.Unknown)
                said.Add(Unknown.With(c.HowToRead(FactName.RadioBuild)));
            foreach (var value in ours.Values)
            {
                var order = OrderOf(rule, reading, value);
                if (order is null && !value.Equals(radio, StringComparison.OrdinalIgnoreCase))
                    said.Add(
                        rule.Older == OlderRadio.Refused
                            ? NoOrder.With(radio, value)
                            : NotTold.With($"{radio} and {value} cannot be put in order")
                    );
                if (order < 0)
                    said.Add((rule.Older == OlderRadio.Refused ? Refused : Older).With(radio, value));
            }
        }

        return said.Count == 0 ? Fine.With(radio, string.Join(", and ", why)) : said.MaxBy(judgement => judgement.Verdict);
    }

    private static int? OrderOf(RadioRules rule, BuildReading? radio, string ours) =>
        radio is not null && rule.Grammar.Read(ours) is { } theirs ? rule.Grammar.Compare(radio, theirs) : null;

    private static IEnumerable<string> Groups(MatchCase c) =>
        c.Phone[FactName.Region].State == FactState.Unknown
            ? c.Phone[FactName.RegionGroup].Values
            : c.Phone[FactName.Region].Values.Select(code => c.Catalogue.Region(code)?.Group).OfType<string>();
}
