using Junctra.Core.Facts;

namespace Junctra.Core.Runs;

/// <summary>Whether a phone may be unplugged now: yes, unless a write has begun (specification: section 7.2 of the job).</summary>
/// <param name="May">Whether it may.</param>
/// <param name="Why">Why, in a sentence.</param>
public sealed record Unplugging(bool May, string Why)
{
    /// <summary>Judges it.</summary>
    /// <param name="now">Where the phone is.</param>
    /// <param name="run">The write that goes on, or that ended early and after which nobody has read the phone; null where there is
    /// none.</param>
    public static Unplugging Of(PhoneMode now, RunState? run) =>
        (run?.Status, now) switch
        {
            (RunStatus.Queued, _) => new Unplugging(false, "A write is about to begin."),
            (RunStatus.Writing, _) => new Unplugging(false, "A write has begun. Touch neither cable nor keys until it has ended."),
            (RunStatus.Waiting, _) => new Unplugging(true, "Nothing is being written: the run waits for hands. Do what its step says."),
            (not null, _) when run.IsInDoubt && run.Plan.RiskOf(run.Step, run.At).IsNoReturn => new Unplugging(
                false,
                $"The write broke off in {run.At ?? run.Step!.Title}, without which the phone does not start. Leave cable and power as they are. {run.Next}".TrimEnd()
            ),
            (RunStatus.Finished, PhoneMode.Starting) when run?.Plan is { Writes: true, Watch: not { UnplugsAtRestart: true } } => new(
                false,
                "It starts for the first time. By shop policy the cable stays in until it has booted."
            ),
            (_, PhoneMode.UpdateRunning) => new Unplugging(false, "An update is being put in. Touch neither cable nor keys."),
            (_, PhoneMode.Download) => new Unplugging(true, "Nothing is being written. “Do not unplug” shows even then."),
            _ => new Unplugging(true, "Nothing is being written."),
        };
}
