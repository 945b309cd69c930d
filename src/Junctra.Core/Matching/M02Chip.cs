using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M02: software of one chip family never runs on another. Both sides' families are what they say of themselves, and what the
/// catalogue has for the models that they name; all of it must agree.
/// </summary>
public sealed class M02Chip : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M02";

    /// <inheritdoc/>
    public string Title => "Chip";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ChipFamily, FactName.ModelCode];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var stated = c.Package.Says(FactName.ChipFamily);
        var theirs = stated.Count > 0 ? stated : FamiliesOf(c.Package.Says(FactName.ModelCode), c.Catalogue);
        if (theirs.Count == 0) return Judgement.Ask("The package names no chip family, and the catalogue knows none of its models. Ask its source.");
        string[] ours = [.. c.Phone[FactName.ChipFamily].Values.Concat(FamiliesOf(c.Phone[FactName.ModelCode].Values, c.Catalogue)).Distinct(StringComparer.OrdinalIgnoreCase)];
        if (ours.Length == 0) return Judgement.Ask("The phone's chip family is not known before its model code is. Read it over the link: 1 min.");

        var other = ours.FirstOrDefault(family => !theirs.Contains(family, StringComparer.OrdinalIgnoreCase));
        if (other is not null) return Judgement.Stop($"Made for the chip family {string.Join(" or ", theirs)}; this phone has {other}.");
        return ours.Length == 1
            ? Judgement.Go($"Both are of the chip family {ours[0]}.")
            : Judgement.Ask($"The phone's chip family is in doubt: {string.Join(" or ", ours)}. Find out which is right: the board may have been changed.");
    }

    private static IReadOnlyList<string> FamiliesOf(IEnumerable<string> codes, ModelCatalogue catalogue) =>
        [.. codes.Select(code => catalogue.Model(code)?.ChipFamily).OfType<string>().Distinct(StringComparer.OrdinalIgnoreCase)];
}
