using System.Globalization;
using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Practice;

namespace Junctra.Web.Practising;

/// <summary>The exercises: those of the catalogue, and those that are made anew from a seed.</summary>
public sealed class ExerciseShelf(ModelCatalogue catalogue, IReadOnlyList<Exercise> exercises)
{
    /// <summary>The exercises of the catalogue, in file order.</summary>
    public IReadOnlyList<Exercise> Exercises => exercises;

    /// <summary>An exercise by its id, which of one that was made is its kind and seed; null where there is none.</summary>
    public Exercise? Find(string id)
    {
        if (exercises.FirstOrDefault(exercise => exercise.Id == id) is { } known)
            return known;
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

    /// <summary>The kind of which another one like it can be made.</summary>
    public static string KindOf(Exercise exercise) => exercise.Task is QuestionTask question ? EnumNames.Of(question.Asks) : "keys";
}
