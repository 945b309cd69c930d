using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>The bench: every open job, and what is next for the hands.</summary>
public sealed class IndexModel(JobLoader jobs, TimeProvider time) : PageModel
{
    public IReadOnlyList<JobView> Jobs { get; private set; } = [];

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    public string Summary
    {
        get
        {
            var late = Jobs.Where(job => job.Row.PromisedAt < Now).Select(job => job.Row.Ticket).ToList();
            var count = Jobs.Count == 1 ? "1 phone" : $"{Jobs.Count} phones";
            return late.Count == 0 ? count : $"{count} · late: {string.Join(", ", late)}";
        }
    }

    public async Task OnGetAsync(CancellationToken cancel) => Jobs = await jobs.OpenAsync(cancel);
}
