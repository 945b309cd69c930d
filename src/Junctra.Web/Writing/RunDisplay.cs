using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Web.Drawing;

namespace Junctra.Web.Writing;

/// <summary>One line of the journal in words.</summary>
public sealed record JournalLine(long Seq, string At, string Text);

/// <summary>One partition as the strip shows it.</summary>
public sealed record PartitionLook(string Name, string Use, double Fill);

/// <summary>A run in the words and figures of the write station; the page and the live stream show the same.</summary>
public sealed record RunDisplay(
    long Seq,
    string Status,
    string Headline,
    string Instruction,
    string Sent,
    double Progress,
    string Band,
    string Screen,
    string IfBroken,
    bool NoReturn,
    double QuietSeconds,
    string QuietWords,
    string ClockWords,
    IReadOnlyList<bool> Reached,
    IReadOnlyList<PartitionLook> Partitions
)
{
    /// <summary>Puts a run into words.</summary>
    /// <param name="state">The run.</param>
    /// <param name="figures">The shop's figures, for how long a step may be quiet.</param>
    /// <param name="now">Now.</param>
    public static RunDisplay Of(RunState state, Figures figures, DateTimeOffset now) =>
        new(
            state.LastSeq,
            state.Status.ToString().ToLowerInvariant(),
            Head(state),
            Instruct(state),
            SentOf(state),
            Math.Round(state.Progress, 4),
            BandOf(state, now),
            state.ScreenNow,
            state.Plan.RiskOf(state.Step, state.At).Words,
            state.Status == RunStatus.Writing && state.Plan.RiskOf(state.Step, state.At).IsNoReturn,
            QuietSecondsOf(state, figures, now),
            QuietWordsOf(state, figures, now),
            ClockOf(state, figures),
            [.. Milestone.Of(state).Select(sign => sign.IsReached)],
            [
                .. state
                    .Plan.Steps.SelectMany(s => s.Act.Touches)
                    .Select(touch => touch.Partition)
                    .Distinct()
                    .Select(partition => Look(state, partition)),
            ]
        );

    private static string ClockOf(RunState state, Figures figures) =>
        RunClock.Of(state, figures) is not { } clock ? ""
        : state.Plan.Watch?.MostMinutes is { } minutes ? $"{clock.Words} By shop policy a step that takes {minutes} min is looked at, too."
        : clock.Words;

    // Short, and not none: what is over its time already is told at once.
    private const double AtOnce = 0.1;

    /// <summary>Seconds until somebody is told that a step may hang; 0 where nothing goes on.</summary>
    private static double QuietSecondsOf(RunState state, Figures figures, DateTimeOffset now)
    {
        if (state.Status is not (RunStatus.Queued or RunStatus.Writing) || state.Step is not { } step)
            return 0;
        var silent = step.Act.QuietSeconds(figures, step.Seconds);
        return LeftOfFixed(state, now) is { } left ? Math.Min(silent, Math.Max(AtOnce, left)) : silent;
    }

    private static string QuietWordsOf(RunState state, Figures figures, DateTimeOffset now)
    {
        if (QuietSecondsOf(state, figures, now) is var seconds && seconds <= 0)
            return "";
        const string wait = "Hands off still: Junctra waits, and says what the phone holds if it gives up.";
        return seconds < state.Step!.Act.QuietSeconds(figures, state.Step.Seconds)
            ? $"This step has taken {state.Plan.Watch!.MostMinutes} min, which shop policy takes for a hang. {wait}"
            : $"Nothing has moved for {seconds:0} s, longer than usual. {wait}";
    }

    /// <summary>Seconds that a step still has where a hang is judged by fixed minutes; null where it is not.</summary>
    private static double? LeftOfFixed(RunState state, DateTimeOffset now) =>
        state.Plan.Watch?.MostMinutes is { } minutes && state.StepBegan is { } began
            ? (began.AddMinutes(minutes) - now).TotalSeconds
            : null;

    private static string SentOf(RunState state)
    {
        var images = state.Plan.Steps.SelectMany(step => step.Act.Touches).Count(touch => !touch.Erases);
        return state.Plan.BytesToSend == 0
            ? $"{state.Done.Count} of {state.Plan.Steps.Count(step => !step.Act.FollowsTheRun)} steps done"
            : $"{state.Accepted.Count} of {images} images accepted; {ByteSize.Text(state.BytesDone + state.BytesSentInStep)} of {ByteSize.Text(state.Plan.BytesToSend)} sent";
    }

    /// <summary>A journal entry in words, or null when it is only progress.</summary>
    public static JournalLine? Line(JournalEntry entry) =>
        JournalWords.Of(entry.Event) is { } text ? new JournalLine(entry.Seq, entry.At.ToLocalTime().ToString("HH:mm:ss"), text) : null;

    private static string Head(RunState state) =>
        state.Status switch
        {
            RunStatus.Queued => "Waiting for the writer. Hands off.",
            RunStatus.Waiting => state.Step?.Title ?? "Hands are wanted.",
            RunStatus.Finished => state.Plan.Writes ? "Written. The phone restarts."
            : state.Plan.StartsThePhone ? "Done. The phone restarts."
            : state.Plan.BringsBack ? "Done. What was saved is on the phone again."
            : "Done. Nothing on the phone was changed.",
            RunStatus.Failed => "The write ended early.",
            RunStatus.Stopped => "The write was stopped.",
            _ =>
                $"{state.Step?.Act.Words.Doing ?? "Going on"}{(state.Step?.Act.Touches.Count > 1 && state.At is { } at ? $": {at}" : "")}. Hands off.",
        };

    private static string Instruct(RunState state) =>
        state.Status switch
        {
            RunStatus.Finished when state.Plan.BringsBack => "Every copy was compared with what was saved.",
            RunStatus.Finished when !state.Plan.StartsThePhone => "It is as it was before. Go on with what follows.",
            RunStatus.Finished =>
                $"It comes up by itself now. {(state.Plan.Watch is { UnplugsAtRestart: true } ? "The cable may come out once it restarts" : "Leave the cable in until the set-up or the lock screen shows")}, then check.",
            RunStatus.Waiting => "The run waits, for as long as it takes. Nothing is being written.",
            RunStatus.Failed or RunStatus.Stopped => state.PhoneNow,
            _ => $"Do not move the phone or the cable. Next step: {NextForHands(state)}.",
        };

    private static string NextForHands(RunState state) =>
        state.Plan.Steps.FirstOrDefault(step => step.Act.By is ActBy.Hands or ActBy.Phone && !state.Done.Contains(step.Number))?.Title
            is { } title
            ? char.ToLowerInvariant(title[0]) + title[1..]
            : "the check";

    private static string BandOf(RunState state, DateTimeOffset now)
    {
        if (state.Status is not (RunStatus.Queued or RunStatus.Writing) || state.Began is not { } began)
            return "";
        var steps = state.Plan.Steps.Where(step => !step.Act.FollowsTheRun).ToList();
        var slow = began.AddSeconds(steps.Sum(step => step.Seconds.Slow));
        return $"usual end {Say.When(began.AddSeconds(steps.Sum(step => step.Seconds.Typical)), now)}, slow {Say.When(slow, now)}{(state.Plan.JobsBehind > 0 ? $"; learned from {state.Plan.JobsBehind} jobs here" : "")}";
    }

    private static PartitionLook Look(RunState state, string partition)
    {
        var use = state.UseOf(partition);
        var fill = use switch
        {
            PartitionUse.Writing => state.BytesOf(partition) is > 0 and var bytes ? (double)state.BytesSentInStep / bytes : 0,
            PartitionUse.Written or PartitionUse.Erased => 1,
            _ => 0,
        };
        return new PartitionLook(partition, PartitionStripTagHelper.CssClass(use), Math.Round(fill, 4));
    }
}
