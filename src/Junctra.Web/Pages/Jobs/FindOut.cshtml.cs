using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>
/// Facts with their sources, and what is wrong: reading the phone, noting what a person reads, check by check to a fault class.
/// </summary>
public sealed class FindOutModel(
    JobLoader jobs,
    JobStore store,
    PhoneVisits visits,
    JunctraDb db,
    ModelCatalogue catalogue,
    TimeProvider time
) : JobPage(jobs)
{
    public override Station Station => Station.FindOut;

    /// <summary>Facts that a person can read somewhere and note.</summary>
    public static IReadOnlyList<FactDefinition> Typable { get; } =
    [.. FactName.All.Select(name => name.Definition).Where(definition => definition.IsTypable)];

    public IReadOnlyList<ResolvedFact> Facts { get; private set; } = [];

    public IReadOnlyList<ResolvedFact> Partitions { get; private set; } = [];

    public IReadOnlyList<PhoneFinding> Findings { get; private set; } = [];

    public IReadOnlyList<WantedFact> Wanted { get; private set; } = [];

    public VariantQuestion? Variants { get; private set; }

    public IReadOnlyList<FactRow> Gone { get; private set; } = [];

    public IReadOnlyList<PortRow> Ports { get; private set; } = [];

    public Diagnosis Diagnosis { get; private set; } = null!;

    /// <summary>The class that somebody took as the finding, or null.</summary>
    public FaultClass? Taken { get; private set; }

    /// <summary>What a snapshot of before would hold now.</summary>
    public BeforeSnapshot Before { get; private set; } = null!;

    public string? PortWanted { get; private set; }

    public string? TypedName { get; private set; }

    public string? TypedValue { get; private set; }

    public FactSource TypedSource { get; private set; } = FactSource.Settings;

    /// <summary>What a code that was noted turned out to be, where it meant nothing.</summary>
    public CodeReading? TypedCode { get; private set; }

    /// <summary>Answers of people that count, the latest first, with the check and what came out.</summary>
    public IReadOnlyList<(TriageAnswerRow Row, TriageCheck Check, CheckOutcome? Outcome)> Given =>
        [
            .. Job
                .Row.TriageAnswers.Where(answer => answer.WithdrawnAt is null)
                .OrderByDescending(answer => answer.Id)
                .Select(answer =>
                    (answer, catalogue.Triage.Check(answer.CheckId), catalogue.Triage.Check(answer.CheckId)?.Outcome(answer.OutcomeId))
                )
                .Where(one => one.Item2 is not null)
                .Select(one => (one.answer, one.Item2!, one.Item3)),
        ];

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        var all = Job.Phone.Names.Select(name => Job.Phone[name]).ToList();
        var order = FactName.All.Select((name, i) => (name, i)).ToDictionary(pair => pair.name, pair => pair.i);
        Facts =
        [
            .. all.Where(fact => !fact.Name.IsPartitionSize && !fact.Name.IsReached)
                .OrderBy(fact => order.GetValueOrDefault(fact.Name, int.MaxValue)),
        ];
        Partitions = [.. all.Where(fact => fact.Name.IsPartitionSize && fact.State == FactState.Known)];
        Findings = PhoneFindings.Of(Job.Phone, catalogue);
        Wanted = WantedFacts.Of(
            Job.Phone,
            Job.Row.DataWish switch
            {
                DataWish.Keep => false,
                DataWish.MayGo => true,
                _ => null,
            },
            catalogue
        );
        Variants = VariantQuestion.For(Job.Phone, catalogue);
        var shown = Facts.SelectMany(RowsOf).Concat(ReachedModes.SelectMany(RowsOf)).ToHashSet();
        Gone = [.. Job.Row.Facts.Where(row => !shown.Contains(row) && !new FactName(row.Name).IsPartitionSize)];
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        PortWanted = Job.Row.PortName ?? (Ports.Count > 0 ? Ports[0].Name : null);
        Diagnosis = Job.Diagnose(catalogue);
        Taken = catalogue.Triage.Class(Job.Row.FaultClassId);
        Before = BeforeSnapshot.Of(Job.Phone);
    }

    /// <summary>Modes that the phone was, or was not, seen to reach.</summary>
    public IEnumerable<string> ModesWhere(bool reached) =>
        ReachedModes
            .Select(fact => fact.Name.ReachedMode)
            .Where(mode => Job.Phone.Of(FactName.Reached(mode)).Is(reached))
            .Select(mode => mode.Label());

    /// <summary>What is known of modes that it reached or did not.</summary>
    public IEnumerable<ResolvedFact> ReachedModes => Job.Phone.Names.Where(name => name.IsReached).Select(name => Job.Phone[name]);

    /// <summary>
    /// The rows behind a fact's claims, in the claims' order; those that count for nothing but a bound where there is no claim.
    /// </summary>
    public IReadOnlyList<FactRow> RowsOf(ResolvedFact fact) =>
        fact.Claims.Count > 0
            ? [.. fact.Claims.Select(claim => Job.Row.Facts.Last(row => row.Counts && row.ToFact() == claim))]
            : [.. Job.Row.Facts.Where(row => row.Counts && row.Name == fact.Name.Value)];

    public async Task<IActionResult> OnPostReadAsync(string port, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        var visit = await visits.ReadAsync(Job.Row, port, Who, cancel);
        if (visit.Reading is null)
        {
            PortWanted = port;
            return Refused($"{visit.Problem} Nothing was recorded. Check the cable and the port; the phone must show its bootloader menu.");
        }

        Done = string.Join(" ", [$"Read {visit.Reading.Facts.Count} facts at port {port}.", .. visit.Reading.Remarks]);
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostNoteAsync(string? name, string? value, FactSource source, CancellationToken cancel)
    {
        (TypedName, TypedValue, TypedSource) = (name, value, source);
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (
            !ModelState.IsValid
            || !IntakeForm.Sources.Contains(source)
            || Typable.FirstOrDefault(definition => definition.Id == name) is not { } definition
        )
            return Refused("That is no fact a person can note here.");
        var at = time.GetUtcNow();
        var fact = new FactName(definition.Id);
        if (fact == FactName.ModelCode || fact == FactName.Build)
        {
            var code = CodeReading.Read(value, catalogue);
            TypedCode = code;
            if (code.Problem is not null || (code.Model is null && code.Build is null))
                return Refused(
                    code.Problem ?? (code.IsAnything ? $"“{value}” is no {definition.Label.ToLowerInvariant()}." : "The value is empty.")
                );
            await store.AddFactsAsync(Job.Row, code.Facts(source, at, Who), cancel);
        }
        else if (fact.Normalise(value) is { } normal)
        {
            if (fact == FactName.Region && catalogue.Region(normal) is null)
            {
                TypedCode = CodeReading.Read(value, catalogue);
                return Refused(
                    $"“{normal}” is no region code of the catalogue: {string.Join(", ", catalogue.Regions.Select(region => region.Code))}."
                );
            }

            await store.AddFactsAsync(Job.Row, BuildFacts.With(new Fact(fact, normal, source, at, Who), catalogue), cancel);
        }
        else
        {
            return Refused($"“{value}” is no {definition.Label.ToLowerInvariant()}. {definition.Form.Hint}");
        }

        Done = $"Noted: {definition.Label.ToLowerInvariant()}.";
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostWithdrawAsync(int factId, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        Done = await store.WithdrawAsync(Job.Row, factId, Who, cancel)
            ? "Withdrawn. It stays in the history."
            : "That fact no longer counted.";
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostAnswerAsync(string? check, string? outcome, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (catalogue.Triage.Check(check) is not { } asked)
            return Refused("That check is not in the catalogue any more. Nothing was stored.");
        var came = asked.Outcome(outcome);
        if (came is null && outcome != TriageAnswerRow.CannotTell)
            return Refused("That is none of the answers. Nothing was stored.");
        var at = time.GetUtcNow();
        var theirs = await store.AnswerAsync(
            Job.Row,
            new TriageAnswerRow
            {
                CheckId = asked.Id,
                OutcomeId = came?.Id ?? TriageAnswerRow.CannotTell,
                At = at,
                By = Who,
            },
            came is null ? [] : [.. asked.FactsOf(came, at, Who)],
            cancel
        );
        if (theirs is not null)
        {
            await ReloadAsync(cancel);
            if (theirs.OutcomeId != outcome)
                return Refused(
                    $"{theirs.By} answered this meanwhile: {asked.Outcome(theirs.OutcomeId)?.Label ?? "cannot tell"}. You said: {came?.Label ?? "cannot tell"}. If yours is right, take theirs back and answer again."
                );
        }

        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostTakeBackAsync(int answerId, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (!await store.TakeBackAsync(Job.Row, answerId, Who, cancel))
            return Refused("That answer was taken back already.");
        Done = "Taken back.";
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostTakeAsync(string? fault, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (catalogue.Triage.Class(fault) is not { } taken)
            return Refused("That is no fault class.");
        var chance = Diagnosis.Candidates.FirstOrDefault(candidate => candidate.Class.Id == taken.Id)?.Chance ?? 0;
        Job.Row.FaultClassId = taken.Id;
        store.Note(Job.Row.Id, Who, $"Finding: {taken.Label} ({chance:P0} by {Diagnosis.Leading?.Evidence.Count ?? 0} observations).");
        await db.SaveChangesAsync(cancel);
        Done = $"The finding is: {taken.Label.ToLowerInvariant()}.";
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostSnapshotAsync(CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        await store.TakeSnapshotAsync(Job.Row, Job.Phone, Who, cancel);
        Done = "The snapshot of before is taken.";
        return To(Station.FindOut);
    }
}
