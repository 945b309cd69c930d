using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path G: an update from the storage card, put in by stock recovery. It keeps the data, and a closed lock does not matter.
/// </summary>
public sealed class CardUpdate : IPath
{
    /// <inheritdoc/>
    public string Letter => "G";

    /// <inheritdoc/>
    public string Title => "Update from the card";

    /// <inheritdoc/>
    public string Purpose => "For a phone whose stock recovery puts in a signed update from its storage card. It keeps the data.";

    /// <inheritdoc/>
    public bool ReadsLink => false;

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        PathFit.Package(@case, "a card update", package => package.Kind == PackageKind.CardUpdate)
        ?? (@case.ErasesData ? "It keeps the data, which are to be erased." : null);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        // A closed lock starts no recovery but its maker's.
        if (@case.Phone.Of(FactName.LockState).Is(LockState.Locked) && @case.Phone[FactName.Recovery].State == FactState.Unknown)
            @case = @case with { Phone = @case.Phone.Supposing(FactName.Recovery, FactName.Recovery.Write(RecoveryKind.Stock)) };
        var draft = new PlanDraft(@case);
        var package = @case.Package!;
        var model = draft.Model();
        draft.RefuseIfLost();
        if (package.Provenance == Provenance.Patched)
            draft.Refuse("Somebody changed it after its maker: stock recovery takes only what its maker signed.");
        if (@case.Phone.Of(FactName.Recovery).MayBe(RecoveryKind.Custom))
            draft.Refuse("Its recovery is not its maker's, and only that one puts in what its maker signed. Write stock recovery first.");
        else if (!@case.Phone.Of(FactName.Recovery).Is(RecoveryKind.Stock))
            draft.Refuse("Whether its recovery is its maker's is not known: open its recovery once, and note whose it is.");
        if (model is { CardUpdate: null })
            draft.Refuse($"How the recovery of a {model.Code} finds an update on the card is not in the catalogue.");
        if (model is null || draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        var entry = RecoveryMenu.Choose(@case, model, PhoneMode.StockRecovery, RecoveryMenu.CardUpdate);
        if (entry is null)
        {
            draft.Refuse($"The recovery of a {model.Code} puts in no updates from a card.");
            return draft.Finish(null!, null, null);
        }

        var images = package
            .Images.Where(image => model.Partition(image.Partition) is { Role: not (PartitionRole.Identity or PartitionRole.UserData) })
            .Select(image => PlannedImage.Of(image, model.Partition(image.Partition)!.Role, package, model))
            .ToList();
        var (file, card) = (model.CardUpdate!.FileName, model.CardUpdate.CardName);
        var brings = PlannedImage.OriginOf(package, model, SoftwareKind.Stock);
        draft.Add(new VerifyFiles(package.Contents.SizeBytes, 0));
        // Compared anew even where it was seen to lie there: a card is out of the phone in no time.
        var copy = new CopyToCard(file, card, package.Contents.SizeBytes, package.Id, brings);
        if (GivesItsCard(@case))
        {
            // The phone says itself who it is; another one finds no file on its card afterwards.
            draft.Add(new ConfirmTarget(PhoneMode.System));
            draft.Add(copy with { OverLink = true });
        }
        else
        {
            draft.Add(copy);
            draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        }

        draft.Bring(model, @case.Mode, PhoneMode.StockRecovery);
        draft.Add(new PutInUpdate(entry.Entry, entry.Label, file, images));
        draft.Add(new AwaitStage(OwnWork.CardUpdate));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new AwaitStage(OwnWork.OptimisingApps, Bundle.UsualApps));
        draft.Add(new CheckResult());
        WipeOnly.AddIfItLoops(draft, @case, model);
        return draft.Finish(new PathChoice(Letter, Title, false), draft.TargetAsKnown(model), package);
    }

    /// <summary>
    /// Whether files can be put on its card over the debugging link: it runs, allows this computer, and the card is in it.
    /// </summary>
    private static bool GivesItsCard(PathCase @case) =>
        @case.Mode == PhoneMode.System
        && @case.Phone.Of(FactName.UsbDebugging).Is(Debugging.Authorised)
        && @case.Phone.Of(FactName.Card).Is(Presence.Present)
        && @case.Phone[FactName.Serial].Value is not null;
}
