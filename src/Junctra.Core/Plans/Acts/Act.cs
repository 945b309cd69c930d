using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Who does an act.</summary>
public enum ActBy
{
    /// <summary>This computer alone; no phone is needed.</summary>
    Computer,

    /// <summary>A link: the runner of the act's mode.</summary>
    Link,

    /// <summary>A person's hands; the run waits for their word.</summary>
    Hands,

    /// <summary>The phone by itself, or the check: somebody sees to it when all is written.</summary>
    Phone,
}

/// <summary>A partition that an act writes or erases.</summary>
/// <param name="Partition">Its name.</param>
/// <param name="Role">What it is for; null in plans of before roles were kept.</param>
/// <param name="Erases">Whether it is empty afterwards; else an image lies in it.</param>
/// <param name="Bytes">Bytes on the wire, or 0.</param>
/// <param name="ExpandedBytes">Size of the image in the partition, or 0.</param>
public sealed record PartitionTouch(string Partition, PartitionRole? Role, bool Erases = false, long Bytes = 0, long ExpandedBytes = 0);

/// <summary>An act in words.</summary>
/// <param name="Title">What it is, as a step of the plan: “Write radio”.</param>
/// <param name="Doing">What is going on meanwhile: “Writing radio”.</param>
/// <param name="Shows">What the phone should show meanwhile.</param>
/// <param name="Ends">How one sees that it has ended.</param>
public sealed record ActWords(string Title, string Doing, string Shows, string Ends);

/// <summary>What an act on a twin has around it.</summary>
/// <param name="Twin">The phone's model as a machine.</param>
/// <param name="Catalogue">Ways and figures.</param>
/// <param name="Phone">What is known of the phone, for the ways that are open to it.</param>
public sealed record TwinScene(PhoneTwin Twin, ModelCatalogue Catalogue, Phone Phone)
{
    /// <summary>Name of the computer to which the cable leads.</summary>
    public const string Computer = "this computer";

    /// <summary>
    /// The phone as it is known once a twin has come so far: whose recovery it has, root and debugging decide which ways lead somewhere,
    /// and a write or a wipe changes them. What nobody knows stays unknown.
    /// </summary>
    public Phone PhoneAt(TwinState state)
    {
        var phone = Phone;
        var isCustom = Twin.RecoveryOf(state)?.Kind == SoftwareKind.Custom;
        Becomes(FactName.Recovery, isCustom ? RecoveryKind.Custom : RecoveryKind.Stock, Twin.RecoveryOf(state) is not null);
        Becomes(FactName.Root, Presence.None, Twin.RootOf(state) is null);
        Becomes(FactName.UsbDebugging, Debugging.Off, !state.Debugging);
        return phone;

        void Becomes<T>(FactOf<T> fact, T now, bool so)
        {
            if (so && Phone.Of(fact).TryGet(out var before) && !EqualityComparer<T>.Default.Equals(before, now))
                phone = phone.Supposing(fact.Name, fact.Write(now));
        }
    }
}

