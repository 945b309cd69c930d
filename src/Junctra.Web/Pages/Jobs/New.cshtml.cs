using Junctra.Core.Catalogue;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>Takes a phone in.</summary>
public sealed class NewModel(JobStore store, JunctraDb db, ModelCatalogue catalogue, TimeProvider time) : PageModel
{
    [BindProperty]
    public IntakeForm Form { get; set; } = new();

    public string? Problem { get; private set; }

    public async Task OnGetAsync(CancellationToken cancel)
    {
        // The next number after the highest: what can be counted is not asked.
        var tickets = await db.Jobs.Select(job => job.Ticket).ToListAsync(cancel);
        var next = tickets.Select(ticket => int.TryParse(ticket, out var number) ? number : 0).DefaultIfEmpty(0).Max() + 1;
        Form.Ticket = next.ToString("0000");
    }

    public async Task<IActionResult> OnPostAsync(CancellationToken cancel)
    {
        var code = Form.ReadCode(catalogue, ModelState);
        if (!ModelState.IsValid) return Page();
        var job = new JobRow { Ticket = Form.Ticket.ToUpperInvariant(), Description = "", Complaint = "", TakenInAt = time.GetUtcNow() };
        Form.Apply(job);
        job.Facts.AddRange(Form.Facts(code, job.TakenInAt, PhoneVisits.Bench).Select(FactRow.Of));
        if (!await store.TakeInAsync(job, PhoneVisits.Bench, cancel))
        {
            Problem = $"The ticket {job.Ticket} is taken already. Choose another number; nothing was stored yet.";
            Response.StatusCode = StatusCodes.Status409Conflict;
            return Page();
        }

        return Redirect($"/jobs/{job.Ticket}/find-out");
    }
}
