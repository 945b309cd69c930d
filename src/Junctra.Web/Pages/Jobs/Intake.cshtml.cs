using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>What was said at the counter, corrections to it, consents and claims.</summary>
public sealed class IntakeModel(JobLoader jobs, RecordService records, ModelCatalogue catalogue, TimeProvider time) : JobPage(jobs)
{
    private bool isTyped;

    public override Station Station => Station.Intake;

    public override string ActsBy => Policies.CounterOrBench;

    [BindProperty]
    public IntakeForm Form { get; set; } = new();

    public IntakeFields Fields => new(Form, false, catalogue.Triage);

    /// <summary>Consents that were not given, or were taken back.</summary>
    public IReadOnlyList<ConsentText> OpenConsents =>
        [.. Consents.All.Where(text => !Job.Row.Consents.Any(given => given.ConsentId == text.Id && given.WithdrawnAt is null))];

    /// <summary>What somebody else stored while this form was open: field, what is stored now, what was typed.</summary>
    public IReadOnlyList<(string Field, string Stored, string Typed)> Theirs { get; private set; } = [];

    protected override Task PrepareAsync(CancellationToken cancel)
    {
        // A form that was typed stays as it was typed, whatever is wrong with it.
        isTyped = HttpMethods.IsPost(Request.Method) && Request.HasFormContentType && Request.Form.ContainsKey("Form.Ticket");
        if (!isTyped)
            Form = Stored();
        return Task.CompletedTask;
    }

    public async Task<IActionResult> OnPostAsync(CancellationToken cancel)
    {
        if (Job.WhyFrozenAt(Station) is { } frozen)
            return Refused(frozen);
        Form.Check(catalogue.Triage, time.GetUtcNow(), ModelState);
        return ModelState.IsValid
            ? After(await records.KeepAsync(Job, Form, Who, cancel), Station.Intake)
            : Refused("Something is missing or cannot be read; it stands beside its field. Nothing was stored.");
    }

    public async Task<IActionResult> OnPostAgreeAsync(string[] agreed, string? agreedBy, CancellationToken cancel) =>
        After(
            await records.AgreeAsync(Job, [.. OpenConsents.Where(text => agreed.Contains(text.Id))], agreedBy, Who, cancel),
            Station.Intake
        );

    public async Task<IActionResult> OnPostTakeBackAsync(int consentId, CancellationToken cancel) =>
        After(await records.TakeBackAsync(Job, consentId, Who, cancel), Station.Intake);

    public async Task<IActionResult> OnPostClaimAsync(string? text, string? saidBy, CancellationToken cancel) =>
        After(await records.ClaimAsync(Job, text, saidBy, Who, cancel), Station.Intake);

    protected override void AfterConflict()
    {
        if (!isTyped)
            return;
        var stored = Stored();
        (string, string, string)[] fields =
        [
            ("How to tell it", stored.Description, Form.Description),
            ("In the customer's words", stored.Complaint, Form.Complaint),
            ("What may be lost", IntakeForm.Words(stored.DataWish), IntakeForm.Words(Form.DataWish)),
            ("Promised when", stored.Promised ?? "", Form.Promised ?? ""),
            ("Waits here", stored.Waits ? "yes" : "no", Form.Waits ? "yes" : "no"),
            ("Accessories", stored.Accessories ?? "", Form.Accessories ?? ""),
            ("Ownership", stored.OwnershipStated ? "stated" : "not stated", Form.OwnershipStated ? "stated" : "not stated"),
            ("Wet, swollen, hot or crushed", stored.Cell.ToString().ToLowerInvariant(), Form.Cell.ToString().ToLowerInvariant()),
        ];
        Theirs = [.. fields.Where(field => field.Item2 != field.Item3)];
        // Typed once more against what is stored now, it may be kept.
        Form.Version = stored.Version;
        ModelState.Remove("Form.Version");
    }

    private IntakeForm Stored()
    {
        var form = IntakeForm.Of(Job.Row, time.GetUtcNow());
        foreach (
            var answer in Job.Row.TriageAnswers.Where(answer =>
                answer.WithdrawnAt is null && catalogue.Triage.Check(answer.CheckId) is { AtIntake: true }
            )
        )
            form.Said[answer.CheckId] = answer.OutcomeId;
        if (Job.Phone[FactName.BatteryPercent] is { Best.Source: FactSource.Seen or FactSource.Settings, Value: { } percent })
            form.Battery = percent;
        return form;
    }
}
