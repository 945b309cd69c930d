using System.Globalization;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>One look at a write of practice: all that was done, played from its beginning.</summary>
internal sealed partial class WritePlay(WritePractice practice, IReadOnlyList<TrialAct> acts, IReadOnlyList<long> said, long nowMs)
{
    private const string By = "practice";
    private const int Detour = 10,
        Touched = 10,
        BrokenBefore = 60,
        MostForTime = 20;

    // What setting a tool down takes, and reading what is wanted; at twice the slow figure all that time is worth is lost.
    private const double ReadSeconds = 10;

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

    // Hands are measured against the step's band, or against perfect hands where these need longer. All that time costs in a write has
    // one limit: whoever is slow in every step is slow once.
    private void LoseForTime(PlanStep step, long tookMs, long perfectMs = 0)
    {
        var slow = Math.Max(step.Seconds.Slow, perfectMs / 1000.0) + ReadSeconds;
        var left = MostForTime - lost.Where(one => one.For == LostFor.Time).Sum(one => one.Points);
        if (left > 0 && tookMs / 1000.0 > slow)
            Lose(
                LostFor.Time,
                Math.Min(left, (int)Math.Ceiling(MostForTime * Math.Min(1, (tookMs / 1000.0 / slow) - 1))),
                at + tookMs,
                string.Create(CultureInfo.InvariantCulture, $"“{step.Title}” took {tookMs / 1000.0:0} s."),
                string.Create(CultureInfo.InvariantCulture, $"Within {slow:0} s nothing is lost.")
            );
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
        LoseForTime(step, when - at);
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
        var (shows, perfectMs) = (target.Mode, target.NowMs - from.NowMs);
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
        if (!isSpoiled)
            LoseForTime(step, done.At, perfectMs);
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
