using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

/// <summary>Partitions that are written, laid out anew and erased over a link.</summary>
public sealed partial class PhoneTwin
{
    /// <summary>Why the phone refuses to write an image to a partition; null where it takes it.</summary>
    /// <param name="state">The phone.</param>
    /// <param name="partition">Name of the partition, as the computer says it.</param>
    /// <param name="part">What is to be written; null for an erase.</param>
    /// <param name="bytes">Size of the image, expanded.</param>
    public string? WhyRefused(TwinState state, string partition, TwinPart? part, long bytes)
    {
        if (state.Stage == PhoneStage.Emergency && !state.HasLoader)
            return "its chip answers alone, and no loader runs";
        if (state.Stage is not (PhoneStage.Emergency or PhoneStage.CustomRecovery) && !TakesWrites(state.Stage))
            return "it takes no writes here";
        if (state.Stage is PhoneStage.Fastboot or PhoneStage.RecoveryCommands && !state.Unlocked)
            return "the bootloader is locked";
        var name = WithoutSlot(partition);
        var isDynamic = Model.DynamicPartitions.Contains(name);
        if (isDynamic && state.Stage != PhoneStage.RecoveryCommands)
            return $"{name} lies inside {Model.Partitions.First(spec => spec.Role == PartitionRole.System).Name}; it is written in the recovery-hosted command mode";
        if (!isDynamic && Model.Partition(name) is null)
            return $"no partition {partition}";
        if (Model.Partition(name) is not { } spec)
            return null;
        if (spec.Role == PartitionRole.Identity)
            return $"{name} is protected";
        if (state.Stage == PhoneStage.RecoveryCommands && spec.Role is PartitionRole.BootChain or PartitionRole.Radio)
            return $"{name} is not written here";
        if (state.Stage == PhoneStage.Emergency && spec.Role != PartitionRole.BootChain)
            return $"{name} is not written through a loader";
        if (part is null)
            return null;
        var holds = state.Layout.IsEmpty ? spec.SizeBytes : state.Layout.GetValueOrDefault(name);
        if (bytes > holds)
            return holds == 0 ? $"no partition {partition}" : $"image of {bytes} bytes, {name} holds {holds}";
        if (state.Stage == PhoneStage.Download && !state.Unlocked && !part.IsSigned)
            return $"{name} is not signed by its maker";
        if (spec.Role != PartitionRole.BootChain)
            return part.Model is { } made && made != Model.Code && state.Stage == PhoneStage.Download
                ? $"{name} is not for this model"
                : null;
        if (part.Model != Model.Code || !part.IsSigned)
            return "boot chain is not for this model";
        return Maker.HasRollbackFuses && part.Revision < state.Floor
            ? $"boot chain revision {part.Revision} is below the floor {state.Floor}"
            : null;
    }

    private static bool TakesWrites(PhoneStage stage) => stage is PhoneStage.Fastboot or PhoneStage.RecoveryCommands or PhoneStage.Download;

    /// <summary>A loader for older chains than the phone has burnt into its fuses is not started.</summary>
    private static TwinState Supply(TwinState state, SupplyLoader loader) =>
        state is { Stage: PhoneStage.Emergency, Cable: CableTo.Computer, Faults.BadSocket: false } && state.Floor <= loader.HighestRevision
            ? state with
            {
                HasLoader = true,
            }
            : state;

    private TwinState Write(TwinState state, WritePart write)
    {
        if (state.Task is not null || WhyRefused(state, write.Partition, write.Part, write.Bytes) is not null)
            return state;
        var name = StoredName(state, write.Partition);
        var isWhole = write.TakesMilliseconds <= 0 && write.Part.Whole;
        var written = Model.Partition(WithoutSlot(write.Partition)) is { Role: PartitionRole.UserData }
            ? Wipe(state)
            : Holding(state, name, write.Part with { Whole = isWhole });
        return write.TakesMilliseconds <= 0
            ? written
            : written with
            {
                Task = new TwinTask(
                    $"Writing {name}",
                    state.NowMs + Math.Min(write.TakesMilliseconds, MaxMilliseconds),
                    MenuEffect.None,
                    name,
                    null
                ),
            };
    }

    /// <summary>
    /// A phone with something in one of its partitions; what lies inside the large one comes and stays with it, whole or not.
    /// </summary>
    /// <param name="state">The phone.</param>
    /// <param name="stored">The partition's name in <see cref="TwinState.Parts"/>.</param>
    /// <param name="part">What lies in it.</param>
    public TwinState Holding(TwinState state, string stored, TwinPart part)
    {
        var parts = state.Parts.SetItem(stored, part);
        if (Model.Large?.Name == stored)
        {
            foreach (var inside in Model.DynamicPartitions)
                parts = parts.SetItem($"{inside}_{state.Slot}", part with { Content = $"{part.Content}/{inside}" });
        }

        return state with
        {
            Parts = parts,
        };
    }

    /// <summary>A layout is written where writes are taken; what lay in the old one is lost, and so is the data.</summary>
    private TwinState Relay(TwinState state, WriteLayout layout)
    {
        if (state.Task is not null || state.Stage is not (PhoneStage.Download or PhoneStage.Fastboot) || !state.Unlocked)
            return state;
        var chain = Model.Partitions.Where(spec => spec.Role == PartitionRole.BootChain).Select(spec => spec.Name).ToHashSet();
        var isOwn =
            Model.Partitions.All(spec => layout.Sizes.GetValueOrDefault(spec.Name) == spec.SizeBytes)
            && layout.Sizes.Count == Model.Partitions.Count;
        return Wipe(state) with
        {
            Layout = isOwn ? ImmutableSortedDictionary<string, long>.Empty : layout.Sizes.ToImmutableSortedDictionary(),
            Parts = state.Parts.Where(pair => chain.Contains(pair.Key)).ToImmutableSortedDictionary(StringComparer.Ordinal),
        };
    }

    private TwinState Erase(TwinState state, string partition)
    {
        if (state.Task is not null || WhyRefused(state, partition, null, 0) is not null)
            return state;
        if (Model.Partition(WithoutSlot(partition)) is { Role: PartitionRole.UserData })
            return Wipe(state);
        return state with { Parts = state.Parts.Remove(StoredName(state, partition)) };
    }

    /// <summary>
    /// The partition that a computer means by a name, or null: one of a slot, or one that lies inside the large one, has no file of its
    /// own.
    /// </summary>
    public PartitionSpec? SpecOf(string partition) => Model.Partition(WithoutSlot(partition));

    private string WithoutSlot(string partition) =>
        Model.Slots > 1 && partition.Length > 2 && partition[^2] == '_' && partition[^1] is 'a' or 'b' && Model.Partition(partition) is null
            ? partition[..^2]
            : partition;

    /// <summary>Under which name what is written to a partition lies in <see cref="TwinState.Parts"/>.</summary>
    public string StoredName(TwinState state, string partition)
    {
        var name = WithoutSlot(partition);
        if (!Model.SlottedPartitions.Contains(name) && !Model.DynamicPartitions.Contains(name))
            return name;
        return name == partition ? $"{name}_{state.Slot}" : partition;
    }
}
