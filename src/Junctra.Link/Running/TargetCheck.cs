using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Link.Running;

/// <summary>Holds what a phone says now against what was judged.</summary>
internal static class TargetCheck
{
    /// <summary>Nothing where it is the phone of the plan.</summary>
    /// <exception cref="WriteRefusedException">Something differs, or is not told.</exception>
    public static void Hold(PhoneReading reading, PlanTarget judged)
    {
        var differences = new List<string>();
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
            if (expected is not null && !string.Equals(reading[name], expected, StringComparison.OrdinalIgnoreCase))
                differences.Add($"{name.Label.ToLowerInvariant()} is {reading[name] ?? "not told"}, judged was {expected}");
        }
    }
}
