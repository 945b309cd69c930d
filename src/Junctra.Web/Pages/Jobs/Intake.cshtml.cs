using Junctra.Core.Jobs;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>What was said at the counter, and corrections to it.</summary>
public sealed class IntakeModel(JobLoader jobs, JobStore store, JunctraDb db) : JobPage(jobs)
{
    public override Station Station => Station.Intake;

    [BindProperty]
    public IntakeForm Form { get; set; } = new();

    public void OnGet() => Form = IntakeForm.Of(Job.Row);

    public async Task<IActionResult> OnPostAsync(CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen) return Refused(frozen);
        if (!ModelState.IsValid) return Page();
        if (Form.OwnershipStated != Job.Row.OwnershipStated) store.Note(Job.Row.Id, PhoneVisits.Bench, Form.OwnershipStated ? "Ownership stated." : "Ownership no longer stated.");
        if (Form.DataWish != Job.Row.DataWish) store.Note(Job.Row.Id, PhoneVisits.Bench, $"What may be lost: {Form.DataWish}.");
        db.Entry(Job.Row).Property(row => row.Version).OriginalValue = Form.Version;
        Form.Apply(Job.Row);
        await db.SaveChangesAsync(cancel);
        Done = "Kept.";
        return To(Station.Intake);
    }
}
