using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Rescue;
using Junctra.Core.Runs;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench;

/// <summary>What the shop's records say of opened phones: how the rescue of a job stands, and how long such rescues take.</summary>
public sealed class RescueRecord(JunctraDb db, RunJournal journal, ModelCatalogue catalogue)
{
    private const int MaxLearned = 2000;

    /// <summary>How the rescue of a job stands; null where nothing is known of its inside.</summary>
    public Task<RescueState?> StateOfAsync(JobView job, CancellationToken cancel) => StateOfAsync(job, job.Row.Rescue, cancel);

    /// <summary>How the rescue of a job stands after entries that may be newer than the job.</summary>
    public async Task<RescueState?> StateOfAsync(JobView job, IEnumerable<RescueEventRow> rows, CancellationToken cancel)
    {
        if (catalogue.BoardOf(job.Model?.Code) is not { } guide)
            return null;
        var entries = rows.Select(row => row.ToEntry()).ToList();
        return RescueState.Of(
            guide,
            entries,
            // What never was opened has no doubt to weigh.
            entries.Count > 0
            && catalogue.LoaderOf(job.Model!) is { } loader
                ? new LoaderCase(
                    RollbackFloor.Of(job.Phone, catalogue).Highest,
                    loader.HighestRevision,
                    await TriedInRunsAsync(job, cancel)
                )
                : null
        );
    }

    // What runs of the job wrote down of their loaders: a first answer, or that it stayed silent.
    private async Task<IReadOnlyList<RescueEntry>> TriedInRunsAsync(JobView job, CancellationToken cancel)
    {
        var tried = new List<RescueEntry>();
        foreach (var run in job.Row.Runs)
        {
            if (run.Plan?.Steps.FirstOrDefault(step => step.Act is SupplyEmergencyLoader) is not { } loader)
                continue;
            var state = RunState.Of(run.Plan, await journal.ReadAsync(run.Id, cancel: cancel));
            var at = run.EndedAt ?? run.BegunAt;
            if (state.Done.Contains(loader.Number))
                tried.Add(new RescueEntry(at, run.BegunBy, new LoaderTried(true)));
            else if (state.Step == loader && run.Status.EndedEarly())
                tried.Add(new RescueEntry(at, run.BegunBy, new LoaderTried(false)));
        }

        return tried;
    }

    /// <summary>How long the steps of such a rescue take, learned from the shop's own.</summary>
    /// <param name="guide">What is known of the phone's inside.</param>
    /// <param name="by">Whose hands it will be; empty where nobody knows.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<RescueMinutes> MinutesAsync(BoardGuide guide, string by, CancellationToken cancel)
    {
        var rows = await db
            .RescueEvents.AsNoTracking()
            .Where(row => db.Facts.Any(fact => fact.JobId == row.JobId && fact.Name == "model-code" && guide.Models.Contains(fact.Value)))
            .OrderByDescending(row => row.Id)
            .Take(MaxLearned)
            .ToListAsync(cancel);
        return new RescueMinutes(
            guide,
            rows.OrderBy(row => row.Id).GroupBy(row => row.JobId).Select(job => (job.Key, job.Select(row => row.ToEntry()))),
            by
        );
    }
}
