using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Link.Running;

/// <summary>Holds what a phone says now against what was judged.</summary>
internal static class TargetCheck
{
    // What no link but that of a bootloader tells.
    private static readonly FactName[] OfBootloaders = [FactName.LockState, FactName.RollbackFloor];

    /// <summary>
    /// Nothing where what the plan brings is not below the floor that the phone tells. Only of a phone whose floor nobody could read before
    /// is that anything new.
    /// </summary>
    /// <exception cref="WriteRefusedException">The phone never starts what the plan brings.</exception>
    public static void HoldFloor(PhoneReading reading, Plan plan)
    {
        if (
            plan.Target.RollbackFloor is null
            && plan.WrittenRevision is { } brings
            && reading[FactName.RollbackFloor] is { } told
            && FactName.RollbackFloor.TryRead(told, out var floor)
            && floor > brings
        )
            throw new WriteRefusedException(
                $"The phone's floor is {floor}, and the package brings revision {brings}: the phone never starts that.",
                "Nothing of the package was sent here. Match again, by the floor that it tells."
            );
    }

    /// <summary>
    /// Nothing where it is the phone of the plan. A bootloader must tell all that was judged; a recovery or a running system tells its
    /// serial and model, and what it does tell besides must agree.
    /// </summary>
    /// <param name="reading">What the phone says.</param>
    /// <param name="judged">What was judged.</param>
    /// <param name="mode">The mode in which it must be.</param>
    /// <exception cref="WriteRefusedException">Something differs, or is not told.</exception>
    public static void Hold(PhoneReading reading, PlanTarget judged, PhoneMode mode)
    {
        var differences = new List<string>();
        if (reading[FactName.Mode] is { } at && at != mode.Id())
            throw new WriteRefusedException(
                $"The phone is in {PhoneModes.Parse(at)?.Label() ?? at}, not in {mode.Label()}.",
                $"Nothing was written. Bring it into {mode.Label()}, and begin again."
            );
        Compare(FactName.Serial, judged.Serial);
        Compare(FactName.ModelCode, judged.ModelCode);
        Compare(FactName.LockState, judged.LockState is { } state ? FactName.LockState.Write(state) : null);
        Compare(FactName.RollbackFloor, judged.RollbackFloor?.ToString());
        if (differences.Count > 0)
            throw new WriteRefusedException(
                $"This is not the phone that was judged: {string.Join("; ", differences)}.",
                "Nothing was written. Connect the right phone, or read this one and match again."
            );

        void Compare(FactName name, string? expected)
        {
            var mayBeSilent = !mode.IsBootloader() && OfBootloaders.Contains(name);
            if (expected is null || mayBeSilent && reading[name] is null)
                return;
            if (!string.Equals(reading[name], expected, StringComparison.OrdinalIgnoreCase))
                differences.Add($"{name.Label.ToLowerInvariant()} is {reading[name] ?? "not told"}, judged was {expected}");
        }
    }
}
