using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Twin;

namespace Junctra.Core.Runs;

// What a run has made of the phone so far. Its facts become void only when it ends; its hands must know better.
public sealed partial record RunState
{
    /// <summary>
    /// The mode in which the phone is by what the run wrote down: as somebody saw it last, or as the step at hand has it.
    /// </summary>
    public PhoneMode ModeNow =>
        Seen.Count > 0 && PhoneModes.Parse(Seen[^1].What.Shows) is { } seen ? seen
        : Status == RunStatus.Finished && Plan.StartsThePhone ? PhoneMode.Starting
        : HandsFrom is { } from and not PhoneMode.Unknown ? from
        : Step?.Act.In
            ?? ShownByHands
            ?? Plan.Steps.Select(step => step.Act.In).FirstOrDefault(mode => mode is not null)
            ?? PhoneMode.Unknown;

    /// <summary>
    /// A phone as it is after what the run wrote down by now: whose recovery it has, whether it is rooted and whether its system allows
    /// debugging decide which ways are open to hands.
    /// </summary>
    /// <param name="phone">What was known of it when the run began.</param>
    /// <param name="model">Its model.</param>
    public Phone KnownBy(Phone phone, PhoneModel model)
    {
        var written = Plan.Steps.SelectMany(step => step.Act.Sends).Where(image => Accepted.ContainsKey(image.Partition)).ToList();
        var carriesRecovery = model.Partitions.Any(spec => spec.Role == PartitionRole.Recovery)
            ? PartitionRole.Recovery
            : PartitionRole.Boot;
        if (written.FindLast(image => image.Role == carriesRecovery) is { } recovery)
            phone = phone.Supposing(
                FactName.Recovery,
                FactName.Recovery.Write(recovery.Origin.Kind == SoftwareKind.Custom ? RecoveryKind.Custom : RecoveryKind.Stock)
            );
        if (written.FindLast(image => image.Role == PartitionRole.Boot) is { } boot)
            phone = phone.Supposing(FactName.Root, FactName.Root.Write(boot.Origin.Root is null ? Presence.None : Presence.Present));
        if (
            model.Partitions.Any(spec =>
                spec.Role == PartitionRole.UserData && (Erased.Contains(spec.Name) || Accepted.ContainsKey(spec.Name))
            )
        )
            phone = phone.Supposing(FactName.UsbDebugging, FactName.UsbDebugging.Write(Debugging.Off));
        return phone;
    }
}
