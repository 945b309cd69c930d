using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Bench.Days;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>Takes a phone in.</summary>
[Authorize(Policies.Counter)]
public sealed class NewModel(RecordService records, DayService days, JunctraDb db, ModelCatalogue catalogue, TimeProvider time) : PageModel
{
    [BindProperty]
    public IntakeForm Form { get; set; } = new();

    public string? Problem { get; private set; }

    /// <summary>When a phone that comes in now is ready in nine of ten; null where nobody knows.</summary>
    public DateTimeOffset? ReadyBy { get; private set; }

    public DateTimeOffset Now => time.GetUtcNow();

    public IntakeFields Fields =>
        new(Form, true, catalogue.Triage, string.IsNullOrWhiteSpace(Form.Code) ? null : CodeReading.Read(Form.Code, catalogue));

    public async Task OnGetAsync(CancellationToken cancel)
    {
        // The next number after the highest: what can be counted is not asked.
        var tickets = await db.Jobs.Select(job => job.Ticket).ToListAsync(cancel);
        var next = tickets.Select(ticket => int.TryParse(ticket, out var number) ? number : 0).DefaultIfEmpty(0).Max() + 1;
        Form.Ticket = next.ToString("0000");
        ReadyBy = await days.ReadyByAsync(cancel);
    }

    /// <summary>What a code reads as, while it is typed.</summary>
    public PartialViewResult OnGetCode(string? text) => Partial("_CodeReading", CodeReading.Read(text, catalogue));

    public async Task<IActionResult> OnPostAsync(CancellationToken cancel)
    {
        var code = Form.ReadCode(catalogue, ModelState);
        Form.Check(catalogue.Triage, time.GetUtcNow(), ModelState);
        if (!ModelState.IsValid)
        {
            Problem = "Something is missing or cannot be read; it stands beside its field. Nothing was stored yet.";
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }

        if (await records.TakeInAsync(Form, code, User.Identity!.Name!, cancel) is not { } job)
        {
            Problem = $"The ticket {Form.Ticket.ToUpperInvariant()} is taken already. Choose another number; nothing was stored yet.";
            Response.StatusCode = StatusCodes.Status409Conflict;
            return Page();
        }

        return RedirectToPage((job.Cell == CellState.Sound ? Station.FindOut : Station.Intake).Page(), new { ticket = job.Ticket });
    }
}
