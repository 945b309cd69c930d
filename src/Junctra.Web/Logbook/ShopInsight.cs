using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Matching;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Logbook;

/// <summary>What the log teaches, of the latest jobs.</summary>
public sealed class ShopInsight(JunctraDb db, ModelCatalogue catalogue)
{
    // What was years ago teaches little of today's cables, people and packages; and a page is to come at once.
    private const int MaxJobs = 5000,
        MaxTimes = 20_000;

    /// <summary>What Junctra said, beside what happened; where it was wrong first.</summary>
    public async Task<IReadOnlyList<InsightSection>> CalibrationAsync(CancellationToken cancel) => Calibration.Of(await LogAsync(cancel));

    /// <summary>What costs the shop.</summary>
    public async Task<IReadOnlyList<InsightSection>> CostsAsync(CancellationToken cancel) => Costs.Of(await LogAsync(cancel), Finding);

    /// <summary>The jobs behind a figure of a section, and what it is the figure of; null where there is none such.</summary>
    public async Task<(string Title, IReadOnlyList<int> Jobs)?> BehindAsync(string section, string figure, CancellationToken cancel)
    {
        var log = await LogAsync(cancel);
        return Calibration
            .Of(log)
            .Concat(Costs.Of(log, Finding))
            .Where(one => one.Key == section)
            .SelectMany(one => one.Figures.Where(two => two.Key == figure).Select(two => (one.Title, two)))
            .Select(pair => ((string, IReadOnlyList<int>)?)($"{pair.Title}: {pair.two.Label}", pair.two.Jobs))
            .FirstOrDefault();
    }

    private string Finding(string id) => catalogue.Triage.Class(id)?.Label ?? id;

    private ShopLog? log;

    private async Task<ShopLog> LogAsync(CancellationToken cancel) => log ??= await LoadAsync(cancel);

    private async Task<ShopLog> LoadAsync(CancellationToken cancel)
    {
        var jobs = await db
            .Logbook.AsNoTracking()
            .OrderByDescending(row => row.TakenInAt)
            .Take(MaxJobs)
            .Select(row => new LoggedJob(
                row.JobId,
                row.Finding,
                row.FirstFinding,
                row.FirstChance,
                row.Outcome,
                row.Serial,
                row.TakenInAt,
                row.BegunAt,
                row.EndedAt,
                row.CheckedAt,
                row.HandedBackAt
            ))
            .ToListAsync(cancel);
        var ids = jobs.ConvertAll(job => job.Id);
        var times = await db
            .StepTimes.AsNoTracking()
            .Where(time => ids.Contains(time.JobId))
            .OrderByDescending(time => time.At)
            .Take(MaxTimes)
            .Select(time => new SaidTime(time.JobId, time.Kind, time.By, time.Said, time.SaidSlow, time.Took))
            .ToListAsync(cancel);
        var runs = await db
            .RunResults.AsNoTracking()
            .Where(run => ids.Contains(run.JobId))
            .Join(db.Runs, result => result.RunId, run => run.Id, (result, run) => new { result, run.PortName })
            .ToListAsync(cancel);
        var things = await db.BenchThings.AsNoTracking().ToDictionaryAsync(thing => thing.Id, thing => thing.Label, cancel);
        var tries = await db.LinkTries.AsNoTracking().OrderByDescending(one => one.Id).Take(MaxTimes).ToListAsync(cancel);
        var fetches = await db
            .Arrivals.AsNoTracking()
            .Where(arrival => arrival.MirrorId != null)
            .Select(arrival => new LoggedFetch(arrival.Source, arrival.IsSpoilt, arrival.State == ArrivalState.Done))
            .ToListAsync(cancel);
        var promises = await PromisesAsync(ids, cancel);
        return new ShopLog(
            jobs,
            times,
            [
                .. runs.Select(one => new LoggedRun(
                    one.result.JobId,
                    one.PortName ?? "",
                    one.result.Went,
                    one.result.Verdicts.ToDictionary(pair => new RuleId(pair.Key), pair => pair.Value),
                    one.result.Risk,
                    one.result.CameBack,
                    one.result.What
                )),
            ],
            [
                .. tries.Select(one => new LoggedTry(
                    one.JobId,
                    one.CableId is { } cable ? things.GetValueOrDefault(cable, "") : "",
                    one.PortName ?? "",
                    one.Worked
                )),
            ],
            fetches
        )
        {
            Promises =
            [
                .. jobs.Where(job => promises.ContainsKey(job.Id))
                    .Select(job => new LoggedPromise(
                        job.Id,
                        promises[job.Id].For,
                        promises[job.Id].Chance,
                        // A phone that was checked is ready, whenever it is fetched.
                        job.HandedBackAt
                            is null
                            ? job.CheckedAt
                            : job.CheckedAt ?? job.EndedAt ?? job.HandedBackAt
                    )),
            ],
        };
    }

