using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Core.Triage;
using Junctra.Schedule;
using Junctra.Store;
using Junctra.Store.Logbook;

namespace Junctra.StandIns.History;

/// <summary>One job of the simulated shop, from the counter to the counter.</summary>
internal sealed partial class SimulatedJob
{
    private const string Counter = "counter";
    private const int MaxChecks = 6,
        MaxRounds = 3;
    private static readonly string[] Looks =
    [
        "black, no case",
        "blue case",
        "cracked corner",
        "silver, scratched back",
        "red rubber case",
        "white, worn edges",
        "green back",
        "gold, sticker on it",
    ];

    private readonly SimulatedShop shop;
    private readonly PhoneModel model;
    private readonly string serial;
    private readonly JobRow row;
    private readonly Dictionary<int, IReadOnlyList<JournalEntry>> journal = [];
    private readonly List<LabelledTry> tries = [];
    private readonly List<AuditRow> audit = [];
    private readonly SimulatedHands hands;
    private readonly FaultClass truth;
    private SimulatedCable cable;
    private DateTimeOffset now;

    public SimulatedJob(SimulatedShop shop, PhoneModel model, string serial, DateTimeOffset at, string ticket, Guid key)
    {
        (this.shop, this.model, this.serial, now) = (shop, model, serial, at);
        hands = Dice.Pick(SimulatedShop.People, one => one.Works);
        cable = Dice.Pick(SimulatedShop.Cables, one => one.Used);
        var maker = shop.Catalogue.MakerOf(model.Code)?.Name;
        truth = Dice.Pick(shop.Catalogue.Triage.Classes, one => one.Prior.For(maker, model.KeyFamily));
        row = new JobRow
        {
            Key = key,
            Ticket = ticket,
            Description = Dice.Pick(Looks),
            Complaint = truth.Looks,
            DataWish = Dice.Chance(0.45) ? DataWish.Keep : DataWish.MayGo,
            OwnershipStated = true,
            TakenInAt = at,
            PromisedAt = at.AddHours(4 + Dice.Below(5)),
            Cell = Dice.Chance(0.004) ? CellState.Swollen : CellState.Sound,
        };
    }

    /// <summary>The work that it took, in order.</summary>
    public List<DoneWork> Work { get; } = [];

    private Dice Dice => shop.Dice;

    private ModelCatalogue Catalogue => shop.Catalogue;

    private Phone Phone => new(row.Facts.Where(fact => fact.Counts).Select(fact => fact.ToFact()));

    public JobRecord Play()
    {
        TakeIn();
        if (row.Cell != CellState.Sound)
            return HandBack("Set apart; handed back as it came.");
        // It lies there until somebody has time.
        Wait(38 * Dice.Strays(0.9));
        for (var round = 0; round < MaxRounds; round++)
        {
            var finding = round == 0 ? FindOut() : Again();
            if (finding.WayOut.Paths.Count == 0)
            {
                if (finding.WayOut.Id == "link-doctor")
                    GetSeen();
                ByHands(6 * Dice.Strays(0.4), Known);
                return HandBack("Handed back.");
            }

            GetSeen();
            Read();
            if (Begin(finding) is not { } plan)
                return HandBack("Handed back as it came: nothing in the library may be written on it.");
            // What was not what ails it helps now and then all the same.
            if (CarryOut(plan) is not { } done || round < MaxRounds - 1 && finding.WayOut != truth.WayOut && Dice.Chance(0.75))
                continue;
            Check(done);
            Wait(25 * Dice.Strays(0.9));
            return HandBack("Handed back, with: SIM.");
        }

        return GiveUp();
    }

    // What is known of it when somebody goes on with it.
    private WorkCase Known =>
        new(Station.FindOut, Catalogue.Figures, now) { Ways = Diagnose().WaysOut, IsFound = row.FaultClassId is not null };

    private void ByHands(double minutes, WorkCase known)
    {
        Work.Add(new DoneWork(Needs.Hands | Needs.Shop, minutes, known));
        Wait(minutes);
    }

    private void Wait(double minutes) => now = SimulatedShop.Working(now.AddMinutes(minutes));

    private void Note(string by, string act) =>
        audit.Add(
            new AuditRow
            {
                At = now,
                By = by,
                Act = act,
            }
        );

    private void Add(FactName name, string value, FactSource source, string by) =>
        row.Facts.AddRange(BuildFacts.With(new Fact(name, value, source, now, by), Catalogue).Select(FactRow.Of));

    private void TakeIn()
    {
        Note(Counter, "Taken in.");
        Add(FactName.ModelCode, model.Code, FactSource.Label, Counter);
        foreach (var check in Catalogue.Triage.AtIntake)
            Answer(check, Counter);
        if (row.DataWish == DataWish.Keep && Dice.Chance(0.3))
            row.Claims.Add(
                new ClaimRow
                {
                    Text = "Somebody told the owner that an update keeps everything.",
                    SaidBy = "customer",
                    At = now,
                    RecordedBy = Counter,
                }
            );
    }

