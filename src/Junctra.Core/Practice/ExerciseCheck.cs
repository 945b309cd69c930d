using Junctra.Core.Catalogue;

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
            return exercise.Task is KeyTask ? Keys(exercise, catalogue) : Question(exercise, catalogue);
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
