using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>A product name that covers several variants, and the one fact that tells them apart.</summary>
/// <param name="ProductName">The name.</param>
/// <param name="Fact">The fact to read.</param>
/// <param name="Place">The cheapest place at which this phone can show it, or null when it can show none.</param>
/// <param name="Variants">The variants, each with its value of the fact.</param>
/// <param name="Differences">How the variants differ besides, in words; empty when nothing else is known.</param>
public sealed record VariantQuestion(
    string ProductName,
    FactName Fact,
    FactPlace? Place,
    IReadOnlyList<(PhoneModel Model, string Value)> Variants,
    string Differences
)
{
    // The code itself first: it is what every rule goes by. The others narrow where it cannot be read.
    private static readonly (FactName Fact, Func<PhoneModel, string> Of)[] Telling =
    [
        (FactName.ModelCode, model => model.Code),
        (FactName.ChipFamily, model => model.ChipFamily),
        (FactName.CarrierLocked, model => FactName.CarrierLocked.Write(model.CarrierLocked)),
        (FactName.StorageSize, model => string.Join(" or ", model.StorageSizesGb)),
    ];

    /// <summary>
    /// The question for a phone of which the product name is known and the code is not; null when there is nothing to ask.
    /// </summary>
    public static VariantQuestion? For(Phone phone, ModelCatalogue catalogue)
    {
        if (phone[FactName.ModelCode].State != FactState.Unknown || phone[FactName.ProductName].Value is not { } name)
            return null;
        // Facts that are known already rule variants out.
        var variants = catalogue
            .Variants(name)
            .Where(model =>
                Telling.All(telling =>
                    phone[telling.Fact] is not { State: FactState.Known, Value: { } value }
                    || telling.Fact == FactName.StorageSize
                    || telling.Of(model).Equals(value, StringComparison.OrdinalIgnoreCase)
                )
            )
            .ToList();
        if (variants.Count == 0)
            return null;
        var (fact, of) = Telling
            .Where(telling => variants.Select(telling.Of).Distinct().Count() == variants.Count)
            .OrderBy(telling => WantedFacts.PlaceFor(telling.Fact, phone, catalogue)?.Minutes ?? double.MaxValue)
            .First();
        var differences = Telling
            .Skip(1)
            .Where(telling => variants.Select(telling.Of).Distinct().Count() > 1)
            .Select(telling =>
                $"{telling.Fact.Label.ToLowerInvariant()}: {string.Join(", ", variants.Select(model => $"{telling.Of(model)} ({model.Code})"))}"
            );
        return new VariantQuestion(
            variants[0].ProductName,
            fact,
            WantedFacts.PlaceFor(fact, phone, catalogue)?.Place,
            [.. variants.Select(model => (model, of(model)))],
            string.Join("; ", differences)
        );
    }
}