    /// <summary>What is seen, by what is wrong with the phone and by chance.</summary>
    private void Answer(TriageCheck check, string by)
    {
        var at = Catalogue.Triage.Classes.ToList().IndexOf(truth);
        var outcome = Dice.Pick(check.Outcomes, one => one.Likelihood[at]);
        var answer = new TriageAnswerRow
        {
            Id = row.TriageAnswers.Count + 1,
            CheckId = check.Id,
            OutcomeId = outcome.Id,
            At = now,
            By = by,
        };
        row.TriageAnswers.Add(answer);
        foreach (var fact in check.FactsOf(outcome, now, by))
        {
            var told = FactRow.Of(fact);
            told.TriageAnswerId = answer.Id;
            row.Facts.Add(told);
        }
    }

    private Diagnosis Diagnose() =>
        Diagnoser.Of(
            Catalogue.Triage,
            new TriageCase(Catalogue.MakerOf(model.Code)?.Name, model.KeyFamily, row.Cell, []),
            Observations.Of(Phone, row.TriageAnswers.Select(answer => answer.ToObservation()), Catalogue.Triage)
        );

    private FaultClass FindOut()
    {
        for (var checks = 0; checks < MaxChecks && Diagnose() is { Next: { } next }; checks++)
        {
            ByHands(next.Check.Minutes * Dice.Strays(0.3) * hands.Slower, Known);
            Answer(next.Check, hands.Name);
        }

        return Take(Diagnose().Leading!.Class);
    }

    /// <summary>It did not help: what else the observations allow, and somebody looks closer.</summary>
    private FaultClass Again()
    {
        ByHands(15 * Dice.Strays(0.5), Known with { IsFound = false });
        if (row.DataWish == DataWish.Keep && Dice.Chance(0.8))
        {
            row.DataWish = DataWish.MayGo;
            Note(hands.Name, "What may be lost: everything may go, as the owner said by telephone.");
        }

        return Take(truth);
    }

    private FaultClass Take(FaultClass taken)
    {
        var chance = Diagnose().Candidates.First(candidate => candidate.Class == taken).Chance;
        row.FaultClassId = taken.Id;
        row.Findings.Add(
            new FindingRow
            {
                ClassId = taken.Id,
                Chance = chance,
                At = now,
                By = hands.Name,
            }
        );
        Note(hands.Name, $"Finding: {taken.Label} ({Math.Round(chance * 100):0} % by {row.TriageAnswers.Count} observations).");
        return taken;
    }

    /// <summary>The computer is to see it: a bad cable is found out, or not.</summary>
    private void GetSeen()
    {
        while (true)
        {
            ByHands(1.5 * Dice.Strays(0.5) * hands.Slower, Found);
            var sees = !Dice.Chance(cable.LetsGo * 2.5 + 0.03);
            tries.Add(
                new LabelledTry(
                    new LinkTryRow
                    {
                        Sign = "nothing",
                        Remedy = "cable",
                        SignAfter = sees ? "right" : "nothing",
                        Worked = sees,
                        PortName = Port,
                        At = now,
                        By = hands.Name,
                    },
                    cable.Label,
                    "bench computer"
                )
            );
            if (sees)
                return;
            cable = Dice.Pick(SimulatedShop.Cables, one => one == cable ? 0 : one.Used);
        }
    }

    private WorkCase Found =>
        Known with
        {
            Ways = Catalogue.Triage.Class(row.FaultClassId) is { } finding ? [(finding.WayOut, 1)] : Diagnose().WaysOut,
        };

    private string Port => "ABCDEF"[Math.Abs(row.Ticket[^1] - '0') % 6].ToString();

    private PhoneNature? nature;

    /// <summary>What the phone says over its link, and what stands on its label and in its settings.</summary>
    private void Read()
    {
        nature ??= PhoneNature.Of(model, truth, shop.For(model), Dice);
        foreach (var (name, value, source) in nature.Facts(model, serial, Catalogue))
            if (!Phone[name].Claims.Any(claim => claim.Source == source && claim.Value.Equals(value, StringComparison.OrdinalIgnoreCase)))
                Add(name, value, source, hands.Name);
    }

    private JobRecord HandBack(string act)
    {
        ByHands(8 * Dice.Strays(0.7), Known with { HasPassed = true });
        row.HandedBackAt = now;
        Note(Counter, act);
        return new JobRecord(row, journal, tries, audit);
    }

    private JobRecord GiveUp()
    {
        row.Consents.Add(
            new ConsentRow
            {
                ConsentId = "given-up",
                Text = "The owner takes the phone as it is.",
                AgreedBy = "owner, at the counter",
                At = now,
                RecordedBy = Counter,
            }
        );
        return HandBack("Handed back unrepaired: its owner gave the repair up.");
    }
}

/// <summary>A plan that is to be carried out.</summary>
internal sealed record PlannedRun(Plan Plan, MatchReport? Report, Package? Package);
