using Junctra.Core.Catalogue;
using Junctra.Core.Rescue;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rescue;

/// <summary>How a rescue stands, and what is refused at it.</summary>
public sealed class RescueStateTests
{
    private static readonly BoardGuide Guide = Repo.Catalogue.BoardOf("TN63W")!;
    private readonly List<RescueEntry> entries = [];
    private DateTimeOffset now = Sample.Noon;
    private LoaderCase? loader;
    private string? whyNotOpen;
    private bool isRunning;

    private RescueState State => RescueState.Of(Guide, entries, loader);

    private string? Try(RescueEvent happening, bool mayCloseUp = false)
    {
        now = now.AddSeconds(30);
        var why = State.WhyNot(happening, now, new RescueBounds(whyNotOpen, mayCloseUp, isRunning));
        if (why is null)
            entries.Add(new RescueEntry(now, "ada", happening));
        return why;
    }

    private void Do(RescueEvent happening, bool mayCloseUp = false) => Assert.Null(Try(happening, mayCloseUp));

    // All of a step as it should be: its screws, then the tick.
    private void Step(string id, bool mayCloseUp = false)
    {
        var step = Guide.Step(id)!;
        foreach (var screw in step.Screws.Select(Guide.Screw))
            Do(step.PutsScrewsIn ? new ScrewIn(screw!.Id, screw.LengthMm) : new ScrewOut(screw!.Id));
        Do(new StepTicked(id), mayCloseUp);
    }

    private void Open()
    {
        foreach (var step in Guide.Of(RescuePhase.Open))
            Step(step.Id);
    }

    [Fact]
    public void Nothing_is_offered_before_the_battery_connector_and_no_step_before_its_screws()
    {
        foreach (var id in new[] { "before", "tray", "warm" })
            Step(id);
        Assert.Contains("Screws that are not ticked out: A1", Try(new StepTicked("covers")));
        Assert.Equal("C1 comes out at another step.", Try(new ScrewOut("C1")));
        Step("covers");
        foreach (var id in new[] { "ribbons", "board", "tape" })
            Assert.Contains("Battery connector first", Try(new StepTicked(id)));
        Assert.Contains("needle", Try(new NeedleHeld(null, Heard.Nothing, "")) is { } why ? "needle " + why : "");
        Step("battery");
        Assert.Equal("ribbons", State.Next!.Id);
        Assert.True(State.IsOpen);
        Assert.Equal("“Battery connector first” is ticked already.", Try(new StepTicked("battery")));
        Assert.Equal("There is no such step.", Try(new StepTicked("solder")));
    }

    [Fact]
    public void Only_the_last_step_is_taken_back()
    {
        Step("before");
        Step("tray");
        Assert.Contains("Only the last", Try(new StepTakenBack("before")));
        Do(new StepTakenBack("tray"));
        Assert.Equal("tray", State.Next!.Id);
        Assert.Equal("It is not ticked.", Try(new StepTakenBack("tray")));
        Assert.False(State.IsOpen);
    }

    [Fact]
    public void A_screw_of_another_length_is_warned_of_and_comes_out_again()
    {
        Open();
        Do(new StepTicked("board-in"));
        Do(new ScrewIn("A2", 4.2));
        Assert.Contains("a longer one goes through", Assert.Single(State.Wrong).Words);
        Do(new ScrewIn("A3", 3.0));
        Assert.Contains(State.Wrong, wrong => wrong.Words.Contains("a shorter one does not hold"));
        Do(new ScrewIn("B1", 3.0));
        Do(new ScrewIn("B3", 3.0));
        Assert.Contains("4.2 mm is in A2", Try(new StepTicked("few-screws")));
        Assert.Equal("No screw of this phone has that length.", Try(new ScrewIn("A1", 7)));
        Assert.Equal("A1 goes in at another step.", Try(new ScrewIn("A1", 3.0)));
        Do(new ScrewOut("A2"));
        Do(new ScrewOut("A3"));
        Do(new ScrewIn("A2", 3.0));
        Do(new ScrewIn("A3", 4.2));
        Do(new StepTicked("few-screws"));
        Assert.Empty(State.Wrong);
    }

