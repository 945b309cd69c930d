using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M03: a phone that is locked to a carrier takes that carrier's software, and an open one does not. Where one model code is sold both
/// ways, the other one's software runs and brings the carrier's apps and settings, or takes them away.
/// </summary>
public sealed class M03Carrier : IMatchRule
{
    /// <summary>The group of regions that are carriers.</summary>
    private const string CarrierGroup = "carrier";

    private static readonly RuleSentence ForBoth = RuleSentence.Idle("For open phones and for a carrier's alike.");
    private static readonly RuleSentence BothCarriers = RuleSentence.Go("Both are the carrier's, {carrier}.");
    private static readonly RuleSentence BothOpen = RuleSentence.Go("Both are open.");
    private static readonly RuleSentence Unknown = RuleSentence.Ask(
        "Whether the phone is locked to a carrier is not known before its model code is. {how}"
    );
    private static readonly RuleSentence NoModel = RuleSentence.Ask(
        "{code} is not in the catalogue, so whether it is sold by a carrier is not known. Add the model."
    );
    private static readonly RuleSentence Doubt = RuleSentence.Ask(
        "A {code} is sold {sold}; carrier-locked was noted as {value} ({source}). Find out which is right: the shell or the board may be of another phone."
    );
    private static readonly RuleSentence UnknownCarrier = RuleSentence.Ask(
        "The package is of the carrier {theirs}, and to which carrier the phone is locked is not known. {how}"
    );
    private static readonly RuleSentence SilentCarrier = RuleSentence.Ask(
        "The phone is locked to {ours}, and the package does not say which carrier's it is. Ask its source."
    );
    private static readonly RuleSentence OtherCarrier = RuleSentence.Stop(
        "The package is of the carrier {theirs}, and the phone is locked to {ours}: they are not made for each other."
    );
    private static readonly RuleSentence SilentModel = RuleSentence.Ask(
        "The package does not say which model it is for, so whether it is a carrier's is not known. Ask its source."
    );
    private static readonly RuleSentence UnknownModel = RuleSentence.Ask(
        "The package is for {theirs}, which is not in the catalogue, so whether it is a carrier's is not known. Add the model."
    );
    private static readonly RuleSentence SoldBothWays = RuleSentence.Ask(
        "{code} is sold open and by a carrier, and which this one is, is not known. Put another network's card in: 3 min."
    );
    private static readonly RuleSentence LockedTakesOpen = RuleSentence
        .Care("The phone is locked to a carrier, and the package is for open phones: the lock to the carrier stays as it is.")
        .Costing(ConsequenceKind.RegionApps, "The carrier's apps and network settings go.");
    private static readonly RuleSentence OpenTakesLocked = RuleSentence
        .Care("The package is a carrier's, and the phone is open: it stays open.")
        .Costing(ConsequenceKind.RegionApps, "The carrier's apps and network settings come along.");
    private static readonly RuleSentence LockedNotOpen = RuleSentence.Stop(
        "The phone is locked to a carrier, and the package is for open phones: they are not made for each other."
    );
    private static readonly RuleSentence OpenNotLocked = RuleSentence.Stop(
        "The package is a carrier's, and the phone is open: they are not made for each other."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Carrier;

    /// <inheritdoc/>
    public string Title => "Carrier";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.CarrierLocked, FactName.ModelCode, FactName.Region];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [
        ForBoth,
        BothCarriers,
        BothOpen,
        Unknown,
        NoModel,
        Doubt,
        UnknownCarrier,
        SilentCarrier,
        SilentModel,
        UnknownModel,
        SoldBothWays,
        LockedTakesOpen,
        OpenTakesLocked,
        LockedNotOpen,
        OpenNotLocked,
        OtherCarrier,
    ];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (!IsOfCarrierRegions(c))
        {
            var codes = c.Says(FactName.ModelCode);
            if (codes.Count == 0)
                return SilentModel.With();
            if (codes.FirstOrDefault(code => c.Catalogue.Model(code) is null) is { } unknown)
                return UnknownModel.With(unknown);
        }

