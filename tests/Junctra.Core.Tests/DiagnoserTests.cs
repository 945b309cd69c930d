using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Triage;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class DiagnoserTests
{
    private static TriageTables Tables => Repo.Catalogue.Triage;

    private static Gen<Observation[]> AnyObservations(TriageTables tables) =>
        Gen.Int[0, tables.Checks.Count - 1]
            .Array[0, tables.Checks.Count]
            .Select(Gen.Int[0, 7].Array[tables.Checks.Count], (checks, outcomes) =>
                checks
                    .Distinct()
                    .Select(i => new Observation(
                        tables.Checks[i].Id,
                        tables.Checks[i].Outcomes[outcomes[i] % tables.Checks[i].Outcomes.Count].Id
                    ))
                    .ToArray()
            );

    private static Diagnosis Of(params (string Check, string Outcome)[] observations) => Of(new TriageCase(), observations);

    private static Diagnosis Of(TriageCase c, params (string Check, string Outcome)[] observations) =>
        Diagnoser.Of(Tables, c, [.. observations.Select(one => new Observation(one.Check, one.Outcome))]);

    /// <summary>Two classes, two checks: small enough to compute by hand.</summary>
    private static TriageTables Small(CheckRisk second = CheckRisk.None)
    {
        var prior = new Prior(1, new Dictionary<string, double> { ["Hadrel"] = 3 }, new Dictionary<string, double>());
        var flat = new Prior(1, new Dictionary<string, double>(), new Dictionary<string, double>());
        var (charge, write) = (
            new WayOut("charge", "Charge", [], Toll.Charge, "", null),
            new WayOut("write", "Write", ["A"], Toll.CleanWrite, "", "match")
        );
        CheckOutcome Outcome(string id, double a, double b) => new(id, id, [a, b], []);
        return new TriageTables(
            [new FaultClass("a", "A", "", prior, charge), new FaultClass("b", "B", "", flat, write)],
            [
                new TriageCheck("weak", "weak?", "", 1, CheckRisk.None, false, false, [Outcome("yes", 0.6, 0.4), Outcome("no", 0.4, 0.6)]),
                new TriageCheck("strong", "strong?", "", 1, second, false, false, [Outcome("yes", 0.9, 0.1), Outcome("no", 0.1, 0.9)]),
            ],
            charge,
            charge
        );
    }

    [Fact]
    public void The_chances_are_what_they_are_by_hand()
    {
        var chances = Diagnoser.Chances(
            Small(),
            new TriageCase("Hadrel"),
            [new Observation("weak", "yes"), new Observation("strong", "no")]
        );
        // 3 x 0.6 x 0.1 against 1 x 0.4 x 0.9
        Assert.Equal(0.18 / (0.18 + 0.36), chances[0], 9);
        Assert.Equal(0.75, Diagnoser.Chances(Small(), new TriageCase("Hadrel"), [])[0], 9);
        Assert.Equal(0.5, Diagnoser.Chances(Small(), new TriageCase(), [])[0], 9);
    }

    [Fact]
    public void Chances_add_up_and_the_order_of_observations_does_not_matter() =>
        AnyObservations(Tables)
            .Sample(observations =>
            {
                var forth = Diagnoser.Chances(Tables, new TriageCase(), observations);
                Assert.Equal(1, forth.Sum(), 9);
                Assert.All(forth, chance => Assert.InRange(chance, 0, 1));
                var back = Diagnoser.Chances(Tables, new TriageCase(), [.. observations.Reverse()]);
                for (var i = 0; i < forth.Count; i++)
                    Assert.Equal(forth[i], back[i], 9);
            });

    [Fact]
    public void What_the_tables_do_not_know_and_what_was_not_answered_changes_nothing() =>
        AnyObservations(Tables)
            .Sample(observations =>
            {
                var with = Diagnoser.Chances(
                    Tables,
                    new TriageCase(),
                    [.. observations, new Observation("no-such-check", "x"), new Observation(Tables.Checks[0].Id, "cannot-tell")]
                );
                if (observations.Any(one => one.CheckId == Tables.Checks[0].Id))
                    return;
                Assert.Equal(Diagnoser.Chances(Tables, new TriageCase(), observations), with);
            });

    [Fact]
    public void Of_two_answers_to_one_check_the_last_counts() =>
        Assert.Equal(
            Diagnoser.Chances(Small(), new TriageCase(), [new Observation("weak", "no")]),
            Diagnoser.Chances(Small(), new TriageCase(), [new Observation("weak", "yes"), new Observation("weak", "no")])
        );

    [Fact]
    public void The_next_check_is_the_one_that_tells_most_for_its_minutes()
    {
        var open = Diagnoser.Of(Small(), new TriageCase(), []);
        Assert.Equal("strong", open.Next!.Check.Id);
        // By hand: 1 bit before, H(0.9) after.
        Assert.Equal(1 + 0.9 * Math.Log2(0.9) + 0.1 * Math.Log2(0.1), open.Next.Bits, 6);
    }

    [Fact]
    public void A_check_whose_risk_is_not_needed_is_not_offered()
    {
        // The risky one tells far more, but the harmless one would do.
        var harmless = Diagnoser.Of(Small(CheckRisk.High), new TriageCase(), []);
        Assert.DoesNotContain(harmless.Open, open => open.Check.Risk == CheckRisk.High);
        // Once nothing harmless is left that could change what to do, it is.
        var left = Diagnoser.Of(Small(CheckRisk.High), new TriageCase(), [new Observation("weak", "yes")]);
        Assert.Equal("strong", left.Next!.Check.Id);
    }

    [Fact]
    public void On_every_way_no_check_is_offered_that_costs_more_than_one_that_would_do() =>
        AnyObservations(Tables)
            .Sample(observations =>
            {
                var diagnosis = Diagnoser.Of(Tables, new TriageCase(), observations);
                if (diagnosis.Next is not { } next)
                    return;
                Assert.DoesNotContain(observations, one => one.CheckId == next.Check.Id);
                Assert.True(next.Bits >= 0);
                Assert.Equal(diagnosis.IsSettled, diagnosis.Next is null);
            });

    [Fact]
    public void It_says_when_further_checks_would_not_change_what_to_do()
    {
        var sure = Of(("reason", "update-fails"), ("last", "card"), ("card-list", "not-listed"));
        Assert.True(sure.IsSettled);
        Assert.Null(sure.Next);
        Assert.Equal("card-update-refused", sure.Leading!.Class.Id);
        Assert.Equal("card-update", sure.WayOut!.Id);
        Assert.Contains("hardly change", sure.Why);
    }

    [Fact]
    public void Where_it_stays_open_what_takes_least_is_done_first()
    {
        var tables = Small();
        var even = Diagnoser.Of(tables, new TriageCase(null, null, CellState.Sound, ["weak", "strong"]), []);
        Assert.True(even.IsSettled);
        Assert.Equal("charge", even.WayOut!.Id);
    }

    [Fact]
    public void Ways_out_stand_from_least_to_most_destructive() =>
        AnyObservations(Tables)
            .Sample(observations =>
            {
                var ways = Diagnoser.Of(Tables, new TriageCase(), observations).WaysOut;
                Assert.NotEmpty(ways);
                Assert.Equal(ways.Select(way => way.Way.Toll).Order(), ways.Select(way => way.Way.Toll));
            });

    [Fact]
    public void No_reaction_at_all_means_power_first()
    {
        var dead = Of(("now", "nothing"));
        Assert.Equal("charge", dead.WayOut!.Id);
        Assert.Equal("charge", dead.Next!.Check.Id);
        Assert.Contains(dead.Rules, rule => rule.Title == "Power first");
        var charged = Of(("now", "nothing"), ("charge", "takes"));
        Assert.DoesNotContain(charged.Rules, rule => rule.Title == "Power first");
        Assert.NotEqual("charge", charged.WayOut!.Id);
    }

    [Theory]
    [InlineData(CellState.Wet)]
    [InlineData(CellState.Swollen)]
    [InlineData(CellState.Hot)]
    [InlineData(CellState.Crushed)]
    public void A_cell_that_is_not_sound_stops_everything_whatever_is_probable(CellState cell) =>
        AnyObservations(Tables)
            .Sample(
                observations =>
                {
                    var diagnosis = Diagnoser.Of(Tables, new TriageCase(null, null, cell), observations);
                    Assert.Null(diagnosis.Next);
                    Assert.Empty(diagnosis.Open);
                    Assert.Equal("set-aside", diagnosis.WayOut!.Id);
                    Assert.True(Assert.Single(diagnosis.Rules).IsStop);
                },
                iter: 50
            );

    [Fact]
    public void What_reaches_its_write_mode_and_is_seen_is_never_opened() =>
        AnyObservations(Tables)
            .Sample(observations =>
            {
                var diagnosis = Diagnoser.Of(Tables, new TriageCase(), [.. observations, new Observation("write-mode", "seen")]);
                Assert.Contains(diagnosis.Rules, rule => rule.Title == "It need not be opened");
                Assert.NotEqual(Toll.Opening, diagnosis.WayOut!.Toll);
                Assert.DoesNotContain(diagnosis.WaysOut, way => way.Way.Toll == Toll.Opening);
            });

    [Fact]
    public void Observations_that_no_class_explains_together_are_said_to_contradict_each_other()
    {
        var contradiction = Of(("now", "nothing"), ("works", "all-works")).Contradictions;
        Assert.Contains(contradiction, pair => (pair.First.Check.Id, pair.Second.Check.Id) == ("now", "works"));
        Assert.Empty(Of(("now", "loop"), ("last", "custom")).Contradictions);
    }

    [Fact]
    public void What_nobody_could_tell_is_not_asked_again()
    {
        var skipped = Of(new TriageCase(null, null, CellState.Sound, ["began"]), ("now", "loop"));
        Assert.DoesNotContain(skipped.Open, open => open.Check.Id == "began");
    }

    [Fact]
    public void Makers_and_key_families_may_have_priors_of_their_own()
    {
        var obrenn = Diagnoser.Chances(Tables, new TriageCase("Obrenn", "older-menu"), []);
        var velloq = Diagnoser.Chances(Tables, new TriageCase("Velloq", "home-key"), []);
        var card = Tables.Classes.ToList().FindIndex(fault => fault.Id == "card-update-refused");
        var power = Tables.Classes.ToList().FindIndex(fault => fault.Id == "power");
        Assert.True(obrenn[card] > velloq[card]);
        Assert.True(velloq[power] > obrenn[power]);
    }

    [Fact]
    public void Facts_answer_checks_and_a_person_goes_before_them()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.DeviceStatus, "custom"),
            Sample.Fact(FactName.LockState, "locked"),
            Sample.Fact(FactName.LockState, "unlocked", FactSource.Label),
            Sample.Fact(FactName.Mode, "boot-loop")
        );
        var told = Observations.Of(phone, [], Tables);
        Assert.Contains(told, one => one is { CheckId: "status", OutcomeId: "custom", Fact: not null });
        Assert.Contains(told, one => one is { CheckId: "now", OutcomeId: "loop" });
        // Sources disagree on the lock: it answers nothing.
        Assert.DoesNotContain(told, one => one.CheckId == "lock");
        var given = Observations.Of(phone, [new Observation("status", "official"), new Observation("gone", "x")], Tables);
        Assert.Contains(given, one => one is { CheckId: "status", OutcomeId: "official", Fact: null });
        Assert.DoesNotContain(given, one => one.CheckId == "gone");
    }

    [Fact]
    public void An_answer_brings_the_facts_that_it_tells()
    {
        var check = Tables.Check("status")!;
        Assert.Contains(check.FactsOf(check.Outcome("custom")!, Sample.Noon, "bench"), fact =>
            fact.Name == FactName.DeviceStatus && fact.Value == "custom" && fact.Source == FactSource.Settings
        );
        Assert.Empty(check.FactsOf(check.Outcome("unread")!, Sample.Noon, "bench"));
        var now = Tables.Check("now")!;
        Assert.Equal(FactSource.Customer, Assert.Single(now.FactsOf(now.Outcome("loop")!, Sample.Noon, "counter")).Source);
    }

    [Fact]
    public void A_thousand_observations_do_not_run_into_nothing()
    {
        var checks = Enumerable
            .Range(0, 1000)
            .Select(i => new TriageCheck(
                $"c{i}",
                "",
                "",
                1,
                CheckRisk.None,
                false,
                false,
                [new CheckOutcome("yes", "", [1e-6, 2e-6], []), new CheckOutcome("no", "", [1 - 1e-6, 1 - 2e-6], [])]
            ))
            .ToList();
        var tables = Small() with { Checks = checks };
        var chances = Diagnoser.Chances(tables, new TriageCase(), [.. checks.Select(check => new Observation(check.Id, "yes"))]);
        Assert.Equal(1, chances.Sum(), 9);
        Assert.True(chances[1] > 0.99);
    }

    [Fact]
    public void The_shipped_tables_are_whole()
    {
        Assert.Equal(15, Tables.Classes.Count);
        foreach (var check in Tables.Checks)
        {
            Assert.True(check.AtIntake || check.Outcomes.Count <= TriageTables.MaxOutcomes);
            for (var i = 0; i < Tables.Classes.Count; i++)
                Assert.Equal(1, check.Outcomes.Sum(outcome => outcome.Likelihood[i]), 9);
        }
    }

    [Fact]
    public void Tables_that_know_nothing_say_so() => Assert.True(Diagnoser.Of(TriageTables.Empty, new TriageCase(), []).IsSettled);
}