/// <summary>
/// What a step of a plan does, and everything that anybody must know of it: who carries it out and in which mode, what it touches, what it
/// amounts to on a twin, how long it takes, and its words. One file for each; the list here is what a stored plan may hold.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "act")]
[JsonDerivedType(typeof(VerifyFiles), "verify-files")]
[JsonDerivedType(typeof(ConfirmTarget), "confirm-target")]
[JsonDerivedType(typeof(WriteImage), "write-image")]
[JsonDerivedType(typeof(SendBundle), "send-bundle")]
[JsonDerivedType(typeof(ErasePartition), "erase-partition")]
[JsonDerivedType(typeof(RestartInto), "restart-into")]
[JsonDerivedType(typeof(RestartByHands), "restart-by-hands")]
[JsonDerivedType(typeof(ForceRestart), "force-restart")]
[JsonDerivedType(typeof(BringInto), "bring-into")]
[JsonDerivedType(typeof(ChooseEntry), "choose-entry")]
[JsonDerivedType(typeof(ChangeLock), "change-lock")]
[JsonDerivedType(typeof(SwitchPermissionOff), "switch-permission-off")]
[JsonDerivedType(typeof(RewriteLayout), "rewrite-layout")]
[JsonDerivedType(typeof(CopyToCard), "copy-to-card")]
[JsonDerivedType(typeof(PutInUpdate), "put-in-update")]
[JsonDerivedType(typeof(RestoreBackup), "restore-backup")]
[JsonDerivedType(typeof(SaveData), "save-data")]
[JsonDerivedType(typeof(BringBack), "bring-back")]
[JsonDerivedType(typeof(UnpackPart), "unpack-part")]
[JsonDerivedType(typeof(CopyOverDebugging), "copy-over-debugging")]
[JsonDerivedType(typeof(PatchOnPhone), "patch-on-phone")]
[JsonDerivedType(typeof(TakeInPatched), "take-in-patched")]
[JsonDerivedType(typeof(OpenToEmergency), "open-to-emergency")]
[JsonDerivedType(typeof(SupplyEmergencyLoader), "supply-loader")]
[JsonDerivedType(typeof(WriteThroughLoader), "write-through-loader")]
[JsonDerivedType(typeof(AwaitStage), "await-stage")]
[JsonDerivedType(typeof(CheckResult), "check-result")]
public abstract record Act
{
    /// <summary>Who does it.</summary>
    public abstract ActBy By { get; }

    /// <summary>The mode in which the phone must be for it; null where that does not matter.</summary>
    public abstract PhoneMode? In { get; }

    /// <summary>What it writes or erases, in order.</summary>
    public abstract IReadOnlyList<PartitionTouch> Touches { get; }

    /// <summary>Whether it may change the lock, so that whatever was read of it before is void.</summary>
    public virtual bool ChangesLock => false;

    /// <summary>Whether the phone may have carried it out as soon as it has begun; else it is told piece by piece.</summary>
    public virtual bool TouchesAtOnce => false;

    /// <summary>Whether the phone starts by it from the boot chain that it has then.</summary>
    public virtual bool StartsThePhone => false;

    /// <summary>Images of a package that it sends to the phone, in order.</summary>
    public virtual IReadOnlyList<PlannedImage> Sends => [];

    /// <summary>Whether it takes anything out of the package file, which is then verified anew where hands were waited for.</summary>
    public virtual bool ReadsPackage => Sends.Count > 0;

    /// <summary>Bytes that it sends to the phone.</summary>
    public long LinkBytes => Touches.Sum(touch => touch.Bytes);

    /// <summary>Its words.</summary>
    public abstract ActWords Words { get; }

    /// <summary>Seconds that it takes.</summary>
    public abstract Band Seconds(Figures figures);

    /// <summary>What it is that takes the time: what the shop's own log knows of such acts stands in the figures' place.</summary>
    public virtual TimeKind Timed =>
        By switch
        {
            ActBy.Hands => TimeKind.Hands,
            ActBy.Computer => TimeKind.Verify,
            ActBy.Phone => TimeKind.Check,
            _ => LinkBytes > 0 ? TimeKind.Write : TimeKind.Answer,
        };

    /// <summary>Seconds without a sign after which that is unusual; not yet a fault.</summary>
    public virtual double QuietSeconds(Figures figures, Band seconds) => Math.Max(figures.TransferStallWarnSeconds, seconds.Slow);

    /// <summary>What happens to a twin by it.</summary>
    /// <param name="scene">The twin's model, and what is known.</param>
    /// <param name="now">The twin before it.</param>
    public abstract IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now);

    /// <summary>Whether somebody must be there for it, in the run or after it.</summary>
    public virtual bool WantsHands => By == ActBy.Hands;

    /// <summary>Whether it is all done at the phone's keys, cable and menus, so that the phone itself shows when it is done.</summary>
    public virtual bool IsAtThePhone => false;

    /// <summary>Whether the run ends with it still to come: somebody sees to it at the check.</summary>
    public bool FollowsTheRun => By == ActBy.Phone;
}
