using Junctra.Web.Bench;
using Junctra.Web.Bench.Days;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>The bench: every open job, and what is next for the hands.</summary>
public sealed class IndexModel(JobLoader jobs, DayService days, TimeProvider time) : PageModel
{
    public IReadOnlyList<JobView> Jobs { get; private set; } = [];

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    /// <summary>The timetable that people know; null before the first.</summary>
    public MadeDay? Made { get; private set; }

    /// <summary>When it was made.</summary>
    public DateTimeOffset MadeAt { get; private set; }

    public string Summary
    {
        get
        {
            var late = Jobs.Where(job => job.Row.PromisedAt < Now).Select(job => job.Row.Ticket).ToList();
            var count = Jobs.Count == 1 ? "1 phone" : $"{Jobs.Count} phones";
            return late.Count == 0 ? count : $"{count} · late: {string.Join(", ", late)}";
        }
    }

    public async Task OnGetAsync(CancellationToken cancel)
    {
        Jobs = await jobs.OpenAsync(cancel);
        if (await days.KnownAsync(cancel) is { } known)
            (Made, MadeAt) = known;
    }
}
