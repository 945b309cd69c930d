using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>How surely a phone can show something in a mode.</summary>
public enum Reach
{
    /// <summary>It is there, or nothing is needed of the phone.</summary>
    Now,

    /// <summary>It was seen to get there.</summary>
    Seen,

    /// <summary>Nothing speaks against it.</summary>
    Possible,

    /// <summary>It cannot get there as it is.</summary>
    RuledOut,
}

/// <summary>A fact that nobody knows yet and that this job needs, with the cheapest place to read it.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Decides">What it decides.</param>
/// <param name="Place">The cheapest place that this phone can still show, or null when it can show none.</param>
/// <param name="Reach">How surely the phone can show it there.</param>
/// <param name="Minutes">Minutes of hands, the way into the mode included.</param>
public sealed record WantedFact(FactName Fact, string Decides, FactPlace? Place, Reach Reach, double Minutes);

/// <summary>Lists unknown facts that matter for a job by what they cost to find out.</summary>
public static class WantedFacts
{
    // Typical minutes of keys and waiting, for a mode that the phone is not in.
    private const double EnteringMinutes = 1;

    /// <summary>The wanted facts: those that the phone can show first, the cheapest first among them.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="dataMayGo">Whether the customer's data may be erased; null when nobody has said.</param>
    /// <param name="catalogue">Makers, models and guides.</param>
    public static IReadOnlyList<WantedFact> Of(Phone phone, bool? dataMayGo, ModelCatalogue catalogue)
    {
        var model = catalogue.Model(phone[FactName.ModelCode].Value);
        var maker = catalogue.MakerOf(model?.Code);
        return
        [
            .. catalogue
                .Guides.Where(guide =>
                    phone[guide.Fact].State == FactState.Unknown && Matters(guide.Matters, phone, model, maker, dataMayGo, catalogue)
                )
                .Select(guide => Cheapest(guide, phone, model))
                .OrderBy(wanted => wanted.Reach)
                .ThenBy(wanted => wanted.Minutes),
        ];
    }

    /// <summary>The cheapest place at which this phone can show a fact, or null.</summary>
    public static WantedFact? PlaceFor(FactName fact, Phone phone, ModelCatalogue catalogue) =>
        catalogue.Guides.FirstOrDefault(guide => guide.Fact == fact) is { } guide
        && Cheapest(guide, phone, catalogue.Model(phone[FactName.ModelCode].Value)) is { Place: not null } wanted
            ? wanted
            : null;

    /// <summary>How surely the phone can show a mode.</summary>
    public static Reach ReachOf(PhoneMode mode, Phone phone, PhoneModel? model)
    {
        var now = PhoneModes.Parse(phone[FactName.Mode].Value);
        if (now == mode)
            return Reach.Now;
        // The boot chain is gone, whatever it reached before.
        if (now is PhoneMode.Emergency)
            return Reach.RuledOut;
        // A phone has the write mode of its maker, and no other one; and one recovery at a time.
        if (model is not null && mode is (PhoneMode.Fastboot or PhoneMode.Download) && mode != model.WriteMode)
            return Reach.RuledOut;
        RecoveryKind? other = mode switch
        {
            PhoneMode.StockRecovery => RecoveryKind.Custom,
            PhoneMode.CustomRecovery => RecoveryKind.Stock,
            _ => null,
        };
        var hasOther = other is { } unlike && phone.Of(FactName.Recovery).MayBe(unlike);
        var seen = phone[FactName.Reached(mode)];
        if (seen.State == FactState.Known && !hasOther && StillHolds(seen.Best!, phone, mode))
            return phone.Of(FactName.Reached(mode)).Is(true) ? Reach.Seen : Reach.RuledOut;
        if (other is not null && hasOther && phone[FactName.Recovery].State == FactState.Known)
            return Reach.RuledOut;
        return mode is PhoneMode.System && now is (PhoneMode.BootLoop or PhoneMode.StuckAtLogo) ? Reach.RuledOut : Reach.Possible;
    }

    /// <summary>
    /// Whether what was seen once can still be so: a start that has failed since says that the system is no longer reached.
    /// </summary>
    private static bool StillHolds(Fact seen, Phone phone, PhoneMode mode) =>
        !(FactName.Reached(mode).TryRead(seen.Value, out var reached) && reached)
        || mode is not (PhoneMode.System or PhoneMode.SetupWizard)
        || !phone.All.Any(fact =>
            fact.Name == FactName.Mode
            && fact.At >= seen.At
            && PhoneModes.Parse(fact.Value) is PhoneMode.BootLoop or PhoneMode.StuckAtLogo or PhoneMode.Emergency
        );

    private static WantedFact Cheapest(FactGuide guide, Phone phone, PhoneModel? model)
    {
        var best = guide
            .Places.Select(place =>
            {
                var reach = place.In.Count == 0 ? Reach.Now : place.In.Min(mode => ReachOf(mode, phone, model));
                return (place, reach, minutes: place.Minutes + (reach == Reach.Now ? 0 : EnteringMinutes));
            })
            .Where(choice => choice.reach != Reach.RuledOut)
            .OrderBy(choice => choice.reach == Reach.Possible)
            .ThenBy(choice => choice.minutes)
            .ThenByDescending(choice => choice.place.Source)
            .FirstOrDefault();
        return best.place is null
            ? new WantedFact(guide.Fact, guide.Decides, null, Reach.RuledOut, 0)
            : new WantedFact(guide.Fact, guide.Decides, best.place, best.reach, best.minutes);
    }

    private static bool Matters(
        MattersWhen when,
        Phone phone,
        PhoneModel? model,
        Maker? maker,
        bool? dataMayGo,
        ModelCatalogue catalogue
    ) =>
        when switch
        {
            MattersWhen.RollbackFuses => maker?.HasRollbackFuses ?? true,
            MattersWhen.TamperFuse => model?.HasTamperFuse ?? false,
            MattersWhen.RegionalBuilds => maker is not { OneBuildForAllRegions: true },
            MattersWhen.DataKept => dataMayGo == false,
            MattersWhen.DataMayGo => dataMayGo != false,
            MattersWhen.RootKept => phone.Of(FactName.Root).Is(Presence.Present),
            MattersWhen.AfterWrite => false,
            MattersWhen.CardUpdate => model?.CardUpdate is not null && phone.Of(FactName.Card).Is(Presence.Present),
            MattersWhen.SharedName => (model?.ProductName ?? phone[FactName.ProductName].Value) is { } name
                && catalogue.Variants(name).Count > 1,
            _ => true,
        };
}
