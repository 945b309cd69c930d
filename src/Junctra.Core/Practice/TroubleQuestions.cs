using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>What is asked where a job goes wrong; what is right comes of its plan, its gates, its run and its ladder.</summary>
internal static class TroubleQuestions
{
    private const int Remedies = 5;
    private const long MinuteMs = 60_000;

    /// <summary>What is tried next at a port that stays silent.</summary>
    public static PracticeQuestion WhichRemedy(Exercise exercise, QuestionTask task, ModelCatalogue catalogue)
    {
        var sign = catalogue.Links.Sign(task.Sign) ?? throw new ArgumentException($"{exercise.Id}: {task.Sign} is no sign at a port.");
        var ranked = LinkDoctor.Order(catalogue.Links, sign.Id, [], [.. task.Tried]);
        if (ranked.Count < 2)
            throw new ArgumentException($"{exercise.Id}: nothing is left to be tried.");
        return new PracticeQuestion(
            $"The computer’s list: {sign.Label}. What is tried next?",
            null,
            [
                .. ranked
                    .Take(Remedies)
                    .OrderBy(one => PracticeQuestion.Shuffled(exercise.Id, one.Remedy.Id))
                    .Select(one => new PracticeAnswer(
                        one.Remedy.Id,
                        one.Remedy.Label,
                        one == ranked[0] ? AnswerWorth.Right
                            : one.Rate >= ranked[0].Rate / 2 ? AnswerWorth.Second
                            : AnswerWorth.Wrong,
                        $"It helps in {one.Chance * 100:0} of 100, and takes {one.Remedy.Minutes:0.#} min."
                    )),
            ],
            "What is likely to help, and quick, is tried first."
        );
    }

    /// <summary>What is asked of a job.</summary>
    public static PracticeQuestion OfJob(Exercise exercise, QuestionTask task, ModelCatalogue catalogue)
    {
        var job = new PracticeJob(exercise.Phone, task.Job ?? throw new ArgumentException($"{exercise.Id} names no job."), catalogue);
        return task.Asks switch
        {
            Asked.MayBegin => MayBegin(job),
            Asked.AfterABreak => AfterABreak(exercise, task, job),
            Asked.WhatFollows => WhatFollows(exercise, job),
            _ => WhichRung(exercise, task, job, catalogue),
        };
    }

    // Gates that a person answers are answered as it was said; those that are computed stand as they are.
    private static PracticeQuestion MayBegin(PracticeJob job)
    {
        var gates = job.Gates.Where(gate => gate.Options.Count == 0).ToList();
        var closed = gates.FirstOrDefault(gate => !gate.Holds);
        return new PracticeQuestion(
            "May the write begin?",
            null,
            [
                new("yes", "Yes: begin", closed is null ? AnswerWorth.Right : AnswerWorth.Harmful, closed?.Why ?? ""),
                .. gates.Select(gate => new PracticeAnswer(
                    gate.Id.Value,
                    $"No: {gate.Title.ToLowerInvariant()}",
                    gate == closed ? AnswerWorth.Right
                        : gate.Holds ? AnswerWorth.Wrong
                        : AnswerWorth.Second,
                    gate.Why
                )),
            ],
            "Before anything irreversible every gate holds; there is no override."
        );
    }

    private static PracticeQuestion AfterABreak(Exercise exercise, QuestionTask task, PracticeJob job)
    {
        var write = new WritePractice(job.Plan, job.Case);
        var step = write.Steps.LastOrDefault(one =>
            one.Act.By == ActBy.Link
            && one.Act.Touches.Any(touch => !touch.Erases && (task.BrokeIn is null || touch.Partition == task.BrokeIn))
        ) ?? throw new ArgumentException($"{exercise.Id}: {task.BrokeIn ?? "nothing"} is not written by this job.");
        var hands = write.Perfect(step);
        var at = hands.LastsMs + (long)(WritePractice.LengthOf(step) * MiddleOf(step, task.BrokeIn));
        var view = write.At([.. hands.Acts, new TrialAct(at, new CableOut())], hands.Said, at + 1);
        var run = view.Run;
        var right = RunAdvice.Again(run);
        var judged = Unplugging.Of(view.Phone.Mode, run);
        var isGrave = job.Plan.RiskOf(run.Step, run.At).IsNoReturn;
        PracticeAnswer[] answers =
        [
            new("advice", right, AnswerWorth.Right, ""),
            new(
                "restart",
                "Hold the keys until it restarts, and see what it does",
                judged.May ? AnswerWorth.Wrong : AnswerWorth.Harmful,
                judged.May ? "It would start from what is half written." : judged.Why
            ),
            new(
                "begin",
                "Nothing was written: plug it in and begin again",
                isGrave ? AnswerWorth.Harmful : AnswerWorth.Wrong,
                $"{run.At ?? "Something"} was being written, and may be half there."
            ),
            new(
                "hand-back",
                "It shows the same as before: hand it back",
                AnswerWorth.Harmful,
                "It was written in part, and may not start."
            ),
        ];
        return new PracticeQuestion(
            $"The cable came out while {run.At ?? step.Title} was written. What is done?",
            write.Twin.ScreenOf(view.Phone),
            [.. answers.OrderBy(answer => PracticeQuestion.Shuffled(exercise.Id, answer.Id))],
            $"Nothing is written again by itself. {judged.Why}"
        );
    }

