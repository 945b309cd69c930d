using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>The stations of a job of practice.</summary>
public enum JobStage
{
    /// <summary>What is wrong with it.</summary>
    Finding,

    /// <summary>It is brought into the mode in which it is read and written.</summary>
    Route,

    /// <summary>Which package.</summary>
    Match,

    /// <summary>Which way.</summary>
    Way,

    /// <summary>Its plan, and what stands before it.</summary>
    Plan,

    /// <summary>The write.</summary>
    Write,

    /// <summary>What was read afterwards.</summary>
    Check,

    /// <summary>What the customer is told.</summary>
    HandBack,
}

/// <summary>A gate of a job of practice, and what was said or seen of what it asks for.</summary>
/// <param name="Gate">The gate.</param>
/// <param name="Said">What was said, in words.</param>
/// <param name="Question">What may be answered.</param>
public sealed record AskedGate(Gate Gate, string Said, PracticeQuestion Question);

/// <summary>A part of a job of practice: questions, or hands.</summary>
/// <param name="Stage">Its station.</param>
/// <param name="Questions">Its questions; empty where hands are practised.</param>
public sealed record JobPart(JobStage Stage, IReadOnlyList<PracticeQuestion> Questions)
{
    /// <summary>The gates that its questions ask for, in their order; empty elsewhere.</summary>
    public IReadOnlyList<AskedGate> Gates { get; init; } = [];

    /// <summary>The way into a mode, where it is one.</summary>
    public KeyPractice? Keys { get; init; }

    /// <summary>The write, where it is one.</summary>
    public WritePractice? Write { get; init; }
}

/// <summary>A part of a job as somebody did it.</summary>
/// <param name="Answers">Ids of the answers, in the order of its questions; null where none was given.</param>
/// <param name="Acts">What was done at the phone.</param>
/// <param name="Said">When it was said that a step is done.</param>
/// <param name="Hints">When a hint was asked for.</param>
/// <param name="TookMs">How long it took, in milliseconds.</param>
public sealed record PartDone(
    IReadOnlyList<string?> Answers,
    IReadOnlyList<TrialAct> Acts,
    IReadOnlyList<long> Said,
    IReadOnlyList<long> Hints,
    long TookMs
)
{
    /// <summary>A part of questions.</summary>
    public static PartDone Answered(IReadOnlyList<string?> answers, long tookMs) => new(answers, [], [], [], tookMs);
}

/// <summary>A whole job of practice: its stations in order, and how somebody went through them.</summary>
public sealed class JobPractice
{
    private const int WrongCosts = 25,
        SecondCosts = 8,
        HintCosts = 10,
        NotDone = 60;

    /// <summary>Sets a job up.</summary>
    /// <param name="exercise">An exercise with a <see cref="JobTask"/>.</param>
    /// <param name="catalogue">Models and their ways.</param>
    /// <exception cref="ArgumentException">It is none, or cannot be done.</exception>
    public JobPractice(Exercise exercise, ModelCatalogue catalogue)
    {
        var task = exercise.Task as JobTask ?? throw new ArgumentException($"{exercise.Id} is no job.");
        Job = new PracticeJob(exercise.Phone, task, catalogue);
        var parts = new List<JobPart>();
        if (Job.Finding is { Leading: not null } finding)
            parts.Add(new(JobStage.Finding, [JobQuestions.Finding(exercise.Id, finding)]));
        // A phone whose chip alone is to answer is opened in the run, not brought there by keys.
        if (Job.PlannedIn != exercise.Phone.Mode && Job.PlannedIn != PhoneMode.Emergency)
            parts.Add(new(JobStage.Route, []) { Keys = new KeyPractice(exercise with { Task = new KeyTask(Job.PlannedIn) }, catalogue) });
        if (Job.Packages.Count > 0)
            parts.Add(new(JobStage.Match, [JobQuestions.Match(exercise.Id, Job)]));
        parts.Add(new(JobStage.Way, [JobQuestions.Way(exercise.Id, Job)]));
        if (JobQuestions.Gates(Job) is { Count: > 0 } gates)
            parts.Add(new(JobStage.Plan, [.. gates.Select(gate => gate.Question)]) { Gates = gates });
        parts.Add(new(JobStage.Write, []) { Write = new WritePractice(Job.Plan, Job.Case) });
        if (Job.Plan.IsChecked)
            parts.Add(new(JobStage.Check, [JobQuestions.Check(Job)]));
        if (JobQuestions.HandBack(Job) is { } back)
            parts.Add(new(JobStage.HandBack, [back]));
        Parts = parts;
    }

