using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Runs;

/// <summary>
/// The clock that applies to a write at a moment: bytes that are to move, the phone's own writing, a restart, or this computer's work; each
/// has its own time after which silence is unusual, and after which it is a fault (specification: section 16 of the job).
/// </summary>
/// <param name="Name">Which clock, in a word or two.</param>
/// <param name="Words">What it says, in a sentence.</param>
/// <param name="WarnSeconds">Seconds of silence that are unusual; null where none are.</param>
/// <param name="FaultSeconds">Seconds of silence that are a fault; null where none are.</param>
public sealed record RunClock(string Name, string Words, double? WarnSeconds, double? FaultSeconds)
{
    /// <summary>The clock of a run; null where nothing goes on.</summary>
    /// <param name="run">The run.</param>
    /// <param name="figures">The shop's figures.</param>
    public static RunClock? Of(RunState run, Figures figures)
    {
        if (run is not { Status: RunStatus.Writing, Step: { } step })
            return null;
        if (step.Act.By == ActBy.Computer)
            return new("This computer", "This computer works; the phone has nothing to do, and no time is set for it.", null, null);
        if (run.Pieces.Asked > run.Pieces.Accepted && run.At is { } at)
            return Commit($"The phone writes {at}", run.BytesOf(at) / Math.Max(1, run.Pieces.Of), figures);
        if (step.Act is ErasePartition or RewriteLayout)
            return Commit("The phone erases", 0, figures);
        if (step.Act is RestartInto)
            return new(
                "Restart",
                $"It restarts: usually {figures.RestartSeconds.Typical:0} s, slowly {figures.RestartSeconds.Slow:0} s; after {figures.RestartFaultSeconds:0} s it counts as gone.",
                figures.RestartSeconds.Slow,
                figures.RestartFaultSeconds
            );
        return new(
            "Transfer",
            $"Bytes are to move: none taken for {figures.TransferStallWarnSeconds:0} s is a stall, for {figures.TransferStallFaultSeconds:0} s a fault. A bar that moves is fine, however slow.",
            figures.TransferStallWarnSeconds,
            figures.TransferStallFaultSeconds
        );
    }

    private static RunClock Commit(string what, long bytes, Figures figures)
    {
        var (usual, fault) = (Math.Max(1, figures.CommitSeconds(bytes)), figures.CommitFaultSeconds(bytes));
        var warn = Math.Min(fault, Math.Max(figures.TransferStallWarnSeconds, usual * figures.CommitWarnTimes));
        return new(
            "Commit",
            $"{what}, and says nothing meanwhile: usually {usual:0} s; from {warn:0} s on that is unusual, after {fault:0} s a fault.",
            warn,
            fault
        );
    }
}
