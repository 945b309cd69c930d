using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>A write of this job, as it ended.</summary>
/// <param name="Plan">What was written.</param>
/// <param name="IsWhole">Whether all of it was accepted.</param>
/// <param name="EndedAt">When it ended.</param>
/// <param name="Package">Its package as the library has it now, or null where it is gone.</param>
/// <param name="ProvenBy">What proves that the images of that package are its maker's (<see cref="Surroundings.ProofOf"/>), or null.</param>
public sealed record WrittenPlan(Plan Plan, bool IsWhole, DateTimeOffset EndedAt, Package? Package, Package? ProvenBy = null);

/// <summary>
/// Whether it is proved that what lies on a phone is its maker's: every partition of the stock list accepted in this job from one verified
/// official package, then one boot (specification: section 9.2 of the job). Of a phone that was put back to its own backup of before its
/// modification: that, its maker's recovery, and a look at each (specification: path H).
/// </summary>
/// <param name="Holds">Whether it is.</param>
/// <param name="Why">What proves it, or what would.</param>
public sealed record StockProof(bool Holds, string Why)
{
    /// <summary>Of a job in which nothing was written.</summary>
    public static StockProof None { get; } =
        new(
            false,
            "Nothing was written in this job, so nothing proves what lies on the phone. Match a full package of its own build, write it, let the phone start once; then close the lock."
        );

    /// <summary>The proof that the writes of a job give, its last one above all.</summary>
    /// <param name="model">The phone's model.</param>
    /// <param name="writes">Everything that was written in the job, in order.</param>
    /// <param name="phone">The phone as it is known now.</param>
    public static StockProof Of(PhoneModel model, IReadOnlyList<WrittenPlan> writes, Phone phone) =>
        OfOwnBackup(model, writes, phone) ?? OfOnePackage(model, writes.Count > 0 ? writes[^1] : null, phone);

    /// <summary>
    /// The proof of a phone that was put back to its own backup: restored whole, its stock recovery written where it has a partition of
    /// its own, and system and recovery each looked at since. Null where no backup was restored, or more than that was written since.
    /// </summary>
    private static StockProof? OfOwnBackup(PhoneModel model, IReadOnlyList<WrittenPlan> writes, Phone phone)
    {
        var at = writes.ToList().FindLastIndex(one => one.Plan.Steps.Any(step => step.Act is RestoreBackup));
        if (at < 0 || writes.Skip(at + 1).Any(one => one.Plan.Touches.Any(touch => touch.Role != PartitionRole.Recovery)))
            return null;
        var (restored, since) = (writes[at], writes.Skip(at).ToList());
        if (since.Find(one => !one.IsWhole) is not null)
            return new(false, "A write of this job did not end whole. Do it again.");
        if (
            restored.Package is not { Backup: { System: "stock" } origin }
            || !origin.Serial.Equals(phone[FactName.Serial].Value, StringComparison.OrdinalIgnoreCase)
        )
            return new(false, "That the backup is this phone's own, and of before its modification, is no longer to be seen.");
        var restoredNames = restored.Plan.Touches.Select(touch => touch.Partition).ToHashSet(StringComparer.Ordinal);
        if (
            writes
                .Take(at)
                .Where(one => one.ProvenBy is null)
                .SelectMany(one => one.Plan.Touches)
                .FirstOrDefault(touch =>
                    touch.Role is not (PartitionRole.Recovery or PartitionRole.UserData) && !restoredNames.Contains(touch.Partition)
                ) is
            { } before
        )
            return new(
                false,
                $"Before its backup was restored this job wrote {before.Partition}, which the backup does not bring back, from a package that nothing proves. Write a full stock package."
            );
        var hasOwnRecovery = model.Partitions.Any(spec => spec.Role == PartitionRole.Recovery);
        if (hasOwnRecovery && !since.Skip(1).Any(one => one.ProvenBy is not null))
            return new(
                false,
                "Its backup was restored; its maker's recovery was not written after it, proved by a digest from elsewhere or by a published package in which it lies."
            );
        var ended = since[^1].EndedAt;
        if (!Seen(FactName.DeviceStatus, FactName.DeviceStatus.Write(DeviceStatus.Official)))
            return new(false, "Its backup was restored; that its system is its maker's was not looked at since. Read the device status.");
        if (!Seen(FactName.Recovery, FactName.Recovery.Write(RecoveryKind.Stock)))
            return new(
                false,
                "Its backup was restored; whose recovery it has was not looked at since. Open its recovery once, and note it."
            );
        return phone.All.Any(fact => fact.At >= restored.EndedAt && SaysThatItStarts(fact))
            ? new(
                true,
                $"Its own backup of {origin.TakenOn ?? "before its modification"} was restored whole; system and recovery were looked at since, and the phone has started."
            )
            : new(false, "Its backup was restored; the phone has not been seen to start since. Let it start once, and note what it shows.");

        bool Seen(FactName name, string value) =>
            phone[name] is { State: FactState.Known } fact && fact.Claims.Any(claim => claim.At >= ended && claim.Value == value);
    }

    private static StockProof OfOnePackage(PhoneModel model, WrittenPlan? written, Phone phone)
    {
        if (written is null)
            return None;
        if (!written.IsWhole)
            return new(false, "The last write of this job did not end whole. Write the package again.");
        var images = written.Plan.Steps.SelectMany(step => step.Act.Touches).Where(touch => !touch.Erases).ToList();
        var missing = model
            .StockMissing(name => images.Exists(image => image.Partition == name))
            .Where(spec => spec.Role != PartitionRole.RegionPack)
            .Select(spec => spec.Name)
            .ToList();
        if (missing.Count > 0)
            return new(false, $"Not written in this job: {string.Join(", ", missing)}. A full package proves them, a part does not.");
        if (written.Package is not { } package)
            return new(false, "The package that was written is no longer in the library: nothing tells whose it was.");
        if (package.Provenance != Provenance.Official)
            return new(false, $"{package.Title} was written, and nothing says that it is as its maker sent it out.");
        // A list that came with the file proves that it is whole, and not whose it is: whoever changed an image wrote the list anew.
        if (package.Whole().State != Wholeness.AsPublished)
            return new(
                false,
                $"{package.Title} was written, and no digest from elsewhere, which the shop trusts, proves that it is its maker's."
            );
        var hasStarted = phone.All.Any(fact => fact.At >= written.EndedAt && SaysThatItStarts(fact));
        return hasStarted
            ? new(true, $"All {images.Count} images of {package.Title} were accepted in this job, and the phone has started since.")
            : new(
                false,
                $"All of {package.Title} was accepted; the phone has not been seen to start since. Let it start once, and note what it shows."
            );
    }

    private static bool SaysThatItStarts(Fact fact) =>
        fact.Source == FactSource.Settings
        || fact.Name == FactName.Mode && PhoneModes.Parse(fact.Value) is PhoneMode.System or PhoneMode.SetupWizard
        || fact.Name.ReachedMode is (PhoneMode.System or PhoneMode.SetupWizard) and var mode
            && FactName.Reached(mode).TryRead(fact.Value, out var reached)
            && reached;
}
