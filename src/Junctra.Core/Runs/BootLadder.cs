using Junctra.Core.Catalogue;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;

namespace Junctra.Core.Runs;

/// <summary>How a rung stands.</summary>
public enum RungState
{
    /// <summary>Was gone up, and has not brought the phone up.</summary>
    Climbed,

    /// <summary>Is being tried.</summary>
    Here,

    /// <summary>Is next.</summary>
    Next,

    /// <summary>Comes later.</summary>
    Later,

    /// <summary>Is none for this phone.</summary>
    Closed,
}

/// <summary>A rung of the ladder.</summary>
/// <param name="Rung">Which.</param>
/// <param name="State">How it stands.</param>
/// <param name="Minutes">What it usually takes, and at most, in minutes.</param>
/// <param name="WhyClosed">Why it is none for this phone; null where it is one.</param>
public sealed record LadderRung(Rung Rung, RungState State, Band Minutes, string? WhyClosed)
{
    /// <summary>The plan of a rung that hands climb; null where there is none.</summary>
    public Plan? Plan { get; init; }
}

/// <summary>
/// What is tried with a phone that does not come up after a write, one rung after the other, the one that costs least first (specification:
/// section 10 of the job). Nobody is kept from leaving one out; nothing is skipped by itself.
/// </summary>
/// <param name="Rungs">The rungs, in order.</param>
public sealed record BootLadder(IReadOnlyList<LadderRung> Rungs)
{
    /// <summary>The rung that is next; null at the top.</summary>
    public LadderRung? Next => Rungs.FirstOrDefault(rung => rung.State == RungState.Next);

    /// <summary>The ladder of a phone.</summary>
    /// <param name="written">The plan after which it did not come up: the job's own, not a rung's.</param>
    /// <param name="climbed">Rungs that were gone up since, in any order.</param>
    /// <param name="clock">How it keeps its time since it was last let go.</param>
    /// <param name="case">The phone as it is now.</param>
    /// <param name="figures">The shop's figures.</param>
    public static BootLadder Of(Plan written, IReadOnlyCollection<Rung> climbed, StageClock clock, PathCase @case, Figures figures)
    {
        var highest = climbed.Count == 0 ? -1 : climbed.Max(rung => (int)rung);
        var hasNext = false;
        return new BootLadder([.. Plans.Rungs.All.Select(Judge)]);

        LadderRung Judge(Rung rung)
        {
            var minutes = rung.Minutes(figures);
            if (rung == Rung.Wait)
            {
                var waits = clock.Minutes <= clock.StuckMinutes && highest < 0;
                return new LadderRung(rung, waits ? RungState.Here : RungState.Climbed, minutes, null);
            }

            if (climbed.Contains(rung) || (int)rung < highest)
                return new LadderRung(
                    rung,
                    climbed.Contains(rung) ? RungState.Climbed : RungState.Closed,
                    minutes,
                    climbed.Contains(rung) ? null : "Left out."
                );
            var outcome = rung.IsPlanned() ? LadderPlans.Of(rung, written, @case) : null;
            var why =
                outcome is { Plan: null } ? string.Join(" ", outcome.Refusals)
                : rung == Rung.WriteAgain && !written.Writes ? "Nothing was written: there is a plan to be made first."
                : null;
            if (why is not null)
                return new LadderRung(rung, RungState.Closed, minutes, why);
            var state = hasNext ? RungState.Later : RungState.Next;
            hasNext = true;
            return new LadderRung(rung, state, minutes, null) { Plan = outcome?.Plan };
        }
    }
}