    /// <summary>The job.</summary>
    public PracticeJob Job { get; }

    /// <summary>Its parts, in order.</summary>
    public IReadOnlyList<JobPart> Parts { get; }

    /// <summary>How somebody went through it.</summary>
    /// <param name="done">The parts that were done, in their order.</param>
    /// <param name="hasEnded">Whether it was given up.</param>
    public PracticeScore Score(IReadOnlyList<PartDone> done, bool hasEnded = false)
    {
        var lost = new List<LostPoints>();
        var (at, reached) = (0L, 0);
        foreach (var (part, one) in Parts.Zip(done))
        {
            var (isDone, points) = Judge(part, one, hasEnded);
            lost.AddRange(points.Select(point => point with { AtMs = at + point.AtMs }));
            at += one.TookMs;
            if (!isDone || lost.Exists(point => point.For == LostFor.Safety))
                break;
            reached++;
        }

        if (hasEnded && reached < Parts.Count && lost.TrueForAll(point => point.For != LostFor.Safety))
            lost.Add(
                new(LostFor.Aim, NotDone, at, $"The job ended at {Words(Parts[reached].Stage)}.", "A job is done when it is handed back.")
            );
        return new PracticeScore(reached == Parts.Count, at, lost);
    }

    /// <summary>How far somebody is: the part that comes next; null where all are done, or it is spoiled.</summary>
    public JobPart? Next(IReadOnlyList<PartDone> done) =>
        done.Count >= Parts.Count || !Score(done).IsSafe || Parts.Zip(done).Any(pair => !Judge(pair.First, pair.Second, true).IsDone)
            ? null
            : Parts[done.Count];

    private static (bool IsDone, IReadOnlyList<LostPoints> Lost) Judge(JobPart part, PartDone done, bool hasEnded)
    {
        var hints = done.Hints.Select(at => new LostPoints(
            LostFor.Hint,
            HintCosts,
            at,
            "A hint was asked for.",
            "A hint costs points, and is worth it."
        ));
        if (part.Keys is { } keys)
        {
            var score = keys.At(done.Acts, done.Hints, done.TookMs, hasEnded).Score;
            return (score.Reached, [.. score.Lost.Where(one => one.For != LostFor.Aim)]);
        }

        if (part.Write is { } write)
        {
            var view = write.At(done.Acts, done.Said, done.TookMs);
            return (view.Reached, [.. view.Lost, .. hints]);
        }

        var each = part
            .Questions.Select((question, i) => (Question: question, Answer: done.Answers.ElementAtOrDefault(i)))
            .SelectMany(one => one.Question.Lost(one.Answer, done.TookMs, WrongCosts, SecondCosts));
        return (true, [.. each, .. hints, .. PracticeQuestion.Slow(done.TookMs, part.Questions.Count)]);
    }

    /// <summary>What perfect hands do in each part.</summary>
    /// <param name="answerMs">How long they take for a question, in milliseconds.</param>
    public IReadOnlyList<PartDone> Perfect(long answerMs) => [.. Parts.Select(part => Perfect(part, answerMs))];

    private static PartDone Perfect(JobPart part, long answerMs)
    {
        if (part.Keys is { } keys)
        {
            var (acts, lasts) = keys.Perfect();
            return new PartDone([], acts, [], [], lasts);
        }

        if (part.Write is { } write)
        {
            var hands = write.Perfect();
            return new PartDone([], hands.Acts, hands.Said, [], hands.LastsMs);
        }

        return PartDone.Answered(
            [.. part.Questions.Select(question => question.Answers.First(answer => answer.Worth == AnswerWorth.Right).Id)],
            answerMs * part.Questions.Count
        );
    }

    /// <summary>A station, as it follows “at”.</summary>
    public static string Words(JobStage stage) =>
        stage switch
        {
            JobStage.Finding => "the finding",
            JobStage.Route => "the route",
            JobStage.Match => "the match",
            JobStage.Way => "the way",
            JobStage.Plan => "the plan",
            JobStage.Write => "the write",
            JobStage.Check => "the check",
            _ => "the hand-back",
        };
}
