using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>An exercise tried out.</summary>
/// <param name="Exercise">It.</param>
/// <param name="Points">What perfect hands score.</param>
/// <param name="Problems">What is wrong with it; empty where it can be solved, and failed.</param>
public sealed record CheckedExercise(Exercise Exercise, int Points, IReadOnlyList<string> Problems);

/// <summary>
/// Proves that an exercise can be solved by perfect hands and failed by the mistakes that it warns of, and by doing nothing.
/// </summary>
public static class ExerciseCheck
{
    // Perfect hands lose nothing but, in a menu whose words vary, a moment.
    private const int Solved = 90;
    private const long AnswerMs = 5_000;

    /// <summary>Tries it.</summary>
    public static CheckedExercise Of(Exercise exercise, ModelCatalogue catalogue)
    {
        try
        {
            return exercise.Task switch
            {
                KeyTask => Keys(exercise, catalogue),
                JobTask task => Job(exercise, task, new JobPractice(exercise, catalogue)),
                _ => Question(exercise, catalogue),
            };
        }
        catch (ArgumentException error)
        {
            return new CheckedExercise(exercise, 0, [error.Message]);
        }
    }

    private static CheckedExercise Keys(Exercise exercise, ModelCatalogue catalogue)
    {
        var practice = new KeyPractice(exercise, catalogue);
        var problems = new List<string>();
        var perfect = practice.Play(null).Score;
        if (!perfect.Reached || perfect.Points < Solved)
            problems.Add($"Perfect hands score {perfect.Points}: {string.Join(" ", perfect.Lost.Select(lost => lost.Why))}");
        if (practice.At([], [], 0, hasEnded: true).Score.Passed)
            problems.Add("Whoever does nothing passes.");
        foreach (var wrong in exercise.Warns)
            if (practice.Play(wrong).Score.Passed)
                problems.Add($"It warns of {wrong}, and whoever does so passes.");
        return new CheckedExercise(exercise, perfect.Points, problems);
    }

    // Whoever answers a question wrongly at one station, and harmfully above all, pulls the cable while something is written, or does
    // nothing where hands are wanted, does not pass.
    private static CheckedExercise Job(Exercise exercise, JobTask task, JobPractice practice)
    {
        var perfect = practice.Perfect(AnswerMs);
        var problems = new List<string>();
        var score = practice.Score(perfect, hasEnded: true);
        if (!score.Reached || score.Points < Solved)
            problems.Add($"Perfect hands score {score.Points}: {string.Join(" ", score.Lost.Select(lost => $"{lost.Why} {lost.Rule}"))}");
        if (practice.Job.Offers.Offers is [var first, ..] && first.Path.Letter != task.Path)
            problems.Add($"The way of this job is {first.Path.Letter}, {first.Title}.");
        if (practice.Job.Gates.FirstOrDefault(gate => gate.Options.Count == 0 && !gate.Holds) is { } closed)
            problems.Add($"It may not begin: {closed.Why}");
        foreach (var part in practice.Parts)
        {
            var at = practice.Parts.ToList().IndexOf(part);
            foreach (var (question, i) in part.Questions.Select((question, i) => (question, i)))
            foreach (var harmful in question.Answers.Where(answer => answer.Worth == AnswerWorth.Harmful))
                if (Instead(at, done => done with { Answers = [.. done.Answers.Select((id, n) => n == i ? harmful.Id : id)] }).Passed)
                    problems.Add($"“{harmful.Label}” is harmful, and passes.");
            if (
                part.Questions.Count == 0
                && Instead(at, done => done with { Acts = [], Said = [] }) is { Reached: true }
                && NeedsHands(part)
            )
                problems.Add($"Whoever does nothing at {JobPractice.Words(part.Stage)} gets through.");
            foreach (var acts in Pulled(part))
                if (Instead(at, done => done with { Acts = acts }).Passed)
                    problems.Add("Whoever pulls the cable while something is written passes.");
        }

        return new CheckedExercise(exercise, score.Points, problems);

        PracticeScore Instead(int at, Func<PartDone, PartDone> change) =>
            practice.Score([.. perfect.Select((done, i) => i == at ? change(done) : done)], hasEnded: true);

        static bool NeedsHands(JobPart part) => part.Keys is not null || part.Write!.Steps.Any(step => step.Act.By == ActBy.Hands);
    }

    private static IEnumerable<IReadOnlyList<TrialAct>> Pulled(JobPart part)
    {
        if (part.Write is not { } write)
            yield break;
        foreach (var step in write.Steps.Where(step => step.Act.By == ActBy.Link && step.Act.Touches.Any()))
        {
            var before = write.Perfect(step);
            var at = before.LastsMs + WritePractice.LengthOf(step) / 2;
            yield return [.. before.Acts, new TrialAct(at, new CableOut())];
        }
    }

    private static CheckedExercise Question(Exercise exercise, ModelCatalogue catalogue)
    {
        var question = PracticeQuestion.Of(exercise, catalogue);
        var problems = new List<string>();
        var right = question.Score(question.Answers.First(answer => answer.Worth == AnswerWorth.Right).Id, 0, AnswerMs);
        if (right.Points != PracticeScore.Full || !right.Passed)
            problems.Add($"The right answer scores {right.Points}.");
        foreach (var answer in question.Answers.Where(answer => answer.Worth >= AnswerWorth.Wrong))
            if (question.Score(answer.Id, 0, AnswerMs).Passed)
                problems.Add($"“{answer.Label}” is wrong, and passes.");
        if (question.Answers.All(answer => answer.Worth == AnswerWorth.Right))
            problems.Add("Every answer is right.");
        return new CheckedExercise(exercise, right.Points, problems);
    }
}
