using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Link;
using Junctra.Store;
using Junctra.Store.Logbook;

namespace Junctra.Web.Bench.Acts;

/// <summary>
/// What somebody learns of a phone and writes down: readings over the link, values that were read off, answers to checks, the finding.
/// All of it is refused while the job may not be changed.
/// </summary>
public sealed partial class ObservationService(
    JobStore store,
    JunctraDb db,
    PhoneVisits visits,
    LinkHistory history,
    RunJournal journal,
    ModelCatalogue catalogue,
    TimeProvider time
)
{
    private const int MaxMilliamperes = 10_000;
    private const int NoCurrent = 50;

    /// <summary>Facts that a person can read somewhere and note.</summary>
    public static IReadOnlyList<FactDefinition> Typable { get; } =
    [.. FactName.All.Select(name => name.Definition).Where(definition => definition.IsTypable)];

    /// <summary>Reads what the phone at a port says of itself.</summary>
    /// <param name="job">The job.</param>
    /// <param name="port">Name of the port.</param>
    /// <param name="hint">What to look at where nothing answers, as a sentence.</param>
    /// <param name="who">Who reads.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<(ActResult Result, PhoneReading? Reading)> ReadAsync(
        JobView job,
        string port,
        string hint,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return (ActResult.Refuse(frozen), null);
        var visit = await visits.ReadAsync(job.Row, port, who, cancel);
        return visit.Reading is { } reading
            ? (ActResult.Did(string.Join(" ", [$"Read {reading.Facts.Count} facts at port {port}.", .. reading.Remarks])), reading)
            : (ActResult.Refuse($"{visit.Problem} {hint}"), null);
    }

    /// <summary>Notes a value that a person read somewhere.</summary>
    public async Task<ActResult> NoteAsync(
        JobView job,
        string? name,
        string? value,
        FactSource source,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (!IntakeForm.Sources.Contains(source) || Typable.FirstOrDefault(one => one.Id == name) is not { } definition)
            return ActResult.Refuse("That is no fact a person can note here.");
        var (at, fact) = (time.GetUtcNow(), new FactName(definition.Id));
        if (fact == FactName.ModelCode || fact == FactName.Build)
        {
            var code = CodeReading.Read(value, catalogue);
            if (code.Problem is not null || (code.Model is null && code.Build is null))
                return ActResult.Refuse(
                    code.Problem ?? (code.IsAnything ? $"“{value}” is no {definition.Label.ToLowerInvariant()}." : "The value is empty.")
                );
            await store.AddFactsAsync(job.Row, code.Facts(source, at, who), cancel);
        }
        else if (fact.Normalise(value) is { } normal)
        {
            if (fact == FactName.Region && catalogue.Region(normal) is null)
                return ActResult.Refuse(
                    $"“{normal}” is no region code of the catalogue: {string.Join(", ", catalogue.Regions.Select(region => region.Code))}."
                );
            await store.AddFactsAsync(job.Row, BuildFacts.With(new Fact(fact, normal, source, at, who), catalogue), cancel);
        }
        else
        {
            return ActResult.Refuse($"“{value}” is no {definition.Label.ToLowerInvariant()}. {definition.Form.Hint}");
        }

        return ActResult.Did($"Noted: {definition.Label.ToLowerInvariant()}.");
    }

    /// <summary>Withdraws a claim; it stays in the history.</summary>
    public async Task<ActResult> WithdrawAsync(JobView job, int factId, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        return ActResult.Did(
            await store.WithdrawAsync(job.Row, factId, who, cancel) ? "Withdrawn. It stays in the history." : "That fact no longer counted."
        );
    }

    /// <summary>Answers a check. Where somebody else answered otherwise meanwhile, both are said and theirs stays.</summary>
    public async Task<ActResult> AnswerAsync(JobView job, string? checkId, string? outcomeId, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (catalogue.Triage.Check(checkId) is not { } asked)
            return ActResult.Refuse("That check is not in the catalogue any more. Nothing was stored.");
        var came = asked.Outcome(outcomeId);
        if (came is null && outcomeId != TriageAnswerRow.CannotTell)
            return ActResult.Refuse("That is none of the answers. Nothing was stored.");
        var at = time.GetUtcNow();
        var theirs = await store.AnswerAsync(
            job.Row,
            new TriageAnswerRow
            {
                CheckId = asked.Id,
                OutcomeId = came?.Id ?? TriageAnswerRow.CannotTell,
                At = at,
                By = who,
            },
            came is null ? [] : [.. asked.FactsOf(came, at, who)],
            cancel
        );
        return theirs is null || theirs.OutcomeId == outcomeId
            ? ActResult.Did()
            : ActResult.Refuse(
                $"{theirs.By} answered this meanwhile: {asked.Outcome(theirs.OutcomeId)?.Label ?? "cannot tell"}. You said: {came?.Label ?? "cannot tell"}. If yours is right, take theirs back and answer again."
            );
    }

    /// <summary>Takes an answer back; what it told as facts no longer counts.</summary>
    public async Task<ActResult> TakeBackAsync(JobView job, int answerId, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        return await store.TakeBackAsync(job.Row, answerId, who, cancel)
            ? ActResult.Did("Taken back.")
            : ActResult.Refuse("That answer was taken back already.");
    }

    /// <summary>Takes a fault class as the finding.</summary>
    public async Task<ActResult> TakeFindingAsync(JobView job, string? fault, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (catalogue.Triage.Class(fault) is not { } taken)
            return ActResult.Refuse("That is no fault class.");
        var diagnosis = job.Diagnose(catalogue);
        var chance = diagnosis.Candidates.FirstOrDefault(candidate => candidate.Class.Id == taken.Id)?.Chance ?? 0;
        job.Row.FaultClassId = taken.Id;
        job.Row.Findings.Add(
            new FindingRow
            {
                ClassId = taken.Id,
                Chance = chance,
                At = time.GetUtcNow(),
                By = who,
            }
        );
        store.Note(job.Row.Id, who, $"Finding: {taken.Label} ({chance:P0} by {diagnosis.Leading?.Evidence.Count ?? 0} observations).");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did($"The finding is: {taken.Label.ToLowerInvariant()}.");
    }

    /// <summary>Keeps what is known now, to hold the phone against after a write.</summary>
    public async Task<ActResult> TakeSnapshotAsync(JobView job, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        await store.TakeSnapshotAsync(job.Row, job.Phone, who, cancel);
        return ActResult.Did("The snapshot of before is taken.");
    }

    /// <summary>Notes what a phone shows; where that is a sign that something went wrong, it is said what to do.</summary>
    /// <param name="job">The job.</param>
    /// <param name="mode">Id of the mode that it shows.</param>
    /// <param name="view">The route that somebody followed, or null.</param>
    /// <param name="who">Who looks at it.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> ShowsAsync(JobView job, string? mode, RouteView? view, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (PhoneModes.Parse(mode) is not { } shows || shows == PhoneMode.Unknown)
            return ActResult.Refuse("That is no screen that is known here.");
        var answer = view?.Answers.FirstOrDefault(answer => answer.Mode == shows);
        await store.AddFactsAsync(job.Row, RouteService.FactsOf(shows, time.GetUtcNow(), who), cancel);
        return ActResult.Did(
            answer?.Means is { } means ? $"It shows {shows.Label()}. {means} {answer.Then}" : $"It shows {shows.Label()}."
        );
    }

    /// <summary>Notes that the phone is on a charger whose current is watched.</summary>
    public async Task<ActResult> ChargeAsync(JobView job, int? milliamperes, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (milliamperes is < 0 or > MaxMilliamperes)
            return ActResult.Refuse($"A current is 0 to {MaxMilliamperes:N0} mA.");
        job.Row.ChargeBeganAt ??= time.GetUtcNow();
        job.Row.ChargeMilliamperes = milliamperes ?? job.Row.ChargeMilliamperes;
        await store.SaveAsync(
            job.Row,
            who,
            milliamperes is { } current ? $"On a known-good charger, {current} mA." : "On a known-good charger.",
            cancel
        );
        return ActResult.Did(
            milliamperes is < NoCurrent
                ? "Next to no current flows: clean the charge port, then another cable and another charger. Nothing is written."
                : $"Leave it {catalogue.Figures.ChargeInsteadMinutes} minutes, and watch the current. Nothing is written."
        );
    }

    /// <summary>Says which of the listed phones is the job's: its serial becomes a fact.</summary>
    public async Task<ActResult> MarkAsync(
        JobView job,
        string? serial,
        IReadOnlyList<ListedPhone>? listed,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (FactName.Serial.Name.Normalise(serial?.Trim() ?? "") is not { } value)
            return ActResult.Refuse("That is no serial.");
        if (listed is not null && !listed.Any(phone => value.Equals(phone.Serial, StringComparison.OrdinalIgnoreCase)))
            return ActResult.Refuse($"No phone with the serial {value} is listed. Read it once more on the phone's screen or label.");
        await store.AddFactsAsync(job.Row, [new Fact(FactName.Serial, value, FactSource.BootloaderScreen, time.GetUtcNow(), who)], cancel);
        return ActResult.Did($"The target is the phone with the serial {value}. Nothing is ever written to another one.");
    }

    /// <summary>Notes that a remedy of the link doctor was tried, and what the computer lists since.</summary>
    /// <param name="job">The job.</param>
    /// <param name="tried">The try; whether it worked is told from its signs.</param>
    /// <param name="who">Who tried.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> TriedAsync(JobView job, LinkTryRow tried, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (catalogue.Links.Remedy(tried.Remedy) is not { } remedy || catalogue.Links.Sign(tried.Sign) is null)
            return ActResult.Refuse("That is no remedy for what is listed.");
        if (catalogue.Links.Sign(tried.SignAfter) is not { } after)
            return ActResult.Refuse("Say what the computer lists now.");
        var things = (await history.ThingsAsync(cancel)).ToDictionary(thing => thing.Id);
        if (
            tried.CableId is { } cable && things.GetValueOrDefault(cable)?.Kind != LinkThing.Cable
            || tried.ComputerId is { } computer && things.GetValueOrDefault(computer)?.Kind != LinkThing.Computer
        )
            return ActResult.Refuse("That cable or computer is not of this bench.");
        (tried.JobId, tried.By, tried.Worked) = (job.Row.Id, who, LinkDoctor.Mended(tried.Sign, after));
        await history.RecordAsync(tried, cancel);
        return ActResult.Did(
            after.IsWell ? $"{remedy.Label}: that did it." : $"{remedy.Label}: {after.Label}. The next remedy is first now."
        );
    }

    // What a first boot shows is of the write that came before it.
}
