using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Matching;

/// <summary>
/// M02: software of one chip family never runs on another. Both sides' families are what they say of themselves, and what the
/// catalogue has for the models that they name; all of it must agree.
/// </summary>
public sealed class M02Chip : IMatchRule
{
    private static readonly RuleSentence Same = RuleSentence.Go("Both are of the chip family {family}.");
    private static readonly RuleSentence Silent = RuleSentence.Ask(
        "The package names no chip family, and the catalogue knows none of its models. Ask its source."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The phone's chip family is not known before its model code is. {how}");
    private static readonly RuleSentence Other = RuleSentence.Stop("Made for the chip family {theirs}; this phone has {ours}.");
    private static readonly RuleSentence Doubt = RuleSentence.Ask(
        "The phone's chip family is in doubt: {families}. Find out which is right: the board may have been changed."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Chip;

    /// <inheritdoc/>
    public string Title => "Chip";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ChipFamily, FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Same, Silent, Unknown, Other, Doubt];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var stated = c.Says(FactName.ChipFamily);
        var theirs = stated.Count > 0 ? stated : FamiliesOf(c.Says(FactName.ModelCode), c.Catalogue);
        if (theirs.Count == 0)
            return Silent.With();
        string[] ours =
        [
            .. c.Phone[FactName.ChipFamily]
                .Values.Concat(FamiliesOf(c.Phone[FactName.ModelCode].Values, c.Catalogue))
                .Distinct(StringComparer.OrdinalIgnoreCase),
        ];
        if (ours.Length == 0)
            return Unknown.With(c.HowToRead(FactName.ModelCode));

        var other = ours.FirstOrDefault(family => !theirs.Contains(family, StringComparer.OrdinalIgnoreCase));
        if (other is not null)
            return Other.With(Judging.Or(theirs), other);
        return ours.Length == 1 ? Same.With(ours[0]) : Doubt.With(Judging.Or(ours));
    }

    private static IReadOnlyList<string> FamiliesOf(IEnumerable<string> codes, ModelCatalogue catalogue) =>
        [.. codes.Select(code => catalogue.Model(code)?.ChipFamily).OfType<string>().Distinct(StringComparer.OrdinalIgnoreCase)];
}
