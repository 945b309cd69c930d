using System.Collections.Concurrent;
using System.Globalization;
using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Practice;

namespace Junctra.Web.Practising;

/// <summary>The exercises: those of the catalogue, and those that are made anew from a seed.</summary>
public sealed class ExerciseShelf(ModelCatalogue catalogue, IReadOnlyList<Exercise> exercises)
{
    /// <summary>The exercises of the catalogue, by their ladders; within one in file order.</summary>
    public IReadOnlyList<Exercise> Exercises { get; } = [.. exercises.OrderBy(exercise => exercise.Ladder)];

    /// <summary>An exercise by its id, which of one that was made is its kind and seed; null where there is none.</summary>
    public Exercise? Find(string id)
    {
        if (Exercises.FirstOrDefault(exercise => exercise.Id == id) is { } known)
            return known;
        if (made.Count > MaxMade)
            made.Clear();
        return made.GetOrAdd(id, _ => new Lazy<Exercise?>(() => Make(id))).Value;
    }

    // To make one may take many tries; whoever does it asks for it at every moment of it.
    private const int MaxMade = 500;
    private readonly ConcurrentDictionary<string, Lazy<Exercise?>> made = new(StringComparer.Ordinal);

    private Exercise? Make(string id)
    {
        var at = id.LastIndexOf('-');
        try
        {
            return
                at > 0
                && ExerciseGenerator.Kinds.Contains(id[..at])
                && int.TryParse(id[(at + 1)..], NumberStyles.None, CultureInfo.InvariantCulture, out var seed)
                ? ExerciseGenerator.Make(id[..at], seed, catalogue)
                : null;
        }
        catch (ArgumentException)
        {
            // This catalogue has no phone for one of that kind.
            return null;
        }
    }

    /// <summary>A whole job, worked out; kept while others ask for the same. Null where the exercise is none, or cannot be done.</summary>
    public JobPractice? JobOf(Exercise exercise)
    {
        if (exercise.Task is not JobTask)
            return null;
        // Each is some hundred kilobytes, and a moment's work.
        if (jobs.Count > MaxJobs)
            jobs.Clear();
        try
        {
            return jobs.GetOrAdd(exercise.Id, _ => new Lazy<JobPractice>(() => new JobPractice(exercise, catalogue))).Value;
        }
        catch (ArgumentException)
        {
            // This catalogue allows no plan for it.
            return null;
        }
    }

    private const int MaxJobs = 64;
    private readonly ConcurrentDictionary<string, Lazy<JobPractice>> jobs = new(StringComparer.Ordinal);

    /// <summary>The kind of which another one like it can be made.</summary>
    public static string KindOf(Exercise exercise) =>
        exercise.Task switch
        {
            QuestionTask question => EnumNames.Of(question.Asks),
            JobTask => "job",
            _ => "keys",
        };
}
