using System.Text.Json;
using Junctra.Core.Practice;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Practising;

/// <summary>What people practised: their own, kept for themselves, and deleted when they say so.</summary>
public sealed class PracticeService(JunctraDb db, ExerciseShelf shelf, TimeProvider time)
{
    /// <summary>How somebody stands in each class that they practised.</summary>
    public async Task<IReadOnlyDictionary<string, SkillState>> StandingAsync(string person, CancellationToken cancel)
    {
        var all = await db
            .Practice.AsNoTracking()
            .Where(row => row.Person == person)
            .Select(row => new
            {
                row.Skill,
                row.At,
                row.Points,
                row.Passed,
            })
            .ToListAsync(cancel);
        return all.GroupBy(row => row.Skill)
            .ToDictionary(
                skill => skill.Key,
                skill => Repetition.Of(skill.Select(row => new Practised(row.At, row.Points, row.Passed))),
                StringComparer.Ordinal
            );
    }

    /// <summary>
    /// What comes next: what is due, the weakest first; then what is new, in the order of the shelf; null where nothing is due or new.
    /// </summary>
    public Exercise? Next(IReadOnlyDictionary<string, SkillState> standing)
    {
        var now = time.GetUtcNow();
        var due = shelf
            .Exercises.Where(exercise => standing.TryGetValue(exercise.Skill, out var state) && state.DueAt <= now)
            .OrderBy(exercise => standing[exercise.Skill].Box)
            .ThenBy(exercise => standing[exercise.Skill].DueAt)
            .FirstOrDefault();
        return due ?? shelf.Exercises.FirstOrDefault(exercise => !standing.ContainsKey(exercise.Skill));
    }

    /// <summary>Keeps how an exercise went.</summary>
    /// <returns>Its number.</returns>
    public async Task<int> SaveAsync(string person, Exercise exercise, PracticeScore score, object done, CancellationToken cancel)
    {
        var row = new PracticeRow
        {
            Person = person,
            Exercise = exercise.Id,
            Skill = exercise.Skill,
            At = time.GetUtcNow(),
            Points = score.Points,
            Passed = score.Passed,
            TookMilliseconds = score.TookMs,
            Lost = JsonSerializer.Serialize(score.Lost, StoreJson.Options),
            Done = JsonSerializer.Serialize(done, StoreJson.Options),
        };
        db.Practice.Add(row);
        await db.SaveChangesAsync(cancel);
        return row.Id;
    }

    /// <summary>How an exercise went; null where it is nobody's of that name.</summary>
    public Task<PracticeRow?> FindAsync(string person, int id, CancellationToken cancel) =>
        db.Practice.AsNoTracking().FirstOrDefaultAsync(row => row.Id == id && row.Person == person, cancel);

    /// <summary>Deletes all that somebody practised.</summary>
    public Task<int> DeleteAsync(string person, CancellationToken cancel) =>
        db.Practice.Where(row => row.Person == person).ExecuteDeleteAsync(cancel);

    /// <summary>The points that were lost.</summary>
    public static IReadOnlyList<LostPoints> LostOf(PracticeRow row) =>
        JsonSerializer.Deserialize<List<LostPoints>>(row.Lost, StoreJson.Options) ?? [];
}
