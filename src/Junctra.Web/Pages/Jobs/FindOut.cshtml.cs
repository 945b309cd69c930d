using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>
/// Facts with their sources, and what is wrong: reading the phone, noting what a person reads, check by check to a fault class.
/// </summary>
public sealed class FindOutModel(JobLoader jobs, ObservationService observations, JunctraDb db, ModelCatalogue catalogue) : JobPage(jobs)
{
    public override Station Station => Station.FindOut;

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
        PortWanted = port;
        var (result, _) = await observations.ReadAsync(
            Job,
            port,
            "Nothing was recorded. Check the cable and the port; the phone must show its bootloader menu.",
            Who,
            cancel
        );
        return After(result, Station.FindOut);
    }

    public async Task<IActionResult> OnPostNoteAsync(string? name, string? value, FactSource source, CancellationToken cancel)
    {
        (TypedName, TypedValue, TypedSource) = (name, value, source);
        // A code that was meant as another thing than it reads as is explained beside the refusal.
        if (name == FactName.ModelCode.Name.Value || name == FactName.Build.Name.Value || name == FactName.Region.Name.Value)
            TypedCode = CodeReading.Read(value, catalogue);
        return ModelState.IsValid
            ? After(await observations.NoteAsync(Job, name, value, source, Who, cancel), Station.FindOut)
            : Refused("That is no fact a person can note here.");
    }

    public async Task<IActionResult> OnPostWithdrawAsync(int factId, CancellationToken cancel) =>
        After(await observations.WithdrawAsync(Job, factId, Who, cancel), Station.FindOut);

    public async Task<IActionResult> OnPostAnswerAsync(string? check, string? outcome, CancellationToken cancel)
    {
        var result = await observations.AnswerAsync(Job, check, outcome, Who, cancel);
        // What somebody else answered meanwhile is to be seen.
        if (result.Refusal is not null)
            await ReloadAsync(cancel);
        return After(result, Station.FindOut);
    }

    public async Task<IActionResult> OnPostTakeBackAsync(int answerId, CancellationToken cancel) =>
        After(await observations.TakeBackAsync(Job, answerId, Who, cancel), Station.FindOut);

    public async Task<IActionResult> OnPostTakeAsync(string? fault, CancellationToken cancel) =>
        After(await observations.TakeFindingAsync(Job, fault, Who, cancel), Station.FindOut);

    public async Task<IActionResult> OnPostSnapshotAsync(CancellationToken cancel) =>
        After(await observations.TakeSnapshotAsync(Job, Who, cancel), Station.FindOut);
}
