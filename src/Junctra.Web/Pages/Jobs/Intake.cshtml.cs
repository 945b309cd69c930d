using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>What was said at the counter, corrections to it, consents and claims.</summary>
public sealed class IntakeModel(JobLoader jobs, JobStore store, JunctraDb db, ModelCatalogue catalogue, TimeProvider time) : JobPage(jobs)
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
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        var now = time.GetUtcNow();
        Form.Check(catalogue.Triage, now, ModelState);
        if (!ModelState.IsValid)
            return Refused("Something is missing or cannot be read; it stands beside its field. Nothing was stored.");
        if (Form.OwnershipStated != Job.Row.OwnershipStated)
            store.Note(Job.Row.Id, Who, Form.OwnershipStated ? "Ownership stated." : "Ownership no longer stated.");
        if (Form.DataWish != Job.Row.DataWish)
            store.Note(Job.Row.Id, Who, $"What may be lost: {Words(Form.DataWish)}.");
        if (Form.Cell != Job.Row.Cell)
            store.Note(Job.Row.Id, Who, $"The cell: {Form.Cell.ToString().ToLowerInvariant()}.");
        db.Entry(Job.Row).Property(row => row.Version).OriginalValue = Form.Version;
        Form.Apply(Job.Row, now);
        if (FactName.BatteryPercent.Name.Normalise(Form.Battery) is { } percent && percent != Job.Phone[FactName.BatteryPercent].Value)
            Job.Row.Facts.Add(FactRow.Of(new Fact(FactName.BatteryPercent, percent, FactSource.Settings, now, Who)));
        // What the form did not ask is left as it stands; "not known" takes an answer back.
        foreach (var check in catalogue.Triage.AtIntake.Where(check => Form.Said.ContainsKey(check.Id)))
            Answer(check, Form.Said[check.Id], now);
        // The form belongs to one state of the record, whatever part of it was changed.
        db.Entry(Job.Row).Property(row => row.Description).IsModified = true;
        await db.SaveChangesAsync(cancel);
        Done = "Kept.";
        return To(Station.Intake);
    }

    public async Task<IActionResult> OnPostAgreeAsync(string[] agreed, string? agreedBy, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        var texts = OpenConsents.Where(text => agreed.Contains(text.Id)).ToList();
        if (texts.Count == 0)
            return Refused("Nothing was ticked, or it was agreed to already.");
        if (string.IsNullOrWhiteSpace(agreedBy) || agreedBy.Length > 120)
            return Refused("Say who agreed, and how, in 120 characters at most.");
        foreach (var text in texts)
        {
            Job.Row.Consents.Add(
                new ConsentRow
                {
                    ConsentId = text.Id,
                    Text = text.Text,
                    AgreedBy = agreedBy.Trim(),
                    At = time.GetUtcNow(),
                    RecordedBy = Who,
                }
            );
            store.Note(Job.Row.Id, Who, $"Agreed ({agreedBy.Trim()}): {text.Text}");
        }

        await db.SaveChangesAsync(cancel);
        Done = "Written down.";
        return To(Station.Intake);
    }

    public async Task<IActionResult> OnPostTakeBackAsync(int consentId, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (Job.Row.Consents.FirstOrDefault(consent => consent.Id == consentId && consent.WithdrawnAt is null) is not { } consent)
            return Refused("That was taken back already.");
        consent.WithdrawnAt = time.GetUtcNow();
        consent.WithdrawnBy = Who;
        store.Note(Job.Row.Id, Who, $"Taken back: {consent.Text}");
        await db.SaveChangesAsync(cancel);
        Done = "Taken back. It stays in the record.";
        return To(Station.Intake);
    }

    public async Task<IActionResult> OnPostClaimAsync(string? text, string? saidBy, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (string.IsNullOrWhiteSpace(text) || text.Length > 500 || string.IsNullOrWhiteSpace(saidBy) || saidBy.Length > 60)
            return Refused("Say what was said, in 500 characters at most, and by whom.");
        Job.Row.Claims.Add(
            new ClaimRow
            {
                Text = text.Trim(),
                SaidBy = saidBy.Trim(),
                At = time.GetUtcNow(),
                RecordedBy = Who,
            }
        );
        await db.SaveChangesAsync(cancel);
        Done = "Kept as a claim.";
        return To(Station.Intake);
    }

    protected override void AfterConflict()
    {
        if (!isTyped)
            return;
        var stored = Stored();
        (string, string, string)[] fields =
        [
            ("How to tell it", stored.Description, Form.Description),
            ("In the customer's words", stored.Complaint, Form.Complaint),
            ("What may be lost", Words(stored.DataWish), Words(Form.DataWish)),
            ("Promised when", stored.Promised ?? "", Form.Promised ?? ""),
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
        if (Job.Phone[FactName.BatteryPercent] is { Best.Source: FactSource.Settings, Value: { } percent })
            form.Battery = percent;
        return form;
    }

    private void Answer(TriageCheck check, string? outcomeId, DateTimeOffset now)
    {
        var given = Job.Row.TriageAnswers.FirstOrDefault(answer => answer.CheckId == check.Id && answer.WithdrawnAt is null);
        var wanted = check.Outcome(outcomeId);
        if (given?.OutcomeId == wanted?.Id)
            return;
        if (given is not null)
        {
            given.WithdrawnAt = now;
            store.Note(Job.Row.Id, Who, $"{check.Ask} Taken back: {check.Outcome(given.OutcomeId)?.Label ?? given.OutcomeId}.");
        }

        if (wanted is null)
            return;
        Job.Row.TriageAnswers.Add(
            new TriageAnswerRow
            {
                CheckId = check.Id,
                OutcomeId = wanted.Id,
                At = now,
                By = Who,
            }
        );
        Job.Row.Facts.AddRange(check.FactsOf(wanted, now, Who).Select(FactRow.Of));
    }

    private static string Words(DataWish wish) =>
        wish switch
        {
            DataWish.Keep => "nothing, if it can be helped",
            DataWish.MayGo => "everything may go",
            _ => "not said yet",
        };
}
