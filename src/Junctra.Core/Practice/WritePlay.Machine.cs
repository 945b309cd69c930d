using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <content>The steps in which hands are off: what the computer does, and what is done to the phone meanwhile.</content>
internal sealed partial class WritePlay
{
    // Of an image that is being sent, so much is in the phone's memory before it is told to write it.
    private const double HeldBack = 0.2;

    private bool ByMachine(PlanStep step)
    {
        if (step.Act.By == ActBy.Link && !IsPluggedIn())
            return false;
        Write(new StepStarted(step.Number, step.Title));
        phone = WritePractice.Free(phone);
        var length = WritePractice.LengthOf(step);
        var end = Math.Min(nowMs, at + length);
        var during = acts.Where(act => act.AtMs >= at && act.AtMs < at + length && act.AtMs <= nowMs && IsTouch(act))
            .OrderBy(act => act.AtMs)
            .ToList();
        if (during.Find(act => act.Happening is not (CableOut or BatteryOut) || step.Act.By != ActBy.Link) is { } touch)
            Lose(
                LostFor.Order,
                Touched,
                touch.AtMs,
                $"The phone was handled during “{step.Title}”.",
                "While a computer works on a phone, hands are off: keys, cable and battery stay as they are."
            );
        if (step.Act.By == ActBy.Link && during.Find(act => act.Happening is CableOut or BatteryOut) is { } broken)
            return Break(step, broken, (double)(broken.AtMs - at) / length);
        // No phone is needed by what this computer does alone; what is done to it meanwhile is done.
        if (step.Act.By == ActBy.Computer)
            phone = practice.Twin.Run(phone, during.Where(act => act.Happening is not KeyDown).Select(act => act.Happening));
        var share = (double)(end - at) / length;
        Tell(step, share);
        phone = Through(step, share);
        sinceBegin += step.Seconds.Typical * share;
        if (share < 1)
        {
            (due, at) = (at + length - nowMs, nowMs);
            return false;
        }

        at += length;
        Write(new StepDone(step.Number));
        phone = practice.Settled(phone);
        return true;
    }

    private bool Break(PlanStep step, TrialAct broken, double share)
    {
        Tell(step, share);
        phone = practice.Settled(practice.Twin.Next(Through(step, share), broken.Happening));
        at = broken.AtMs;
        var what = broken.Happening is CableOut ? "The cable came out" : "The battery came out";
        if (run.HasTouchedPhone)
            Lose(
                LostFor.Safety,
                PracticeScore.Full,
                at,
                $"{what} during “{step.Title}”. {practice.Plan.RiskOf(step, run.At).Sentence}".TrimEnd(),
                Unplugging.Of(phone.Mode, run).Why
            );
        else
            Lose(LostFor.Aim, BrokenBefore, at, $"{what} during “{step.Title}”: nothing was written.", Unplugging.Of(phone.Mode, run).Why);
        Write(new RunFailed($"{what}.", RunAdvice.Again(run)));
        return false;
    }

    private static bool IsTouch(TrialAct act) => act.Happening is CableOut or BatteryOut or KeyDown or CableIn or CardTakenOut;

    // What the phone has been told of a step, and has accepted, by the share of it that has passed.
    private void Tell(PlanStep step, double share)
    {
        var act = step.Act;
        if (act is ConfirmTarget && share >= 1)
            Write(new TargetConfirmed(practice.Plan.Target));
        if (act is RestartInto restart && share >= 1)
            Write(new RestartAsked(step.Number, restart.ToBootloader));
        var written = act.Touches.Where(touch => !touch.Erases).ToList();
        var left = share * written.Sum(SizeOf);
        foreach (var touch in written)
        {
            var name = act.Touches.Count > 1 ? touch.Partition : null;
            var sent = Math.Min(left, SizeOf(touch));
            Write(new BytesSent(step.Number, (long)sent, name));
            if (sent > HeldBack * SizeOf(touch))
                Write(new WriteAsked(step.Number, 1, 1, name));
            if (sent < SizeOf(touch) && share < 1)
                return;
            Write(new PieceAccepted(step.Number, 1, 1, touch.Bytes, name));
            Write(new ImageAccepted(step.Number, touch.Partition, ""));
            left -= sent;
        }

        foreach (var touch in act.Touches.Where(touch => touch.Erases && share >= 1))
            Write(new PartitionErased(step.Number, touch.Partition));
    }

    private static double SizeOf(PartitionTouch touch) => Math.Max(1, touch.Bytes > 0 ? touch.Bytes : touch.ExpandedBytes);

    private TwinState Through(PlanStep step, double share)
    {
        var happenings = step.Act.OnTwin(practice.Scene, phone).ToList();
        var state = phone;
        if (share >= 1)
            return practice.Twin.Run(state, happenings);
        var left = (long)(share * happenings.OfType<TimePasses>().Sum(time => time.Milliseconds));
        if (left == 0)
            return practice.Twin.Run(state, happenings.Take((int)(share * happenings.Count)));
        foreach (var happening in happenings)
        {
            if (happening is not TimePasses time)
            {
                state = practice.Twin.Next(state, happening);
                continue;
            }

            state = practice.Twin.Next(state, new TimePasses(Math.Min(left, time.Milliseconds)));
            if ((left -= time.Milliseconds) <= 0)
                break;
        }

        return state;
    }
}
