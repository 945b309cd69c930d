using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class ScoreTrialTests
{
    private static readonly PhoneTwin Twin = new(Repo.Catalogue.Model("TN63E")!, Repo.Catalogue);
    private static readonly Way Way = WayCompiler.Of(Twin.Model, Repo.Catalogue, PhoneMode.System).First(way => way.Id == "off-to-warning");
    private static readonly TwinState Start = TwinFactory.Of(
        Sample.Phone(Sample.Fact(FactName.LockState, "unlocked")),
        Twin.Model,
        PhoneMode.Off,
        "here"
    );

    private static TrialView At(long now, params (long At, TwinEvent Happening)[] acts) =>
        ScoreTrial.At(Twin, Start, Way, [.. acts.Select(act => new TrialAct(act.At, act.Happening))], now);

    [Fact]
    public void What_is_played_as_written_is_met_and_arrives()
    {
        var view = At(
            5000,
            (0, new KeyDown("volume-up")),
            (100, new KeyDown("volume-down")),
            (2000, new CableIn("here")),
            (3900, new KeyUp("volume-up")),
            (3950, new KeyUp("volume-down"))
        );
        Assert.True(view.Arrived);
        Assert.All(view.Moments, moment => Assert.Equal(MomentVerdict.Met, moment.Verdict));
        Assert.Equal(5, view.Moments.Count);
        Assert.Equal(3000, view.SeenMs["warning"]);
    }

    [Fact]
    public void What_is_early_or_late_is_said_and_the_phone_answers_for_itself()
    {
        var early = At(
            6000,
            (0, new KeyDown("volume-up")),
            (0, new KeyDown("volume-down")),
            (2000, new CableIn("here")),
            (2500, new KeyUp("volume-up")),
            (2500, new KeyUp("volume-down"))
        );
        Assert.False(early.Arrived);
        Assert.Equal(PhoneMode.Charging, early.State.Mode);
        Assert.Contains(early.Moments, moment =>
            moment is { IsPress: false, Verdict: MomentVerdict.Early }
            && moment.Bar.StaveId == "volume-up"
            && Math.Abs(moment.OffSeconds + 1.3) < 0.01
        );
        var late = At(8000, (0, new CableIn("here")), (3000, new KeyDown("volume-up")), (3000, new KeyDown("volume-down")));
        Assert.Equal(PhoneMode.Charging, late.State.Mode);
        Assert.Contains(late.Moments, moment => moment is { IsPress: true, Verdict: MomentVerdict.Late, OffSeconds: 3 });
        // The trap: one key stays down, and the question about the lock shows.
        var trap = At(
            9000,
            (0, new KeyDown("volume-up")),
            (0, new KeyDown("volume-down")),
            (2000, new CableIn("here")),
            (3800, new KeyUp("volume-down"))
        );
        Assert.Equal(PhoneMode.LockChange, trap.State.Mode);
    }

    [Fact]
    public void A_look_before_anything_was_done_shows_the_phone_as_it_is()
    {
        var view = At(0);
        Assert.Equal((PhoneMode.Off, 0, false), (view.State.Mode, view.Moments.Count, view.Arrived));
        Assert.Equal(view.State.ToJson(), At(0).State.ToJson());
    }

    [Fact]
    public void A_twin_of_a_phone_has_what_is_known_of_it()
    {
        var state = TwinFactory.Of(
            Sample.Phone(
                Sample.Fact(FactName.Serial, "S1"),
                Sample.Fact(FactName.LockState, "locked"),
                Sample.Fact(FactName.UnlockPermission, "on"),
                Sample.Fact(FactName.Recovery, "custom"),
                Sample.Fact(FactName.RollbackFloor, "6"),
                Sample.Fact(FactName.BatteryPercent, "33"),
                Sample.Fact(FactName.Account, "signed-in"),
                Sample.Fact(FactName.UsbDebugging, "authorised")
            ),
            Twin.Model,
            PhoneMode.System,
            "here"
        );
        Assert.Equal(
            ("S1", false, true, 6, 33, true),
            (state.Serial, state.Unlocked, state.PermissionOn, state.Floor, state.ChargePercent, state.Debugging)
        );
        Assert.NotNull(state.Data!.Account);
        Assert.True(PhoneTwin.IsAllowed(state));
    }
}
