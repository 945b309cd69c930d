using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Store;
using Junctra.Web.Library;

namespace Junctra.Web.Bench.Acts;

/// <summary>What passes over the counter and is written down: taking in, consents, claims, handing back.</summary>
public sealed class RecordService(JobStore store, JunctraDb db, ModelCatalogue catalogue, KeptFiles kept, TimeProvider time)
{
    /// <summary>Id of the consent of an owner who gives the repair up.</summary>
    public const string GivenUp = "given-up";

    private const int MaxClaim = 500;
    private const int MaxName = 120;
    private const int MaxSpeaker = 60;

    /// <summary>Keeps a changed intake form, which was checked before.</summary>
    /// <exception cref="Microsoft.EntityFrameworkCore.DbUpdateConcurrencyException">Somebody changed the job since the form was shown.</exception>
    public async Task<ActResult> KeepAsync(JobView job, IntakeForm form, string who, CancellationToken cancel)
    {
        if (job.WhyFrozenAt(Station.Intake) is { } frozen)
            return ActResult.Refuse(frozen);
        var now = time.GetUtcNow();
        if (form.OwnershipStated != job.Row.OwnershipStated)
            store.Note(job.Row.Id, who, form.OwnershipStated ? "Ownership stated." : "Ownership no longer stated.");
        if (form.DataWish != job.Row.DataWish)
            store.Note(job.Row.Id, who, $"What may be lost: {IntakeForm.Words(form.DataWish)}.");
        if (form.Cell != job.Row.Cell)
            store.Note(job.Row.Id, who, $"The cell: {form.Cell.ToString().ToLowerInvariant()}.");
        db.Entry(job.Row).Property(row => row.Version).OriginalValue = form.Version;
        form.Apply(job.Row, now);
        if (form.Promise(job.Row, now, who) is { } promised)
            store.Note(job.Row.Id, who, promised);
        if (FactName.BatteryPercent.Name.Normalise(form.Battery) is { } percent && percent != job.Phone[FactName.BatteryPercent].Value)
            job.Row.Facts.Add(FactRow.Of(new Fact(FactName.BatteryPercent, percent, FactSource.Seen, now, who)));
        // What the form did not ask is left as it stands; "not known" takes an answer back.
        foreach (var check in catalogue.Triage.AtIntake.Where(check => form.Said.ContainsKey(check.Id)))
            Answer(job.Row, check, form.Said[check.Id], now, who);
        // The form belongs to one state of the record, whatever part of it was changed.
        db.Entry(job.Row).Property(row => row.Description).IsModified = true;
        await db.SaveChangesAsync(cancel);
        return ActResult.Did("Kept.");
    }

    private void Answer(JobRow job, TriageCheck check, string? outcomeId, DateTimeOffset now, string who)
    {
        var given = job.TriageAnswers.FirstOrDefault(answer => answer.CheckId == check.Id && answer.WithdrawnAt is null);
        var wanted = check.Outcome(outcomeId);
        if (given?.OutcomeId == wanted?.Id)
            return;
        if (given is not null)
        {
            given.WithdrawnAt = now;
            store.Note(job.Id, who, $"{check.Ask} Taken back: {check.Outcome(given.OutcomeId)?.Label ?? given.OutcomeId}.");
        }

        if (wanted is null)
            return;
        job.TriageAnswers.Add(
            new TriageAnswerRow
            {
                CheckId = check.Id,
                OutcomeId = wanted.Id,
                At = now,
                By = who,
            }
        );
        job.Facts.AddRange(check.FactsOf(wanted, now, who).Select(FactRow.Of));
    }

    /// <summary>Takes a phone in, by a form that was checked before.</summary>
    /// <param name="form">The form.</param>
    /// <param name="code">What its code reads as.</param>
    /// <param name="who">Who takes it in.</param>
    /// <param name="cancel">Cancels it.</param>
    /// <returns>The job, or null where another one has its ticket.</returns>
    public async Task<JobRow?> TakeInAsync(IntakeForm form, CodeReading code, string who, CancellationToken cancel)
    {
        var now = time.GetUtcNow();
        var job = new JobRow
        {
            Ticket = form.Ticket.ToUpperInvariant(),
            Description = "",
            Complaint = "",
            TakenInAt = now,
        };
        form.Apply(job, now);
        form.Promise(job, now, who);
        job.Facts.AddRange(form.Facts(code, now, who).Select(FactRow.Of));
        foreach (var (check, outcome) in form.Answers(catalogue.Triage))
            Answer(job, check, outcome.Id, now, who);
        job.Consents.AddRange(
            form.Agreed.Distinct().Select(Consents.Find).OfType<ConsentText>().Select(text => Given(text, form.AgreedBy!, now, who))
        );
        if (code.Problem is not null)
            job.Claims.Add(
                new ClaimRow
                {
                    Text = $"Its code reads “{form.Code!.Trim()}”.",
                    SaidBy = form.CodeSource.Label(),
                    At = now,
                    RecordedBy = who,
                }
            );
        return await store.TakeInAsync(job, who, cancel) ? job : null;
    }

    /// <summary>Writes down what a customer agreed to.</summary>
    public async Task<ActResult> AgreeAsync(
        JobView job,
        IReadOnlyList<ConsentText> texts,
        string? agreedBy,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozenAt(Station.Intake) is { } frozen)
            return ActResult.Refuse(frozen);
        if (texts.Count == 0)
            return ActResult.Refuse("Nothing was ticked, or it was agreed to already.");
        if (string.IsNullOrWhiteSpace(agreedBy) || agreedBy.Length > MaxName)
            return ActResult.Refuse($"Say who agreed, and how, in {MaxName} characters at most.");
        foreach (var text in texts)
        {
            job.Row.Consents.Add(Given(text, agreedBy, time.GetUtcNow(), who));
            store.Note(job.Row.Id, who, $"Agreed ({agreedBy.Trim()}): {text.Text}");
        }

