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
            .Where(row => row.Person == person && !row.IsOpen)
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

    /// <summary>Begins a whole job, or goes on with one that was begun.</summary>
    /// <returns>Its number.</returns>
    public async Task<int> BeginAsync(string person, Exercise exercise, CancellationToken cancel)
    {
        if (
            await db
                .Practice.AsNoTracking()
                .FirstOrDefaultAsync(row => row.Person == person && row.Exercise == exercise.Id && row.IsOpen, cancel) is
            { } begun
        )
            return begun.Id;
        var row = new PracticeRow
        {
            Person = person,
            Exercise = exercise.Id,
            Skill = exercise.Skill,
            At = time.GetUtcNow(),
            IsOpen = true,
            Lost = "[]",
            Done = "[]",
        };
        db.Practice.Add(row);
        await db.SaveChangesAsync(cancel);
        return row.Id;
    }

    /// <summary>
    /// Keeps a part of a whole job; where it was the last, or the job is spoiled or given up, it is judged and over. A part that was kept
    /// already is not kept twice: two windows, or a second press.
    /// </summary>
    /// <param name="row">The job as it was read.</param>
    /// <param name="at">Which part, from 0.</param>
    /// <param name="part">What was done; null where the job is given up before it.</param>
    /// <param name="judge">Judges all its parts: how it went, or null while it goes on.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task PartAsync(
        PracticeRow row,
        int at,
        PartSent? part,
        Func<IReadOnlyList<PartSent>, PracticeScore?> judge,
        CancellationToken cancel
    )
    {
        var done = PartsOf(row).ToList();
        if (!row.IsOpen || done.Count != at)
            return;
        if (part is not null)
            done.Add(part);
        var score = judge(done);
        var (isOpen, now) = (score is null, time.GetUtcNow());
        var text = JsonSerializer.Serialize(done, StoreJson.Options);
        var lost = JsonSerializer.Serialize(score?.Lost ?? [], StoreJson.Options);
        var (points, passed, took) = (score?.Points ?? 0, score?.Passed ?? false, score?.TookMs ?? 0);
        var before = row.Done;
        await db
            .Practice.Where(one => one.Id == row.Id && one.IsOpen && one.Done == before)
            .ExecuteUpdateAsync(
                set =>
                    set.SetProperty(one => one.Done, text)
                        .SetProperty(one => one.IsOpen, isOpen)
                        .SetProperty(one => one.Lost, lost)
                        .SetProperty(one => one.Points, points)
                        .SetProperty(one => one.Passed, passed)
                        .SetProperty(one => one.TookMilliseconds, took)
                        .SetProperty(one => one.At, isOpen ? row.At : now),
                cancel
            );
    }

    /// <summary>What was done of an exercise: the parts of a whole job, or the one part of any other.</summary>
    public static IReadOnlyList<PartSent> PartsOf(PracticeRow row) =>
        row.Done.TrimStart().StartsWith('[')
            ? JsonSerializer.Deserialize<List<PartSent>>(row.Done, StoreJson.Options) ?? []
            : [JsonSerializer.Deserialize<PartSent>(row.Done, StoreJson.Options) ?? new PartSent()];

    /// <summary>The latest of what somebody practised, the last first.</summary>
    public async Task<IReadOnlyList<PracticeRow>> LatestAsync(string person, int most, CancellationToken cancel) =>
        await db.Practice.AsNoTracking().Where(row => row.Person == person).OrderByDescending(row => row.Id).Take(most).ToListAsync(cancel);

    /// <summary>Who has passed which class, and when last: for a lead, where the shop's rule says so.</summary>
    public async Task<IReadOnlyList<(string Person, string Skill, DateTimeOffset At)>> PassedAsync(CancellationToken cancel)
    {
        var all = await db
            .Practice.Where(row => row.Passed && !row.IsOpen)
            .GroupBy(row => new { row.Person, row.Skill })
            .Select(group => new
            {
                group.Key.Person,
                group.Key.Skill,
                At = group.Max(row => row.At),
            })
            .ToListAsync(cancel);
        return [.. all.Select(one => (one.Person, one.Skill, one.At))];
    }

    /// <summary>Deletes one record of somebody's.</summary>
    public Task<int> DeleteAsync(string person, int id, CancellationToken cancel) =>
        db.Practice.Where(row => row.Person == person && row.Id == id).ExecuteDeleteAsync(cancel);

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