        if (IsCarriers(c) is not { } theirs)
            return ForBoth.With();
        var locked = c.Phone[FactName.CarrierLocked];
        if (locked.State != FactState.Unknown)
        {
            // What one reading says of the lock, and what the catalogue has for the code, are two claims of one thing.
            var known = Judging.Each(c.Phone.Of(FactName.CarrierLocked), () => Unknown.With(""), ours => JudgeLock(c, ours, theirs));
            var models = c.Phone[FactName.ModelCode].Values.Select(c.Catalogue.Model).OfType<PhoneModel>().ToList();
            var differs = models.FirstOrDefault(model =>
                !model.SoldBothWays && c.Phone.Of(FactName.CarrierLocked).MayBe(!model.CarrierLocked)
            );
            return differs is null
                ? known
                : Judging.AtLeastAsk(known, () =>
                    Doubt.With(
                        differs.Code,
                        differs.CarrierLocked ? "for one carrier only" : "open",
                        locked.Best!.Value,
                        locked.Best.Source.Label()
                    )
                );
        }

        return Judging.Each(
            c.Phone[FactName.ModelCode],
            () => Unknown.With(c.HowToRead(FactName.ModelCode)),
            code =>
                c.Catalogue.Model(code) is not { } known ? NoModel.With(code)
                : known.SoldBothWays ? SoldBothWays.With(code)
                : JudgeLock(c, known.CarrierLocked, theirs)
        );
    }

    private static Judgement JudgeLock(MatchCase c, bool ours, bool theirs)
    {
        if (ours == theirs)
            return ours ? JudgeCarrier(c) : BothOpen.With();
        // Every claimed code must be sold both ways.
        var codes = c.Phone[FactName.ModelCode].Values.ToList();
        return codes.Count > 0 && codes.All(code => c.Catalogue.Model(code) is { SoldBothWays: true })
            ? (ours ? LockedTakesOpen : OpenTakesLocked).With()
            : (ours ? LockedNotOpen : OpenNotLocked).With();
    }

    /// <summary>Both are a carrier's: it must be the same one, which only the regions tell.</summary>
    private static Judgement JudgeCarrier(MatchCase c)
    {
        var theirs = c.Says(FactName.Region).Where(code => c.Catalogue.Region(code)?.Group == CarrierGroup).ToList();
        return Judging.Each(
            c.Phone[FactName.Region],
            () => UnknownCarrier.With(theirs.Count == 0 ? "that sells its model" : Judging.Or(theirs), c.HowToRead(FactName.Region)),
            code =>
                theirs.Count == 0 ? SilentCarrier.With(code)
                : theirs.Contains(code, StringComparer.OrdinalIgnoreCase) ? BothCarriers.With(code)
                : OtherCarrier.With(Judging.Or(theirs), code)
        );
    }

    private static bool IsOfCarrierRegions(MatchCase c) =>
        c.Says(FactName.Region) is { Count: > 0 } regions && regions.All(code => c.Catalogue.Region(code)?.Group == CarrierGroup);

    /// <summary>Whether the package is a carrier's; null where it is for both.</summary>
    private static bool? IsCarriers(MatchCase c)
    {
        if (IsOfCarrierRegions(c))
            return true;
        var regions = c.Says(FactName.Region);
        var models = c.Says(FactName.ModelCode).Select(c.Catalogue.Model).ToList();
        // Of a code that is sold both ways, only the region tells whose software it is.
        if (
            models.All(model => model!.SoldBothWays)
            && regions.Count > 0
            && regions.All(code => c.Catalogue.Region(code)?.Group != CarrierGroup)
        )
            return false;
        return models.All(model => model!.CarrierLocked) ? true
            : models.Any(model => model!.CarrierLocked) ? null
            : false;
    }
}
