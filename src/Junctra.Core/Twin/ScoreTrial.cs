using Junctra.Core.Catalogue;

namespace Junctra.Core.Twin;

/// <summary>An act of somebody who tries a score.</summary>
/// <param name="AtMs">When, in milliseconds from the trial's begin.</param>
/// <param name="Happening">What.</param>
public sealed record TrialAct(long AtMs, TwinEvent Happening);

/// <summary>How well a moment was met.</summary>
public enum MomentVerdict
{
    /// <summary>Within what works.</summary>
    Met,

    /// <summary>Too early.</summary>
    Early,

    /// <summary>Too late.</summary>
    Late,
}

/// <summary>A moment of the score that was played.</summary>
/// <param name="Bar">The bar.</param>
/// <param name="IsPress">Its begin; else its end.</param>
/// <param name="AtMs">When it was played, from the trial's begin.</param>
/// <param name="OffSeconds">By how much it missed the score, early below zero.</param>
/// <param name="Verdict">Whether that works.</param>
public sealed record JudgedMoment(KeyBar Bar, bool IsPress, long AtMs, double OffSeconds, MomentVerdict Verdict);

/// <summary>A trial so far.</summary>
/// <param name="State">The phone now.</param>
/// <param name="SeenMs">The marks that showed, and when.</param>
/// <param name="Moments">The moments that were played, in order.</param>
/// <param name="Arrived">Whether it is where the score leads.</param>
/// <param name="DueMs">Milliseconds until the phone does something by itself; null when it stands.</param>
public sealed record TrialView(
    TwinState State,
    IReadOnlyDictionary<string, long> SeenMs,
    IReadOnlyList<JudgedMoment> Moments,
    bool Arrived,
    long? DueMs
);

/// <summary>
/// The rehearsal of one score: what somebody did, replayed on a twin and laid against the score. Nothing is kept between two
/// looks; the same acts give the same view.
/// </summary>
public static class ScoreTrial
{
    // Where the data state no tolerance, being off by more than this is worth a word.
    private const double Worth = 0.8;

    /// <summary>The trial at a moment.</summary>
    /// <param name="twin">The phone's model.</param>
    /// <param name="start">The phone before.</param>
    /// <param name="way">The way that is tried.</param>
    /// <param name="acts">What was done, in any order of time; each at 0 or later.</param>
    /// <param name="nowMs">How long the trial has lasted, in milliseconds.</param>
    public static TrialView At(PhoneTwin twin, TwinState start, Way way, IReadOnlyList<TrialAct> acts, long nowMs)
    {
        var seen = new Dictionary<string, long>();
        var next = 0;
        var state = TwinPlay.Through(twin, start, acts, nowMs, Look);
        return new TrialView(state, seen, Judge(way.Score, acts, seen), state.Mode == way.To, twin.NextDueMs(state));

        void Look(TwinState now)
        {
            while (
                next < way.Score.Marks.Count
                && way.Score.Marks[next].Shows == now.Stage
                && (now.StageSinceMs > start.NowMs || acts.Count > 0 && now.StageSinceMs >= start.NowMs)
            )
                seen[way.Score.Marks[next++].Id] = now.NowMs - start.NowMs;
        }
    }

    private static List<JudgedMoment> Judge(KeyRecipe score, IReadOnlyList<TrialAct> acts, Dictionary<string, long> seen)
    {
        var judged = new List<JudgedMoment>();
        foreach (var stave in score.Bars.GroupBy(bar => bar.StaveId))
        {
            foreach (var isPress in new[] { true, false })
            {
                var played = new Queue<long>(
                    acts.Where(act => StaveOf(act.Happening) == (stave.Key, isPress)).OrderBy(act => act.AtMs).Select(act => act.AtMs)
                );
                foreach (var bar in stave.Where(bar => isPress || !bar.Stays).OrderBy(bar => score.Usual(isPress ? bar.From : bar.To)))
                {
                    if (!played.TryDequeue(out var at))
                        break;
                    judged.Add(Judge(score, bar, isPress, at, seen));
                }
            }
        }

        return [.. judged.OrderBy(moment => moment.AtMs)];
    }

    private static JudgedMoment Judge(KeyRecipe score, KeyBar bar, bool isPress, long at, Dictionary<string, long> seen)
    {
        var (moment, tolerance) = isPress ? (bar.From, bar.Press) : (bar.To, bar.Release);
        var expected =
            moment.After is { } mark && seen.TryGetValue(mark, out var shown) ? shown / 1000.0 + moment.Seconds : score.Usual(moment);
        var off = Math.Round(at / 1000.0 - expected, 2);
        var verdict =
            off < -(tolerance?.EarlySeconds ?? (tolerance is null ? Worth : double.MaxValue)) ? MomentVerdict.Early
            : off > (tolerance?.LateSeconds ?? (tolerance is null ? Worth : double.MaxValue)) ? MomentVerdict.Late
            : MomentVerdict.Met;
        return new JudgedMoment(bar, isPress, at, off, verdict);
    }

    private static (string Stave, bool IsPress)? StaveOf(TwinEvent happening) =>
        happening switch
        {
            KeyDown down => (down.Key, true),
            KeyUp up => (up.Key, false),
            CableIn => (Stave.Cable, true),
            CableOut => (Stave.Cable, false),
            BatteryOut => (Stave.Battery, true),
            BatteryIn => (Stave.Battery, false),
            Choose => (Stave.Screen, true),
            Command => (Stave.Computer, true),
            _ => null,
        };
}
