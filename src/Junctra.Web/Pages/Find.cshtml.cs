using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Packages;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages;

/// <summary>What the find field finds: a ticket leads straight to its job.</summary>
public sealed class FindModel(JobLoader jobs, JunctraDb db, PackageIndex shelf, ModelCatalogue catalogue) : PageModel
{
    private const int Most = 50;

    public string Wanted { get; private set; } = "";

    public IReadOnlyList<JobView> Jobs { get; private set; } = [];

    public IReadOnlyList<Package> Packages { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(string? q, CancellationToken cancel)
    {
        Wanted = (q ?? "").Trim();
        if (Wanted.Length is 0 or > 120)
            return Redirect("/");
        if (await jobs.FindAsync(TicketCode.Read(Wanted), cancel) is { } job)
            return RedirectToPage(job.Standing.At.Page(), new { ticket = job.Row.Ticket });
        var pattern = "%" + Wanted.Replace("\\", "\\\\").Replace("%", "\\%").Replace("_", "\\_") + "%";
        var rows = await db
            .Jobs.AsNoTracking()
            .Include(j => j.Facts)
            .Include(j => j.Runs.OrderBy(r => r.Id))
            .AsSplitQuery()
            .Where(j =>
                EF.Functions.ILike(j.Ticket, pattern)
                || EF.Functions.ILike(j.Description, pattern)
                || j.Facts.Any(f => f.WithdrawnAt == null && EF.Functions.ILike(f.Value, pattern))
            )
            .OrderByDescending(j => j.Id)
            .Take(Most)
            .ToListAsync(cancel);
        Jobs = [.. rows.Select(row => new JobView(row, catalogue))];
        Packages = await shelf.FindAllAsync(pattern, Most, cancel);
        return Page();
    }
}
