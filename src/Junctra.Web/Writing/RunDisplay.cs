using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Planning;
using Junctra.Core.Runs;
using Junctra.Web.Drawing;

namespace Junctra.Web.Writing;

/// <summary>One line of the journal in words.</summary>
public sealed record JournalLine(long Seq, string At, string Text);

/// <summary>One partition as the strip shows it.</summary>
public sealed record PartitionLook(string Name, string Use, double Fill);

/// <summary>A run in the words and figures of the write station; the page and the live stream show the same.</summary>
public sealed record RunDisplay(
    long Seq, string Status, string Headline, string Instruction, string Sent, double Progress, string Band, string Screen, string IfBroken,
    bool NoReturn, double QuietSeconds, IReadOnlyList<PartitionLook> Partitions)
{
    /// <summary>Puts a run into words.</summary>
    /// <param name="state">The run.</param>
    /// <param name="figures">The shop's figures, for how long a step may be quiet.</param>
    /// <param name="now">Now.</param>
    public static RunDisplay Of(RunState state, Figures figures, DateTimeOffset now) => new(
        state.LastSeq,
        state.Status.ToString().ToLowerInvariant(),
        Head(state),
        Instruct(state),
        $"{state.Accepted.Count} of {state.Plan.Steps.Count(s => s.Kind == StepKind.Write)} images accepted; {ByteSize.Text(state.BytesDone + state.BytesSentInStep)} of {ByteSize.Text(state.Plan.BytesToSend)} sent",
        Math.Round(state.Progress, 4),
        BandOf(state, now),
        state.ScreenNow,
        state.Step?.IfBroken ?? "",
        state.Step?.NoReturn ?? false,
        state.Status.IsOpen() && state.Step is { } step ? figures.UnusualQuietSeconds(step) : 0,
        [.. state.Plan.Steps.Where(s => s.Partition is not null).Select(s => Look(state, s))]);

    /// <summary>A journal entry in words, or null when it is only progress.</summary>
    public static JournalLine? Line(JournalEntry entry)
    {
        var text = entry.Event switch
        {
            RunQueued e => $"begun by {e.By} at port {e.Port}",
            StepStarted e => e.Title,
            TargetConfirmed e => $"serial {e.Target.Serial}, {e.Target.ModelCode}, floor {e.Target.RollbackFloor?.ToString() ?? "none"}, {e.Target.LockState}: as judged",
            PieceAccepted { Pieces: > 1 } e => $"piece {e.Piece} of {e.Pieces} accepted, {ByteSize.Text(e.Bytes)}",
            ImageAccepted e => $"the phone accepted {e.Partition} whole",
            PartitionErased e => $"the phone erased {e.Partition}",
            RestartAsked e => e.ToBootloader ? "the phone restarts its bootloader" : "the phone restarts into the system",
            PhoneBack e => $"the phone is back: serial {e.Serial}",
            PhoneSaid e => $"the phone says: {e.Text}",
            RunFinished => "all accepted and restarted",
            RunStopped e => $"stopped: {e.By} asked for it",
            RunFailed e => e.What,
            _ => null,
        };
        return text is null ? null : new JournalLine(entry.Seq, entry.At.ToLocalTime().ToString("HH:mm:ss"), text);
    }

    private static string Head(RunState state) => state.Status switch
    {
        RunStatus.Queued => "Waiting for the writer. Hands off.",
        RunStatus.Finished => "Written. The phone restarts.",
        RunStatus.Failed => "The write ended early.",
        RunStatus.Stopped => "The write was stopped.",
        _ => $"{Doing(state.Step)}. Hands off.",
    };

    private static string Doing(PlanStep? step) => step?.Kind switch
    {
        StepKind.Verify => "Verifying the package",
        StepKind.Reread => "Reading the phone once more",
        StepKind.Write => $"Writing {step.Partition}",
        StepKind.Erase => "Erasing the user data",
        StepKind.RestartBootloader => "Restarting the bootloader",
        StepKind.RestartSystem => "Restarting into the system",
        _ => "Going on",
    };

    private static string Instruct(RunState state) => state.Status switch
    {
        RunStatus.Finished => "First boot takes 2 to 5 minutes, up to 10 is slow. Leave the cable in until the set-up shows, then check.",
        RunStatus.Failed or RunStatus.Stopped => state.PhoneNow,
        _ => "Do not move the phone or the cable. Next for your hands: the first boot.",
    };

    private static string BandOf(RunState state, DateTimeOffset now)
    {
        if (!state.Status.IsOpen() || state.Began is not { } began) return "";
        var steps = state.Plan.Steps.Where(step => step.Kind is not (StepKind.FirstBoot or StepKind.Check)).ToList();
        var slow = began.AddSeconds(steps.Sum(step => step.Seconds.Slow));
        return $"usual end {Say.When(began.AddSeconds(steps.Sum(step => step.Seconds.Typical)), now)}, slow {Say.When(slow, now)}";
    }

    private static PartitionLook Look(RunState state, PlanStep step)
    {
        var use = state.UseOf(step.Partition!);
        var fill = use switch
        {
            PartitionUse.Writing => step.Bytes == 0 ? 0 : (double)state.BytesSentInStep / step.Bytes,
            PartitionUse.Written or PartitionUse.Erased => 1,
            _ => 0,
        };
        return new PartitionLook(step.Partition!, PartitionStripTagHelper.CssClass(use), Math.Round(fill, 4));
    }
}
