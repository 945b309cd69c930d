using System.Collections.Concurrent;
using Junctra.Core.Catalogue;
using Junctra.Store;

namespace Junctra.Web.Bench;

/// <summary>
/// Keeps what lists show of jobs, each under the state of its record: a job is loaded and judged anew when anything of it changed,
/// by whatever web process, and not before. A list is never older than the heads it was asked with.
/// </summary>
public sealed class JobCache(ModelCatalogue catalogue)
{
    /// <summary>So many jobs are kept at most; then all are let go, and come back as they are asked for.</summary>
    private const int Most = 4000;

    private readonly ConcurrentDictionary<int, (RecordState State, JobView View)> kept = new();

    /// <summary>The views for heads, in their order.</summary>
    public async Task<IReadOnlyList<JobView>> ViewsAsync(JunctraDb db, IReadOnlyList<JobHead> heads, CancellationToken cancel)
    {
        var views = heads
            .Select(head => kept.TryGetValue(head.Job.Id, out var known) && known.State == head.State ? known.View : null)
            .ToArray();
        var changed = heads.Where((_, i) => views[i] is null).ToList();
        if (changed.Count > 0)
        {
            JobRow[] rows = [.. changed.Select(head => head.Job)];
            await JobLists.FillAsync(db, rows, cancel);
            // What was loaded may be newer than its head; only what did not change meanwhile is kept under it.
            var now = await JobLists.StatesAsync(db, rows, cancel);
            if (kept.Count > Most)
                kept.Clear();
            for (var i = 0; i < views.Length; i++)
            {
                if (views[i] is not null)
                    continue;
                views[i] = new JobView(heads[i].Job, catalogue);
                if (now[heads[i].Job.Id] == heads[i].State)
                    kept[heads[i].Job.Id] = (heads[i].State, views[i]!);
            }
        }

        return views!;
    }
}
