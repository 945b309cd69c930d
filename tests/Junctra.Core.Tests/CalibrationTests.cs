using Junctra.Core.Insight;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>How often Junctra was right, and what costs the shop, told from a log whose truth is known.</summary>
public sealed class CalibrationTests
{
    private static readonly ShopLog Empty = new([], [], [], [], []);

    private static LoggedJob Job(
        int id,
        string finding = "loop",
        string? first = null,
        double? chance = 0.9,
        JobOutcome outcome = JobOutcome.InOrder,
        string serial = "",
        int day = 0
    ) =>
        new(
            id,
            finding,
            first ?? finding,
            chance,
            outcome,
            serial,
            Sample.Noon.AddDays(day),
            Sample.Noon.AddDays(day).AddMinutes(40),
            Sample.Noon.AddDays(day).AddMinutes(50),
            Sample.Noon.AddDays(day).AddMinutes(60),
            Sample.Noon.AddDays(day).AddMinutes(80)
        );

    private static LoggedRun Run(int job, bool? went, Verdict verdict = Verdict.Go, RiskKind? risk = null, bool? back = null) =>
        new(
            job,
            "A",
            went,
            new Dictionary<RuleId, Verdict> { [RuleId.Model] = Verdict.Go, [RuleId.Radio] = verdict },
            risk,
            back,
            risk is null ? "" : "the cable came out"
        );

    private static InsightSection Section(ShopLog log, string key) => Calibration.Of(log).Single(section => section.Key == key);

    [Fact]
    public void Of_an_empty_log_nothing_is_said()
    {
        Assert.Empty(Calibration.Of(Empty));
        Assert.Empty(Costs.Of(Empty, id => id));
    }

    [Theory]
    [InlineData(90, 100, false, "relied on")]
    [InlineData(60, 100, true, "too short")]
    [InlineData(100, 100, true, "longer than need be")]
    [InlineData(9, 10, false, "relied on")]
    public void Times_are_right_where_nine_in_ten_stay_under_the_slow_time(int held, int all, bool wrong, string says)
    {
        var log = Empty with
        {
            Times = [.. Enumerable.Range(1, all).Select(i => new SaidTime(i, TimeKind.Write, "", 100, 150, i <= held ? 120 : 200))],
        };
        var section = Section(log, "times");
        Assert.Equal(wrong, section.IsWrong);
        Assert.Contains(says, section.Sentence);
        // Those that took longer come first: they are what somebody wants to look at.
        if (held < all)
            Assert.Equal(held + 1, section.Figures.Single().Jobs[0]);
    }

    [Fact]
    public void Promises_are_held_against_what_was_said_of_them()
    {
        var noon = Sample.Noon;
        LoggedPromise Of(int job, double? chance, int? late) =>
            new(job, noon, chance, late is { } minutes ? noon.AddMinutes(minutes) : null);
        var good = Enumerable.Range(1, 40).Select(i => Of(i, 0.95, i <= 38 ? -10 : 20)).ToList();
        var section = Section(Empty with { Promises = [.. good, Of(50, null, 5), Of(51, 0.2, null)] }, "promises");
        Assert.False(section.IsWrong);
        Assert.Contains("38 of 41", section.Sentence);
        Assert.Equal(["good", "unsaid"], section.Figures.Select(figure => figure.Key));
        // Twenty of forty that were said to hold: too sure.
        var boasts = Section(
            Empty with
            {
                Promises = [.. good.Select((one, i) => one with { Ready = noon.AddMinutes(i % 2 == 0 ? 5 : -5) })],
            },
            "promises"
        );
        Assert.True(boasts.IsWrong);
        Assert.Contains("too sure", boasts.Sentence);
        Assert.DoesNotContain(Calibration.Of(Empty with { Promises = [Of(1, 0.9, null)] }), one => one.Key == "promises");
    }

    [Fact]
    public void A_finding_was_right_where_it_stood_and_the_phone_went_out_as_it_should()
    {
        var log = Empty with
        {
            Jobs =
            [
                .. Enumerable.Range(1, 20).Select(i => Job(i)),
                .. Enumerable.Range(21, 20).Select(i => Job(i, first: "stale", chance: 0.95)),
                Job(41, outcome: JobOutcome.NotInOrder, chance: 0.6),
                Job(42, outcome: JobOutcome.AsItCame, chance: 0.3),
            ],
        };
        var section = Section(log, "findings");
        Assert.True(section.IsWrong);
        Assert.Contains("21 of 42", section.Sentence);
        Assert.Contains("too sure: said with 80 % and more", section.Sentence);
        Assert.Equal(["1 of 1 (100 %)", "0 of 1 (0 %)", "20 of 40 (50 %)"], section.Figures.Select(figure => figure.Words));
    }