    [Fact]
    public void Contacts_rest_attempts_are_counted_and_it_is_closed_up_only_once_the_checks_hold()
    {
        Open();
        Assert.True(State.IsBare);
        Do(new NeedleHeld(58, Heard.Nothing, ""));
        now = now.AddSeconds(-28);
        Assert.StartsWith("Let the contact rest", Try(new NeedleHeld(58, Heard.Nothing, "")));
        Do(new NeedleHeld(58, Heard.CameAndWent, ""));
        Assert.Contains("No port", Try(new LoaderTried(true)));
        Do(new NeedleHeld(58, Heard.Port, "serial port 7"));
        Assert.Equal(3, State.Needles.Count);
        Assert.True(State.ChipAnswers);
        Do(new LoaderTried(true));
        foreach (var step in Guide.Of(RescuePhase.CloseForKeys))
            Step(step.Id);
        Assert.False(State.IsBare);
        Assert.Contains("The pad is reached", Try(new NeedleHeld(58, Heard.Port, "")));
        foreach (var screw in Guide.Step("tape-on")!.Screws.Select(Guide.Screw))
            Do(new ScrewIn(screw!.Id, screw.LengthMm));
        Assert.Contains("once its checks hold", Try(new StepTicked("tape-on")));
        foreach (var step in Guide.Of(RescuePhase.CloseUp))
            Do(new StepTicked(step.Id), mayCloseUp: true);
        Assert.False(State.IsOpen);
        Assert.Null(State.Next);
    }

    [Fact]
    public void Of_a_rescue_that_was_given_up_half_way_only_what_was_opened_is_put_back()
    {
        foreach (var id in new[] { "before", "tray", "warm" })
            Step(id);
        Do(new ScrewOut("A1"));
        Do(new ScrewOut("B2"));
        Assert.Contains("3 to 200", Try(new GivenUp(true, " ")));
        isRunning = true;
        Assert.Contains("End it first", Try(new GivenUp(true, "the cell is swollen")));
        isRunning = false;
        Do(new GivenUp(true, "the cell is swollen."));
        Assert.NotNull(Try(new GivenUp(true, "the cell is swollen")));
        Assert.Equal("It was given up: the cell is swollen.", State.Ended);
        Assert.Contains("Put it back together", Try(new StepTicked("covers")));
        Assert.Contains("is not needed", Try(new StepTicked("board-in")));
        Assert.Contains("by the steps that close it", Try(new StepTakenBack("warm")));
        // The covers were not ticked off, but two of their screws are out.
        Assert.Equal(["tape-on", "adhesive", "tray-in"], Guide.Steps.Where(s => s.PutsScrewsIn && State.IsNeeded(s)).Select(s => s.Id));
        Assert.Contains("comes out at another step", Try(new ScrewOut("A4")));
        Assert.True(State.IsOpen);
        Do(new ScrewIn("A1", 3.0));
        Do(new ScrewIn("B2", 2.2));
        // Nothing is out any more, and no cover was off.
        Do(new StepTicked("adhesive"));
        Assert.Contains("take those steps back first", Try(new GivenUp(false, "")));
        Do(new StepTicked("tray-in"));
        Assert.False(State.IsOpen);
        Assert.Null(State.Next);
        Assert.Contains("It was given up: the cell is swollen. It was closed up again", RescueWords.Summary(State));
    }

    [Fact]
    public void What_was_given_up_is_taken_up_again_where_nothing_was_closed()
    {
        Assert.Contains("nothing to give up", Try(new GivenUp(true, "no time")));
        Open();
        Do(new GivenUp(true, "no time"));
        Assert.Contains("Put it back together", Try(new NeedleHeld(58, Heard.Port, "7")));
        Do(new GivenUp(false, ""));
        Assert.NotNull(Try(new GivenUp(false, "")));
        Assert.Null(State.Ended);
        Do(new NeedleHeld(58, Heard.Port, "7"));
    }

    [Fact]
    public void A_loader_that_no_contact_helps_ends_it_and_a_wrong_entry_is_taken_back()
    {
        loader = new LoaderCase(6, 6, []);
        Open();
        Assert.Equal("Nothing was tried yet.", Try(new AttemptTakenBack()));
        for (var i = 0; i < 3; i++)
        {
            Assert.Null(State.Ended);
            Do(new NeedleHeld(58, Heard.Port, "7"));
            Do(new LoaderTried(false));
        }

        Assert.Contains("It ends here", State.Ended);
        Assert.Contains("Put it back together", Try(new NeedleHeld(58, Heard.Port, "7")));
        Assert.Contains("Put it back together", Try(new LoaderTried(true)));
        Do(new AttemptTakenBack());
        Assert.Null(State.Ended);
        Do(new LoaderTried(true));
        Assert.True(State.Doubt!.HasAnswered);
        Do(new AttemptTakenBack());
        Do(new LoaderTried(false));
        // It is closed up without ever having been written.
        foreach (var step in Guide.Steps.Where(step => step.PutsScrewsIn))
            Step(step.Id);
        Assert.False(State.IsOpen);
        Assert.Contains("no loader ran on it", RescueWords.Summary(State));
    }

