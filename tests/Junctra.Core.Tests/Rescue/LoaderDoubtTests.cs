using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Rescue;
using Junctra.Core.Triage;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rescue;

/// <summary>Contact, timing or revision; worth it or not; and the twin that plays both.</summary>
public sealed class LoaderDoubtTests
{
    private static readonly NeedleHeld Nothing = new(1, Heard.Nothing, ""),
        Came = new(1, Heard.CameAndWent, ""),
        Port = new(1, Heard.Port, "7");
    private static readonly LoaderTried Silent = new(false),
        Answer = new(true);

    private static LoaderDoubt Of(Revision? known, params RescueEvent[] tried) => LoaderDoubt.Of(known, 6, tried);

    [Fact]
    public void No_port_speaks_for_the_contact_one_that_comes_and_goes_for_the_timing_and_silence_on_a_good_port_for_the_revision()
    {
        Assert.Equal(LoaderTrouble.Contact, Of(6, Nothing, Nothing).Ranked[0].Trouble);
        Assert.Equal(LoaderTrouble.Timing, Of(6, Came, Came).Ranked[0].Trouble);
        var silent = Of(6, Port, Silent, Port, Silent, Port, Silent);
        Assert.Equal(LoaderTrouble.Revision, silent.Ranked[0].Trouble);
        Assert.True(silent.IsOver);
        Assert.Contains("It ends here", silent.Words);
        Assert.Equal(1, silent.Ranked.Sum(one => one.Chance), 9);
    }

    [Fact]
    public void A_single_try_ends_nothing_and_an_answer_ends_all_doubt()
    {
        Assert.False(Of(6, Port, Silent).IsOver);
        Assert.False(Of(null, Nothing, Nothing, Nothing, Nothing, Nothing, Nothing).IsOver);
        var answered = Of(6, Port, Silent, Port, Silent, Port, Silent, Port, Answer);
        Assert.True(answered.HasAnswered);
        Assert.False(answered.IsOver);
        // What is known to be above needs no try at all.
        Assert.True(Of(7).IsOver);
        Assert.Contains("the phone had revision 7, and the loader supports revisions up to 6", Of(7).Words);
        Assert.False(Of(7, Port, Answer, Nothing).IsOver);
    }

    [Fact]
    public void The_twins_chip_answers_to_the_right_pad_now_and_then_never_to_another_and_a_slip_ends_it()
    {
        var model = Repo.Catalogue.Model("TN63W")!;
        var twin = new PhoneTwin(model, Repo.Catalogue);
        TwinState Dead(uint seed) =>
            TwinFactory.In(
                model,
                PhoneMode.Emergency,
                new TwinNature
                {
                    Serial = "TNX1",
                    Seed = seed,
                    Revision = 7,
                }
            )
                is var state
                ? state with
                {
                    Stage = PhoneStage.Off,
                    Faults = new TwinFaults { DeadBoard = true },
                }
                : state;
        var answered = 0;
        for (uint seed = 1; seed <= 400; seed++)
        {
            var held = twin.Next(Dead(seed), new HoldNeedle(NeedleOn.Wanted, "bench"));
            Assert.Equal(held.ToJson(), twin.Next(Dead(seed), new HoldNeedle(NeedleOn.Wanted, "bench")).ToJson());
            answered += held.Stage == PhoneStage.Emergency ? 1 : 0;
        }

        Assert.InRange(answered / 400.0, PhoneTwin.ContactChance - 0.08, PhoneTwin.ContactChance + 0.08);
        var often = Dead(5);
        for (var i = 0; i < 40 && often.Stage == PhoneStage.Off; i++)
            often = twin.Next(often, new HoldNeedle(NeedleOn.Wanted, "bench"));
        Assert.Equal(PhoneStage.Emergency, often.Stage);
        // Its chip answers; a loader for older chains still does not start on it.
        Assert.False(twin.Next(often, new SupplyLoader(often.Floor - 1)).HasLoader);
        Assert.True(twin.Next(often, new SupplyLoader(often.Floor)).HasLoader);
        Assert.Equal(PhoneStage.Off, twin.Run(Dead(5), Enumerable.Repeat(new HoldNeedle(NeedleOn.Elsewhere), 40)).Stage);
        var shorted = twin.Next(Dead(5), new HoldNeedle(NeedleOn.Supply));
        Assert.True(shorted.Faults.Shorted);
        Assert.Equal(PhoneStage.Off, twin.Run(shorted, Enumerable.Repeat(new HoldNeedle(NeedleOn.Wanted, "bench"), 40)).Stage);
        Assert.Equal(PhoneStage.Off, twin.Run(shorted, [new CableIn("bench"), new KeyDown("power"), new TimePasses(20_000)]).Stage);
        Assert.Equal(shorted.ToJson(), TwinState.FromJson(shorted.ToJson()).ToJson());
    }

    private static readonly BoardGuide Guide = Repo.Catalogue.BoardOf("TN63W")!;

    private static readonly Observation[] Asked =
    [
        new("charge", "takes-none"),
        new("power-key", "dark"),
        new("vibrates", "no"),
        new("computer", "nothing"),
    ];

    [Fact]
    public void Worth_is_said_line_by_line_and_a_stop_of_any_line_is_a_stop()
    {
        IReadOnlyList<WorthLine> Of(Observation[] asked, string? whyNot = null, Revision? known = null, double minutes = 60) =>
            RescueWorth.Of(asked, whyNot, known ?? 6, 6, Guide, false, new Band(minutes, 2 * minutes));
        Assert.Equal(Verdict.Care, RescueWorth.Sum(Of(Asked)));
        Assert.Equal(Verdict.Ask, RescueWorth.Sum(Of(Asked[..3])));
        Assert.Equal(Verdict.Stop, RescueWorth.Sum(Of([.. Asked[..3], new("computer", "serial")])));
        Assert.Equal(
            Verdict.Stop,
            RescueWorth.Sum(Of(Asked, "Not worth opening: the loader supports revisions up to 6, and the phone had 7."))
        );
        Assert.Equal(Verdict.Stop, RescueWorth.Sum(Of(Asked, minutes: 400)));
        Assert.Equal(Verdict.Ask, RescueWorth.Sum(RescueWorth.Of(Asked, null, 6, 6, null, true, default)));
        var lost = RescueWorth.Of(Asked, null, 6, 6, Guide, true, new Band(60, 120)).Single(line => line.Title == "Data");
        Assert.Equal(Verdict.Care, lost.Verdict);
        Assert.Contains("does not save it", lost.Words);
    }
}
