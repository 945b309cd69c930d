using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Rescue;
using Junctra.Core.Runs;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Drawing;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.Jobs;

/// <summary>A run that was carried out to its end.</summary>
/// <param name="Run">The run.</param>
/// <param name="Accepted">Partitions whose image the phone accepted.</param>
public sealed record DoneRun(RunRow Run, IReadOnlyList<string> Accepted);

/// <summary>The sheet that goes over the counter with the phone.</summary>
public sealed class HandBackModel(
    JobLoader jobs,
    RecordService records,
    RescueRecord rescues,
    RunJournal journal,
    Planner planner,
    ModelCatalogue catalogue,
    IOptions<JunctraOptions> options
) : JobPage(jobs)
{
    private static readonly FactName[] FoundNames =
    [
        FactName.ModelCode,
        FactName.Build,
        FactName.BootloaderRevision,
        FactName.RollbackFloor,
        FactName.RadioBuild,
        FactName.LockState,
        FactName.DeviceStatus,
        FactName.BatteryPercent,
    ];

    public override Station Station => Station.HandBack;

    public override string ActsBy => Policies.Counter;

    public string Shop => options.Value.Shop;

    /// <summary>The fault class that was taken as the finding, or null.</summary>
    public FaultClass? Finding => catalogue.Triage.Class(Job.Row.FaultClassId);

    /// <summary>The runs that were carried out to their end, in order: a write, and the wipe that followed it, are two.</summary>
    public IReadOnlyList<DoneRun> Carried { get; private set; } = [];

    /// <summary>The run that finished last, or null.</summary>
    public RunRow? Written => Carried.Count > 0 ? Carried[^1].Run : null;

    /// <summary>
    /// The checks, each fact once, by the last run that asked for it: a phone that was written, checked and then locked was checked twice,
    /// and what held after the write and was not touched since stands beside what holds now. They must go on one side.
    /// </summary>
    public IReadOnlyList<CheckLine> Checked
    {
        get
        {
            var lines = Job.Checks.ToList();
            foreach (var run in Carried.Select(done => done.Run).Where(run => run != Job.LastRun).Reverse())
                lines.AddRange(
                    Checker
                        .Compare(run.Plan, new Phone(Job.ReadAfter(run)))
                        .Where(line =>
                            line.State == CheckState.AsIntended
                            && lines.TrueForAll(known => known.Expectation.Fact != line.Expectation.Fact)
                        )
                        .ToList()
                );
            return lines;
        }
    }

    /// <summary>What the runs together changed for ever or lost, each thing once.</summary>
    public IEnumerable<Fate> Lost =>
        Carried
            .SelectMany(done => done.Run.Plan.Rehearsal.Fates)
            .Where(fate => fate.Kind is FateKind.Lost or FateKind.OneWay)
            .DistinctBy(fate => fate.Thing);

    /// <summary>What was read before the write; afterwards it could not be proved any more.</summary>
    public IReadOnlyList<Fact> Before { get; private set; } = [];

    public IReadOnlyList<GateAnswerRow> Agreed { get; private set; } = [];

    /// <summary>Whether any run told the phone to write or erase something; until then it is as it came.</summary>
    public bool WasTouched { get; private set; }

    public bool MayGo =>
        Job.Row.HandedBackAt is null
        && !JobStore.IsWriting(Job.Row)
        && RescueService.WhyNotBack(Job, Rescue) is null
        && (!WasTouched || (Job.LastRun!.Status == RunStatus.Finished && Checker.IsPassed(Job.Checks)));

    /// <summary>How the rescue of its board stands; null where nothing is known of its inside.</summary>
    public RescueState? Rescue { get; private set; }

    /// <summary>What was done at the opened phone; null where it was not opened.</summary>
    public string? Opened => Rescue is { } state ? RescueWords.Summary(state) : null;

    /// <summary>Why nothing was written, where there is a reason.</summary>
    public string? WhyNotWritten { get; private set; }

    /// <summary>What goes over the counter with the phone, to be ticked off.</summary>
    public IReadOnlyList<string> Returns =>
        GoesBack.Of(
            Job.Row.Accessories,
            Job.Row.Answers.Any(answer => answer.GateId == GateId.CardsOut.Value),
            Job.Row.Facts.Any(fact =>
                fact.WithdrawnAt is null && fact.Name == FactName.Card.Value && fact.Value == FactName.Card.Write(Presence.Present)
            ),
            Carried.Any(done => done.Run.Plan.Steps.Any(step => step.Act is SaveData)) && !Carried.Any(done => done.Run.Plan.BringsBack)
        );

    /// <summary>Runs that ended early after the phone was told to write something, as they were left.</summary>
    public IReadOnlyList<(RunRow Run, RunState State)> Broken { get; private set; } = [];

    /// <summary>Whether the phone is not in order: a write ended early, or a check is not as intended.</summary>
    public bool IsUnrepaired => WasTouched && !(Job.LastRun!.Status == RunStatus.Finished && Checker.IsPassed(Job.Checks));

    /// <summary>Whether its owner may take it as it is.</summary>
    public bool MayGiveUp =>
        IsUnrepaired && Job.Row.HandedBackAt is null && !JobStore.IsWriting(Job.Row) && RescueService.WhyNotBack(Job, Rescue) is null;

    /// <summary>What of an unrepaired phone works and what does not, as far as it is known.</summary>
    public IEnumerable<string> WorksOrNot
    {
        get
        {
            yield return !Job.Phone.Of(FactName.Mode).TryGet(out var mode) || mode == PhoneMode.Unknown
                ? "That it starts was not seen since the write."
            : mode is PhoneMode.System or PhoneMode.SetupWizard ? $"It starts: it last showed {mode.Label()}."
            : $"It was last seen in {mode.Label()}; that it starts was not seen.";
            foreach (var line in Job.Checks.Where(line => line.State != CheckState.AsIntended))
                yield return $"{line.Expectation.Fact.Label}: meant to be {line.Expectation.Value}, {(line.Claims.Count > 0 ? $"is {string.Join(" or ", line.Claims.Select(claim => claim.Value).Distinct())}" : "not read")}.";
            if (Broken is [.., var last] && last.Run == Job.LastRun)
                yield return $"Whoever goes on with it: {last.State.Next}";
        }
    }

    public string Standing =>
        MayGo
            ? Written is null
                ? Opened is null
                    ? "Nothing was written; the phone goes back as it came."
                    : "Nothing was written; it was opened and closed up again."
                : "All checks hold. SIM and card go back in first."
            : JobStore.IsWriting(Job.Row)
                ? "A write is going on."
                : RescueService.WhyNotBack(Job, Rescue) is { } open
                    ? open
                    : Job.LastRun is { } last && last.Status.EndedEarly()
                        ? "The last write ended early: the phone is not in order."
                        : "Not yet: the checks are not all as intended.";

    /// <summary>What the customer should know, honest about what stays modified.</summary>
    public IEnumerable<string> KnowThis
    {
        get
        {
            if (Written is { } run)
            {
                if (run.Plan.ClosesLock)
                    yield return "The lock is closed, over its maker's software. Opening it again erases everything. The switch that permits it may show only after the phone was online and asked for an update.";
                else if (run.Plan.Target.LockState == LockState.Unlocked)
                    yield return "The bootloader is handed back unlocked. A warning at every start is normal for that. Closing the lock is a job of its own, and erases the phone where its maker has it so.";
                if (run.Plan.ErasesData)
                    yield return "The phone starts with its set-up. It may ask for the account that was signed in last; only its owner can answer. The privacy choices are the owner's.";
                else
                    yield return "The data was kept. Apps of the former system may need an update, or to be installed again.";
                yield return "The first start and the first update take several minutes. Apps update themselves afterwards.";
            }

            if (Opened is not null)
                yield return "The phone was opened: it is no longer proof against water.";
            if (Job.Row.Cell != CellState.Sound)
                yield return "Do not charge it, and keep it away from heat and from what burns: a cell like this can catch fire. A collection point for batteries takes it.";
            yield return "SIM and storage card are back in the phone. Keep a backup of your own from now on.";
            yield return "What this means for the warranty depends on the maker and on local consumer law; ask there. Identity numbers were not touched.";
        }
    }

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        Rescue = await rescues.StateOfAsync(Job, cancel);
        var broken = new List<(RunRow, RunState)>();
        foreach (var run in Job.Row.Runs)
        {
            var state = RunState.Of(run.Plan, await journal.ReadAsync(run.Id, cancel: cancel));
            WasTouched |= state.HasTouchedPhone;
            if (run.Status.EndedEarly() && state.HasTouchedPhone)
                broken.Add((run, state));
        }

        Broken = broken;
        var carried = new List<DoneRun>();
        foreach (var run in Job.Row.Runs.Where(run => run.Status == RunStatus.Finished))
        {
            var state = RunState.Of(run.Plan, await journal.ReadAsync(run.Id, cancel: cancel));
            carried.Add(
                new DoneRun(
                    run,
                    [
                        .. run
                            .Plan.Steps.SelectMany(step => step.Act.Touches)
                            .Select(touch => touch.Partition)
                            .Where(state.Accepted.ContainsKey),
                    ]
                )
            );
        }

        Carried = carried;
        if (!WasTouched)
            WhyNotWritten = WithoutWrite.Why(
                Job.Row.Cell,
                Finding,
                Rescue?.HasOpened == true ? null : await planner.WhyNotWorthOpeningAsync(Job, cancel)
            );
        var until = Carried.Count > 0 ? Carried[0].Run.BegunAt : DateTimeOffset.MaxValue;
        var before = new Phone(Job.Row.Facts.Where(f => f.WithdrawnAt is null && f.At < until).Select(f => f.ToFact()));
        Before = [.. FoundNames.Select(name => before[name].Best).OfType<Fact>()];
        Agreed = [.. Job.Row.Answers.Where(a => Carried.Any(done => IsFor(a, done.Run)) && a.GateId is not ("program" or "cable"))];
    }

    /// <summary>What lines in a state are called on the sheet.</summary>
    public static string WordOf(CheckState state) =>
        state switch
        {
            CheckState.AsIntended => "As intended:",
            CheckState.Differs => "Not as intended:",
            _ => "Not read:",
        };

    /// <summary>What was read of a line, each value once.</summary>
    public static string ReadOf(CheckLine line) =>
        string.Join(", ", line.Claims.Select(claim => Say.Value(claim.Name, claim.Value)).Distinct(StringComparer.OrdinalIgnoreCase));

    /// <summary>What a run did that wrote no image.</summary>
    public static string WithoutImages(Plan plan) =>
        !plan.ClosesLock ? "Nothing was written; the user data was erased in recovery."
        : plan.ErasesData ? "Nothing was written; the lock was closed, and that erased the user data."
        : "Nothing was written; the lock was closed.";

    /// <summary>Whether an answer was given for a run's plan; plans of before they had keys were told apart by package and data.</summary>
    private static bool IsFor(GateAnswerRow answer, RunRow run) =>
        answer.PlanKey is { } key
            ? key == run.Plan.Key
            : run.Plan.Version < Plan.WithKeys && answer.PackageId == run.PackageId && answer.ErasesData == run.Plan.ErasesData;

    public async Task<IActionResult> OnPostAsync(string[] back, CancellationToken cancel) =>
        After(await records.HandBackAsync(Job, MayGo ? GoesBack.WhyNot(Returns, back) : Standing, Returns, Who, cancel), Station.HandBack);

    /// <summary>Its owner gives the repair up.</summary>
    public async Task<IActionResult> OnPostGiveUpAsync(bool told, string? owner, string[] back, CancellationToken cancel) =>
        MayGiveUp && GoesBack.WhyNot(Returns, back) is { } missing
            ? Refused(missing)
            : After(await records.GiveUpAsync(Job, MayGiveUp, told, owner, Who, cancel), Station.HandBack);
}