    [Fact]
    public void What_was_called_go_is_held_against_what_went_and_what_nobody_knows_yet_is_left_out()
    {
        var log = Empty with
        {
            Runs = [.. Enumerable.Range(1, 10).Select(i => Run(i, true)), Run(11, false), Run(12, null), Run(13, false, Verdict.Care)],
        };
        Assert.Contains("10 of 11 (91 %)", Section(log, "verdicts").Sentence);
        Assert.Equal(["called go", "called care"], Section(log, "verdicts").Figures.Select(figure => figure.Label));
        // The rule that asked for care let those through that it called go, and no others.
        Assert.Equal(["10 of 12 (83 %)", "10 of 11 (91 %)"], Section(log, "rules").Figures.Select(figure => figure.Words));
    }

    [Fact]
    public void Where_Junctra_was_wrong_it_says_so_first()
    {
        var log = Empty with
        {
            Times = [.. Enumerable.Range(1, 50).Select(i => new SaidTime(i, TimeKind.Write, "", 100, 150, 100 + i))],
            Runs = [.. Enumerable.Range(1, 3).Select(i => Run(i, null, risk: RiskKind.KeysBringItBack, back: i > 1))],
        };
        var sections = Calibration.Of(log);
        Assert.True(sections[0].IsWrong);
        Assert.Contains("1 did not come in order", Section(log, "risks").Sentence);
        Assert.Equal(sections.OrderBy(section => !section.IsWrong), sections);
    }

    [Fact]
    public void A_cable_is_called_worse_only_where_chance_does_not_explain_it()
    {
        LoggedTry[] Of(string cable, int worked, int all) =>
            [.. Enumerable.Range(1, all).Select(i => new LoggedTry(i, cable, "A", i <= worked))];
        string Says(params LoggedTry[] tries) =>
            Costs.Of(Empty with { Tries = tries }, id => id).Single(section => section.Key == "cables").Sentence;
        Assert.Contains("“frayed” worked 4 of 20 (20 %)", Says([.. Of("frayed", 4, 20), .. Of("red", 38, 40)]));
        Assert.Contains("no cable is surely worse", Says([.. Of("frayed", 1, 2), .. Of("red", 38, 40)]));
    }

    [Fact]
    public void A_write_that_broke_off_counts_against_its_port_and_not_against_a_verdict()
    {
        var log = Empty with { Runs = [Run(1, true), Run(2, null, risk: RiskKind.KeysBringItBack, back: true)] };
        Assert.Equal("1 of 2 (50 %)", Costs.Of(log, id => id).Single(section => section.Key == "ports").Figures.Single().Words);
        Assert.Equal("1 of 1 (100 %)", Section(log, "verdicts").Figures.Single().Words);
    }

    [Fact]
    public void A_phone_came_back_where_its_serial_is_here_again_within_thirty_days()
    {
        var log = Empty with
        {
            Jobs =
            [
                Job(1, "loop", serial: "AB1"),
                Job(2, "loop", serial: "AB2"),
                Job(3, "loop", serial: "ab1", day: 20),
                Job(4, "loop", serial: "AB2", day: 31),
                Job(5, "stale"),
            ],
        };
        var section = Costs.Of(log, id => id).Single(one => one.Key == "back");
        Assert.Contains("1 of 5 (20 %)", section.Sentence);
        Assert.Equal([1], section.Figures.Single().Jobs);
    }

    [Fact]
    public void The_middle_of_a_phones_time_is_told_by_where_it_passes()
    {
        var section = Costs.Of(Empty with { Jobs = [Job(1), Job(2), Job(3)] }, id => id).Single(one => one.Key == "stations");
        Assert.Equal([40, 10, 10, 20], section.Figures.Select(figure => figure.Value));
        Assert.Contains("from the counter to the first run: 40 min", section.Sentence);
    }

    [Theory]
    [InlineData(0, 0, 0, 1)]
    [InlineData(10, 10, 0.72, 1)]
    [InlineData(5, 10, 0.237, 0.763)]
    [InlineData(90, 100, 0.826, 0.945)]
    public void A_share_of_few_cases_lies_between_wide_limits(int hits, int all, double low, double high)
    {
        var between = Shares.Between(hits, all);
        Assert.Equal(low, between.Low, 2);
        Assert.Equal(high, between.High, 2);
    }
}
