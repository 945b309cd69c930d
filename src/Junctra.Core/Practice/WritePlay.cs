using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>One look at a write of practice: all that was done, played from its beginning.</summary>
internal sealed class WritePlay(WritePractice practice, IReadOnlyList<TrialAct> acts, IReadOnlyList<long> said, long nowMs)
{
    private const string By = "practice";
    private const int Detour = 10,
        Touched = 10,
        BrokenBefore = 60;

    // Of an image that is being sent, so much is in the phone's memory before it is told to write it.
    private const double HeldBack = 0.2;

    private readonly List<JournalEntry> journal = [];
    private readonly List<LostPoints> lost = [];
    private readonly TwinKey keys = new();
    private RunState run = RunState.Of(practice.Plan, []);
    private TwinState phone = practice.Start;
    private string? wants;
    private bool wantsWord;
    private long at;
    private double sinceBegin;
    private long? due;

    public WriteView Play()
    {
        Write(new RunQueued(By, practice.Plan.NeedsLink ? By : null));
        Write(new RunStarted(By));
        foreach (var step in practice.Steps)
            if (!(step.Act.By == ActBy.Hands ? ByHands(step) : ByMachine(step)))
                return View();
        Write(new RunFinished());
        phone = practice.Settled(WritePractice.Free(phone));
        return View();
    }

    private WriteView View() => new(run, journal, phone, [.. lost.OrderBy(one => one.AtMs)], wants, wantsWord, at, due);

    private void Write(RunEvent what)
    {
        var entry = new JournalEntry(journal.Count + 1, DateTimeOffset.UnixEpoch.AddSeconds(sinceBegin), what);
        journal.Add(entry);
        run = run.After(entry);
    }

    private void Lose(LostFor what, int points, long when, string why, string rule) =>
        lost.Add(new LostPoints(what, points, when, why, rule));

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

    private bool IsPluggedIn()
    {
        if (phone.Cable == CableTo.Computer)
            return true;
        wants = phone.Cable == CableTo.Charger ? "Take the charger out, and plug the computer's cable in." : "Plug the cable in.";
        (TwinState State, long At)? there = null;
        var from = phone;
        phone = TwinPlay.Through(practice.Twin, from, Since(), Math.Max(0, nowMs - at), Look);
        if (there is not { } plugged)
        {
            (at, due) = (nowMs, practice.Twin.NextDueMs(phone));
            return false;
        }

        (phone, at, wants) = (plugged.State, at + plugged.At + 1, null);
        return true;

        void Look(TwinState now)
        {
            if (there is null && now.Cable == CableTo.Computer)
                there = (now, now.NowMs - from.NowMs);
        }
    }

    private IReadOnlyList<TrialAct> Since() =>
        [.. acts.Where(act => act.AtMs >= at && act.AtMs <= nowMs).Select(act => act with { AtMs = act.AtMs - at })];

    private bool ByHands(PlanStep step)
    {
        Write(new StepStarted(step.Number, step.Title));
        Write(new HandsWanted(step.Number, step.Title, phone.Mode.Id()));
        (wants, wantsWord) = (step.Title, !step.Act.IsAtThePhone);
        if (!(step.Act.IsAtThePhone ? AtThePhone(step) : IsSaid(step)))
            return false;
        Write(new HandsSaid(step.Number, By, phone.Mode.Id(), true));
        Write(new StepDone(step.Number));
        foreach (var touch in step.Act.Touches.Where(touch => touch.Erases))
            Write(new PartitionErased(step.Number, touch.Partition));
        (wants, wantsWord) = (null, false);
        return true;
    }

    private bool IsSaid(PlanStep step)
    {
        if (said.Where(one => one >= at && one <= nowMs).Order().Cast<long?>().FirstOrDefault() is not { } when)
        {
            at = nowMs;
            return false;
        }

        phone = practice.Settled(practice.Twin.Run(phone, step.Act.OnTwin(practice.Scene, phone).ToList()));
        sinceBegin += step.Seconds.Typical;
        at = when + 1;
        return true;
    }

    // Done is what the perfect hands of the rehearsal bring about, whichever way hands took.
    private bool AtThePhone(PlanStep step)
    {
        var from = phone;
        var onTheWay = new HashSet<PhoneMode> { from.Mode, PhoneMode.Starting, PhoneMode.Unknown };
        var target = from;
        foreach (var happening in step.Act.OnTwin(practice.Scene, from))
            onTheWay.Add((target = practice.Twin.Next(target, happening)).Mode);
        var shows = target.Mode;
        target = practice.Settled(target);
        onTheWay.Add(target.Mode);
        var meant = Irreversible.Between(from, target)?.Cost;
        (TwinState State, long At)? there = null;
        var (isSpoiled, mode) = (false, from.Mode);
        // A menu that shows again after its work looks like one at which nobody has done anything.
        var hands = Since().Where(act => act.Happening is KeyUp or Choose).ToList();
        phone = TwinPlay.Through(practice.Twin, from, Since(), Math.Max(0, nowMs - at), Look);
        if (there is not { } done)
        {
            sinceBegin += (nowMs - at) / 1000.0;
            (at, due) = (nowMs, practice.Twin.NextDueMs(phone));
            return false;
        }

        sinceBegin += done.At / 1000.0;
        (phone, at) = (done.State, at + done.At + 1);
        return !isSpoiled;

        void Look(TwinState now)
        {
            if (there is not null || isSpoiled)
                return;
            var when = at + now.NowMs - from.NowMs;
            if (Irreversible.Between(from, now) is { } harm && harm.Cost != meant && now.Task is null)
            {
                isSpoiled = true;
                Lose(LostFor.Safety, PracticeScore.Full, when, harm.Cost, harm.Rule);
                return;
            }

            if (IsThere(now, out var settled))
            {
                there = (settled, now.NowMs - from.NowMs);
                return;
            }

            if (now.Mode != mode && !onTheWay.Contains(now.Mode))
                Lose(LostFor.Order, Detour, when, $"The phone went into {now.Mode.Label()}.", $"The step was: {step.Title}.");
            mode = now.Mode;
        }

        bool IsThere(TwinState now, out TwinState settled)
        {
            settled = now;
            if (step.Act is BringInto)
                return now.Mode == shows;
            // A menu's work is waited for by nobody here: what was chosen is chosen.
            if (!now.Keys.IsEmpty || now.Asks is not null || !hands.Exists(act => act.AtMs <= now.NowMs - from.NowMs))
                return false;
            settled = practice.Settled(now);
            return settled.Mode == target.Mode && settled.Message == target.Message && keys.Of(settled) == keys.Of(target);
        }
    }
}