    [Fact]
    public void What_a_run_heard_of_the_loader_counts_in_the_order_of_time()
    {
        Open();
        Do(new NeedleHeld(58, Heard.Port, "7"));
        loader = new LoaderCase(6, 6, [new RescueEntry(now.AddSeconds(1), "ada", new LoaderTried(true))]);
        Assert.True(State.Doubt!.HasAnswered);
        Do(new NeedleHeld(58, Heard.Port, "7"));
        Assert.False(State.Doubt!.HasAnswered);
        for (var i = 0; i < 6; i++)
            Do(new LoaderTried(false));
        // It supports this phone: it answered.
        Assert.Null(State.Ended);
        Assert.Equal(0, State.Doubt!.Ranked.Single(one => one.Trouble == LoaderTrouble.Revision).Chance);
    }

    [Fact]
    public void What_is_not_worth_opening_is_not_begun_and_what_was_begun_is_brought_to_its_end()
    {
        whyNotOpen = "It is not worth opening.";
        Assert.Equal(whyNotOpen, Try(new StepTicked("before")));
        Assert.Equal(whyNotOpen, Try(new ScrewOut("A1")));
        Do(new DriverRule(true, "bench computer"));
        whyNotOpen = null;
        Step("before");
        whyNotOpen = "It is not worth opening.";
        Step("tray");
    }

    [Fact]
    public void A_rule_for_drivers_that_was_changed_is_put_back_on_the_same_computer()
    {
        Do(new DriverRule(true, "bench computer"));
        Assert.NotNull(Try(new DriverRule(true, "bench computer")));
        Assert.NotNull(Try(new DriverRule(false, "another")));
        Assert.NotNull(Try(new DriverRule(true, " ")));
        Assert.Equal(["bench computer"], State.RuleChangedOn);
        // Nothing was done at the phone yet, so that whether it is worth opening is still asked.
        Assert.False(State.IsBegun);
        Do(new DriverRule(false, "bench computer"));
        Assert.Empty(State.RuleChangedOn);
    }

    [Fact]
    public void Minutes_are_those_between_ticks_with_their_screws_and_no_breaks()
    {
        now = Sample.Noon;
        entries.Add(new(now, "ada", new StepTicked("before")));
        entries.Add(new(now.AddMinutes(3), "ada", new StepTicked("tray")));
        entries.Add(new(now.AddMinutes(120), "ben", new StepTicked("warm")));
        entries.Add(new(now.AddMinutes(125), "ben", new ScrewOut("A1")));
        entries.Add(new(now.AddMinutes(129), "ben", new StepTicked("covers")));
        Assert.Equal(
            [("tray", 3, "ada"), ("covers", 9, "ben")],
            RescueTimes.Of(Guide, entries).Select(one => (one.Step.Id, (int)one.Minutes, one.By))
        );
        Assert.Equal(6 + 1 + 3 + 4 + 4 - 6, State.MinutesLeft(RescuePhase.Open).Typical);
    }

    [Fact]
    public void Whatever_order_people_try_the_supply_is_off_before_the_board_is_touched_and_nothing_is_lost()
    {
        var random = new Random(17);
        for (var round = 0; round < 60; round++)
        {
            entries.Clear();
            var everything = Guide
                .Steps.Select(step => (RescueEvent)new StepTicked(step.Id))
                .Concat(Guide.Steps.Select(step => new StepTakenBack(step.Id)))
                .Concat(Guide.Screws.Select(screw => new ScrewOut(screw.Id)))
                .Concat(
                    Guide.Screws.SelectMany(screw =>
                        Guide.Screws.Select(other => other.LengthMm).Distinct().Select(length => new ScrewIn(screw.Id, length))
                    )
                )
                .Append(new NeedleHeld(58, Heard.Nothing, ""))
                .Append(new NeedleHeld(58, Heard.Port, "7"))
                .Append(new LoaderTried(false))
                .Append(new AttemptTakenBack())
                .Append(new GivenUp(true, "no time"))
                .Append(new GivenUp(false, ""))
                .ToList();
            for (var i = 0; i < 400; i++)
            {
                Try(everything[random.Next(everything.Count)], random.Next(3) == 0);
                var state = State;
                var isOff = state.DoneBy(Guide.Step("battery")!) is not null;
                Assert.True(
                    isOff || Guide.Of(RescuePhase.Open).SkipWhile(step => !step.Disconnects).Skip(1).All(step => state.DoneBy(step) is null)
                );
                Assert.True(isOff || state.Needles.Count == 0 || entries.Exists(entry => entry.Event is StepTakenBack { Step: "battery" }));
                Assert.All(Guide.Screws.Where(state.IsOut), screw => Assert.DoesNotContain(state.Wrong, wrong => wrong.Screw == screw));
                Assert.True(!state.IsDone(RescuePhase.CloseUp) || state.Wrong.Count == 0 && !Guide.Screws.Any(state.IsOut));
            }
        }
    }
}
