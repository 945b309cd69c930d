using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>Jobs that were handed back.</summary>
public sealed class LogbookModel(JobLoader jobs) : PageModel
{
    /// <summary>How many are listed at once.</summary>
    public const int Most = 200;

    public IReadOnlyList<JobView> Jobs { get; private set; } = [];

    public async Task OnGetAsync(CancellationToken cancel) => Jobs = await jobs.DoneAsync(Most, cancel);
}
