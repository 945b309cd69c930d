using Junctra.Core.Jobs;
using Junctra.Core.Packages;
using Junctra.Store.Logbook;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Junctra.Web.Logbook;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>What the find field finds: a ticket leads straight to its job.</summary>
public sealed class FindModel(JobLoader jobs, LogbookSearch search, LogbookKeeper keeper, PackageIndex shelf) : PageModel
{
    private const int Most = 50;

    public string Wanted { get; private set; } = "";

    /// <summary>Jobs in whose records it stands, the latest first.</summary>
    public LogbookPage Found { get; private set; } = null!;

    public IReadOnlyList<Package> Packages { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(string? q, CancellationToken cancel)
    {
        Wanted = (q ?? "").Trim();
        if (Wanted.Length is 0 or > 120)
            return Redirect("/");
        if (await jobs.FindAsync(TicketCode.Read(Wanted), cancel) is { } job)
            return RedirectToPage(job.Standing.NextPage(), new { ticket = job.Row.Ticket });
        await keeper.RefreshAsync(cancel);
        Found = await search.FindAsync(new LogbookQuestion(Wanted), cancel);
        var pattern = "%" + Wanted.Replace("\\", "\\\\").Replace("%", "\\%").Replace("_", "\\_") + "%";
        Packages = await shelf.FindAllAsync(pattern, Most, cancel);
        return Page();
    }
}