    // What was promised last, and what was said of that.
    private async Task<Dictionary<int, (DateTimeOffset For, double? Chance)>> PromisesAsync(List<int> ids, CancellationToken cancel)
    {
        var promised = await db
            .Jobs.AsNoTracking()
            .Where(job => ids.Contains(job.Id) && job.PromisedAt != null)
            .Select(job => new
            {
                job.Id,
                job.PromisedAt,
                job.Promises.OrderByDescending(promise => promise.Id).FirstOrDefault()!.Chance,
            })
            .ToListAsync(cancel);
        return promised.ToDictionary(job => job.Id, job => (job.PromisedAt!.Value, job.Chance));
    }
}

/// <summary>What the shop has learned of how long things take; learned anew when the log has changed.</summary>
public sealed class LearnedTimes(IDbContextFactory<JunctraDb> databases, ModelCatalogue catalogue)
{
    private const int MaxTimes = 5000;
    private Learned known = new(0, Estimates.None);

    private sealed record Learned(long Until, Estimates Estimates);

    /// <summary>What was learned until now.</summary>
    public async Task<Estimates> NowAsync(CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var last = await db.StepTimes.MaxAsync(time => (long?)time.Id, cancel) ?? 0;
        var before = Volatile.Read(ref known);
        if (before.Until == last)
            return before.Estimates;
        var log = await db
            .StepTimes.AsNoTracking()
            .OrderByDescending(time => time.Id)
            .Take(MaxTimes)
            .Select(time => new LoggedTime(time.JobId, time.Kind, time.Model, time.Link, time.Cable, time.By, time.Usual, time.Took))
            .ToListAsync(cancel);
        var roles = await RolesAsync(db, cancel);
        var estimates = Estimates.Of(log.Select(one => one with { Role = roles.GetValueOrDefault(one.By, "") }));
        Volatile.Write(ref known, new Learned(last, estimates));
        return estimates;
    }

    /// <summary>How long the acts of a job take: of its model, with the cable that worked last, and whose hands were last at it.</summary>
    public async Task<JobTimes> OfAsync(JobView job, CancellationToken cancel)
    {
        var estimates = await NowAsync(cancel);
        await using var db = await databases.CreateDbContextAsync(cancel);
        var cable = await db
            .LinkTries.Where(one => one.JobId == job.Row.Id && one.CableId != null)
            .OrderByDescending(one => one.Id)
            .Join(db.BenchThings, one => one.CableId, thing => thing.Id, (one, thing) => thing.Label)
            .FirstOrDefaultAsync(cancel);
        // Whoever was last at it goes on with it; the counter only took it in, and somebody of the bench will.
        var roles = await RolesAsync(db, cancel);
        var by = job
            .Row.Facts.Select(fact => fact.RecordedBy)
            .LastOrDefault(name => roles.GetValueOrDefault(name) is not StaffRoles.Counter);
        return new JobTimes(
            estimates,
            catalogue.Figures,
            job.Model?.Code ?? "",
            cable ?? "",
            by ?? "",
            roles.GetValueOrDefault(by ?? "", StaffRoles.Bench)
        );
    }

    /// <summary>What everybody is in the shop; of several roles, the one that works on phones.</summary>
    private static async Task<IReadOnlyDictionary<string, string>> RolesAsync(JunctraDb db, CancellationToken cancel) =>
        (
            await db
                .UserRoles.Join(db.Users, held => held.UserId, user => user.Id, (held, user) => new { held.RoleId, user.UserName })
                .Join(db.Roles, held => held.RoleId, role => role.Id, (held, role) => new { held.UserName, Role = role.Name })
                .ToListAsync(cancel)
        )
            .GroupBy(held => held.UserName!)
            .ToDictionary(
                person => person.Key,
                person => MostOfTheBench.FirstOrDefault(role => person.Any(held => held.Role == role)) ?? "",
                StringComparer.Ordinal
            );

    private static readonly string[] MostOfTheBench = [StaffRoles.Bench, StaffRoles.Lead, StaffRoles.Counter];
}
