using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;

namespace Junctra.Web.Writing;

/// <summary>What somebody may do to a run that goes on: ask it to stop, and say what the phone shows after a step for hands.</summary>
public sealed class RunActs(RunJournal journal, JobStore store, JunctraDb db)
{
    /// <summary>Asks the writer to end the run after the image at hand; refused where stopping would harm the phone.</summary>
    public async Task<ActResult> StopAsync(JobView job, RunState? state, bool isNoReturn, string who, CancellationToken cancel)
    {
        if (state?.Status.IsOpen() != true)
            return ActResult.Refuse("No write is going on: there is nothing to stop.");
        if (isNoReturn)
            return ActResult.Refuse(
                "The boot chain is being written. It must be finished: a half-written one leaves only chip emergency mode."
            );
        if (!await journal.AskToStopAsync(job.LastRun!.Id, who, cancel))
            return ActResult.Refuse("The write has ended meanwhile.");
        store.Note(job.Row.Id, who, "Asked to stop after the image at hand.");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did();
    }

    /// <summary>Says what the phone shows after a step for hands.</summary>
    /// <param name="job">The job.</param>
    /// <param name="state">Its run.</param>
    /// <param name="hands">What hands are asked for, or null.</param>
    /// <param name="said">What was said, and of which step.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> SayAsync(JobView job, RunState? state, HandsOrder? hands, HandsSaid said, CancellationToken cancel)
    {
        if (hands is null || state?.Step?.Number != said.Step)
            return ActResult.Refuse("The run does not wait for that step any more. Look at it again.");
        if (PhoneModes.Parse(said.Shows) is not { } mode || !hands.Allows(mode, said.Done))
            return ActResult.Refuse("Say what the phone shows.");
        // Where a step is to bring it into a mode, whoever says that it shows just that has said that it is done.
        if (state.Step.Act is BringInto && hands.Choices.Any(choice => choice.Done && choice.Shows == mode))
            said = said with { Done = true };
        if (said.Done && hands.WhyNot(said.Typed) is { } why)
            return ActResult.Refuse(why);
        return await journal.SayAsync(job.LastRun!.Id, said, cancel)
            ? ActResult.Did()
            : ActResult.Refuse("Somebody else was first. Look at it again.");
    }
}