    // How far a step is when the middle of a partition is written.
    private static double MiddleOf(PlanStep step, string? partition)
    {
        var written = step.Act.Touches.Where(touch => !touch.Erases).ToList();
        var all = written.Sum(touch => (double)Math.Max(1, touch.Bytes));
        var before = written.TakeWhile(touch => partition is not null && touch.Partition != partition).Sum(touch => (double)touch.Bytes);
        var own = written.FirstOrDefault(touch => touch.Partition == partition)?.Bytes ?? written[^1].Bytes;
        return (partition is null ? all - own / 2.0 : before + own / 2.0) / all;
    }

    private static PracticeQuestion WhatFollows(Exercise exercise, PracticeJob job)
    {
        var write = new WritePractice(job.Plan, job.Case);
        // The first step for hands after something was written: what nobody may forget.
        var step = write
            .Steps.SkipWhile(one => !one.Act.Touches.Any(touch => !touch.Erases))
            .FirstOrDefault(one => one.Act.By == ActBy.Hands)
            ?? throw new ArgumentException($"{exercise.Id}: its run waits for no hands.");
        var before = write.Perfect(step);
        var view = write.At(before.Acts, before.Said, before.LastsMs + MinuteMs);
        var later = job.Plan.Steps.Where(one => one.Number > step.Number && one.Title != step.Title).DistinctBy(one => one.Title).Take(3);
        var restarted = write.Settled(write.Twin.Run(view.Phone, [new ForcedRestart()]));
        var comesUp = restarted.Mode is PhoneMode.System or PhoneMode.SetupWizard;
        PracticeAnswer[] answers =
        [
            new("step", step.Title, AnswerWorth.Right, ""),
            new(
                "start",
                "Let it start",
                comesUp ? AnswerWorth.Wrong : AnswerWorth.Harmful,
                comesUp ? "Its restart is held back for a reason." : $"It would come to {restarted.Mode.Label()}."
            ),
            .. later.Select(one => new PracticeAnswer($"step-{one.Number}", one.Title, AnswerWorth.Wrong, $"First: {step.Title}.")),
            new("done", "Nothing: everything was accepted, it is done", AnswerWorth.Wrong, "The run waits for hands."),
        ];
        return new PracticeQuestion(
            "Everything was accepted, and the run waits. What follows?",
            write.Twin.ScreenOf(view.Phone),
            [.. answers.OrderBy(answer => PracticeQuestion.Shuffled(exercise.Id, answer.Id))],
            "Steps are done in their order; a restart that is held back is let go only by the step that says so."
        );
    }

    private static PracticeQuestion WhichRung(Exercise exercise, QuestionTask task, PracticeJob job, ModelCatalogue catalogue)
    {
        var write = new WritePractice(job.Plan, job.Case);
        var hands = write.Perfect();
        var run = write.At(hands.Acts, hands.Said, hands.LastsMs).Run;
        if (run.FinishedAt is not { } finished)
            throw new ArgumentException($"{exercise.Id}: its job is not written to its end.");
        var figures = catalogue.Figures;
        var clock = StageClock.Of(run, figures, finished.AddMinutes(2 * figures.FirstBootStuckMinutes))
            ?? throw new ArgumentException($"{exercise.Id}: the phone does not start by its job.");
        var climbed = task.Tried.Select(name => EnumNames.Parse<Rung>(name) ?? throw new ArgumentException($"{name} is no rung.")).ToList();
        var looping = job.Case with { Phone = job.Phone.Supposing(FactName.Mode, PhoneMode.BootLoop.Id()) };
        var ladder = BootLadder.Of(job.Plan, climbed, clock, looping, figures);
        var next = ladder.Next ?? throw new ArgumentException($"{exercise.Id}: no rung is left.");
        return new PracticeQuestion(
            $"It was written, and loops since. {(climbed.Count == 0 ? "It was given its time." : $"Tried: {string.Join(", ", climbed.Select(rung => rung.Title().ToLowerInvariant()))}.")} What next?",
            write.Twin.ScreenOf(TwinFactory.Of(looping.Phone, job.Model, PhoneMode.BootLoop, PracticePhone.Computer)),
            [
                .. ladder
                    .Rungs.Where(rung => rung.State is RungState.Next or RungState.Later)
                    .Select(rung => new PracticeAnswer(
                        EnumNames.Of(rung.Rung),
                        rung.Rung.Title(),
                        rung == next ? AnswerWorth.Right
                            : rung.Rung is Rung.WipeData or Rung.WriteAgain && !job.Task.ErasesData ? AnswerWorth.Harmful
                            : AnswerWorth.Second,
                        rung == next ? "" : $"It costs: {rung.Rung.Costs()}."
                    )),
            ],
            "With a phone that does not come up, the rung that costs the customer least comes first."
        );
    }
}
