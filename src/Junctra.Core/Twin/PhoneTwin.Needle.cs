using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

// A needle on an opened phone: its chip answers, does not, or the board is gone.
public sealed partial class PhoneTwin
{
    /// <summary>How often a needle that is held on the right pad touches well enough for the chip to answer.</summary>
    public const double ContactChance = 0.6;

    private const long HeldMs = 4000;

    private TwinState Hold(TwinState state, HoldNeedle needle)
    {
        if (needle.On == NeedleOn.Supply)
            return GoFlat(state) with { HasLoader = false, Faults = state.Faults with { DeadBoard = true, Shorted = true } };
        var held = Advance(state, HeldMs);
        return
            needle.On == NeedleOn.Wanted
            && held is { Stage: PhoneStage.Off, BatteryIn: true, Faults: { DeadBoard: true, Shorted: false, BadSocket: false } }
            && Touches(state)
            ? held with
            {
                Stage = PhoneStage.Emergency,
                StageSinceMs = held.NowMs,
                Faults = held.Faults with { DeadBoard = false },
                Cable = CableTo.Computer,
                Computer = needle.Computer,
            }
            : held;
    }

    // Drawn by the phone's seed and its clock, so that a replay is the same and the next try is another one.
    private static bool Touches(TwinState state)
    {
        var draw = (ulong)state.NowMs / 1000 * 0x9E3779B97F4A7C15UL + state.Seed * 0xBF58476D1CE4E5B9UL;
        draw = (draw ^ (draw >> 29)) * 0x94D049BB133111EBUL;
        return (draw >> 40) / (double)(1 << 24) < ContactChance;
    }
}