        await db.SaveChangesAsync(cancel);
        return ActResult.Did("Written down.");
    }

    private static ConsentRow Given(ConsentText text, string by, DateTimeOffset at, string who) =>
        new()
        {
            ConsentId = text.Id,
            Text = text.Text,
            AgreedBy = by.Trim(),
            At = at,
            RecordedBy = who,
        };

    /// <summary>Takes a consent back; it stays in the record.</summary>
    public async Task<ActResult> TakeBackAsync(JobView job, int consentId, string who, CancellationToken cancel)
    {
        if (job.WhyFrozenAt(Station.Intake) is { } frozen)
            return ActResult.Refuse(frozen);
        if (job.Row.Consents.FirstOrDefault(consent => consent.Id == consentId && consent.WithdrawnAt is null) is not { } consent)
            return ActResult.Refuse("That was taken back already.");
        (consent.WithdrawnAt, consent.WithdrawnBy) = (time.GetUtcNow(), who);
        store.Note(job.Row.Id, who, $"Taken back: {consent.Text}");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did("Taken back. It stays in the record.");
    }

    /// <summary>Keeps what somebody says of the phone, as a claim.</summary>
    public async Task<ActResult> ClaimAsync(JobView job, string? text, string? saidBy, string who, CancellationToken cancel)
    {
        if (job.WhyFrozenAt(Station.Intake) is { } frozen)
            return ActResult.Refuse(frozen);
        if (string.IsNullOrWhiteSpace(text) || text.Length > MaxClaim || string.IsNullOrWhiteSpace(saidBy) || saidBy.Length > MaxSpeaker)
            return ActResult.Refuse($"Say what was said, in {MaxClaim} characters at most, and by whom.");
        job.Row.Claims.Add(
            new ClaimRow
            {
                Text = text.Trim(),
                SaidBy = saidBy.Trim(),
                At = time.GetUtcNow(),
                RecordedBy = who,
            }
        );
        await db.SaveChangesAsync(cancel);
        return ActResult.Did("Kept as a claim.");
    }

    /// <summary>Hands the phone back, and closes its record.</summary>
    /// <param name="job">The job.</param>
    /// <param name="whyNot">What stands in the way, or null.</param>
    /// <param name="returned">What was ticked off as going back with it.</param>
    /// <param name="who">Who hands it back.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> HandBackAsync(
        JobView job,
        string? whyNot,
        IReadOnlyList<string> returned,
        string who,
        CancellationToken cancel
    )
    {
        if (job.Row.HandedBackAt is not null)
            return ActResult.Refuse("It was handed back already.");
        if (whyNot is not null)
            return ActResult.Refuse(whyNot);
        await CloseAsync(job, returned.Count == 0 ? "Handed back." : $"Handed back, with: {string.Join(", ", returned)}.", who, cancel);
        return ActResult.Did("Handed back. The job is in the logbook.");
    }

    /// <summary>
    /// Hands a phone back that was written in part, because its owner gives the repair up. That they were told what it holds is a consent
    /// of the job, and stands on the sheet.
    /// </summary>
    /// <param name="job">The job.</param>
    /// <param name="mayGiveUp">Whether there is anything to give up.</param>
    /// <param name="wasTold">Whether the owner was told what works and what does not.</param>
    /// <param name="agreedBy">Who gave it up, and how.</param>
    /// <param name="who">Who hands it back.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> GiveUpAsync(
        JobView job,
        bool mayGiveUp,
        bool wasTold,
        string? agreedBy,
        string who,
        CancellationToken cancel
    )
    {
        if (!mayGiveUp)
            return ActResult.Refuse("There is nothing to give up: the phone was not written in part, or goes back as it should.");
        if (!wasTold || agreedBy?.Trim() is not { Length: > 0 and <= MaxSpeaker } owner)
            return ActResult.Refuse("Tell the owner what works and what does not, and note who gives the repair up, and how.");
        db.Consents.Add(
            new ConsentRow
            {
                JobId = job.Row.Id,
                ConsentId = GivenUp,
                Text = "The repair is given up. What the phone holds, what works and what does not, was told.",
                AgreedBy = owner,
                At = time.GetUtcNow(),
                RecordedBy = who,
            }
        );
        await CloseAsync(job, $"Handed back unrepaired: {owner} gave the repair up.", who, cancel);
        return ActResult.Did("Handed back, unrepaired. The job is in the logbook.");
    }

    private static string HowPromised(DateTimeOffset promised, DateTimeOffset now)
    {
        var late = now - promised;
        var length = Math.Abs(late.TotalHours) < 2 ? $"{Math.Abs(late.TotalMinutes):0} min" : $"{Math.Abs(late.TotalHours):0} h";
        return $"Went back {length} {(late > TimeSpan.Zero ? "after" : "before")} its promise.";
    }

    /// <summary>Closes the record; what was saved from the phone is the customer's, who has it back now.</summary>
    private async Task CloseAsync(JobView job, string note, string who, CancellationToken cancel)
    {
        job.Row.HandedBackAt = time.GetUtcNow();
        if (job.Row.PromisedAt is { } promised)
            store.Note(job.Row.Id, who, HowPromised(promised, job.Row.HandedBackAt.Value));
        store.Note(job.Row.Id, who, note);
        await db.SaveChangesAsync(cancel);
        if (kept.DeleteOf(job.Row) is not (> 0 and var files))
            return;
        store.Note(job.Row.Id, who, $"Deleted here what was fetched from the phone: {files} {(files == 1 ? "file" : "files")}.");
        await db.SaveChangesAsync(cancel);
    }
}
