using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>
/// What holds for every twin whatever happens to it: a hundred thousand random events for every model, a fifth of them in every run of
/// the suite.
/// </summary>
public class TwinPropertyTests
{
    private static readonly int Events = Sampled.Of(100_000, 20_000);
    private const int EventsInALife = 500;

    public static TheoryData<string> Models() => [.. OtherCatalogue.WithAllKeyFamilies.Models.Select(model => model.Code)];

    [Theory, MemberData(nameof(Models))]
    public void No_sequence_of_events_breaks_what_must_hold(string code)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        var twin = new PhoneTwin(model, OtherCatalogue.WithAllKeyFamilies);
        var dice = new Random(code.Sum(c => c));
        for (var life = 0; life < Events / EventsInALife; life++)
        {
            var state = TwinFactory.In(model, Any(dice, Enum.GetValues<PhoneMode>()), Nature(dice));
            var (serial, identity) = (state.Serial, state.Identity);
            for (var i = 0; i < EventsInALife; i++)
            {
                var before = state;
                state = twin.Next(state, Random(dice, twin, state));
                Assert.True(state.Floor >= before.Floor, "the floor fell");
                Assert.True(state.Tripped || !before.Tripped, "the tamper fuse healed");
                Assert.Equal((serial, identity), (state.Serial, state.Identity));
                Assert.True(state.NowMs >= before.NowMs);
                Assert.InRange(state.Charge, 0, 100_000_000);
                if (
                    !state.Unlocked
                    && before.Stage != state.Stage
                    && state.Stage is PhoneStage.System or PhoneStage.SetupWizard or PhoneStage.CustomRecovery
                )
                    Assert.True(
                        state.Stage != PhoneStage.CustomRecovery
                            && twin.PartOf(state, PartitionRole.System)!.IsSigned
                            && twin.PartOf(state, PartitionRole.Boot) is null or { IsSigned: true },
                        $"{state.Stage} of modified software behind a closed lock"
                    );
                if (i % 50 == 0)
                    _ = twin.ScreenOf(state);
            }

            Assert.Equal(state.ToJson(), TwinState.FromJson(state.ToJson()).ToJson());
        }
    }

    [Theory, MemberData(nameof(Models))]
    public void Time_in_pieces_is_the_same_as_time_at_once(string code)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        var twin = new PhoneTwin(model, OtherCatalogue.WithAllKeyFamilies);
        var dice = new Random(7);
        for (var i = 0; i < 60; i++)
        {
            var state = twin.Run(
                TwinFactory.In(model, Any(dice, Enum.GetValues<PhoneMode>()), Nature(dice)),
                Enumerable
                    .Range(0, 3)
                    .Select(_ =>
                        (TwinEvent)new KeyDown(Any(dice, [.. twin.Family.Staves.Where(stave => stave.IsKey).Select(stave => stave.Id)]))
                    )
            );
            var milliseconds = dice.Next(1, 120_000);
            var first = dice.Next(0, milliseconds);
            Assert.Equal(
                twin.Next(state, new TimePasses(milliseconds)).ToJson(),
                twin.Run(state, [new TimePasses(first), new TimePasses(milliseconds - first)]).ToJson()
            );
        }
    }

    [Theory, MemberData(nameof(Models))]
    public void A_run_that_was_written_down_replays_to_the_same_end(string code)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        var twin = new PhoneTwin(model, OtherCatalogue.WithAllKeyFamilies);
        var dice = new Random(11);
        var start = TwinFactory.In(model, PhoneMode.System, Nature(dice));
        var (state, events) = (start, new List<TwinEvent>());
        for (var i = 0; i < 2000; i++)
        {
            events.Add(Random(dice, twin, state));
            state = twin.Next(state, events[^1]);
        }

        Assert.Equal(state.ToJson(), twin.Run(TwinState.FromJson(start.ToJson()), TwinEvent.FromJson(TwinEvent.ToJson(events))).ToJson());
        var printed = TwinPrint.Run(twin, start, events);
        Assert.Contains(code, printed);
        Assert.True(printed.Split('\n').Length > 100);
    }

    [Fact]
    public void A_catalogue_that_goes_round_in_circles_does_not_hold_the_phone()
    {
        var behaviour = new PhoneBehaviour(
            [
                new KeyReaction([PhoneStage.Off], ["power"], PhoneStage.Fastboot) { FromPress = true },
                new KeyReaction([PhoneStage.Fastboot], ["power"], PhoneStage.Off) { FromPress = true },
            ],
            [],
            new StageTimes(),
            "power",
            PhoneStage.StockRecovery
        );
        var family = new KeyFamily("circle", "circle", [new Stave("power", "Power")], [], behaviour);
        var maker = OtherCatalogue.WithAllKeyFamilies.MakerOf("HX204")!;
        var model = OtherCatalogue.WithAllKeyFamilies.Model("HX204")! with { KeyFamily = "circle" };
        var catalogue = new ModelCatalogue([maker with { Models = [model] }], [family], [], OtherCatalogue.WithAllKeyFamilies.Figures);
        var twin = new PhoneTwin(model, catalogue);
        var state = twin.Run(
            TwinFactory.In(model, PhoneMode.Off, new TwinNature()),
            [new KeyDown("power"), new TimePasses(60_000), new KeyUp("power")]
        );
        Assert.Equal(60_000, state.NowMs);
    }

    private static T Any<T>(Random dice, IReadOnlyList<T> of) => of[dice.Next(of.Count)];

    /// <summary>A phone as it could be: modified software only behind an open lock.</summary>
    private static TwinNature Nature(Random dice) =>
        Some(dice) is var nature && (nature.System == SoftwareKind.Custom || nature.CustomRecovery || nature.Root is not null)
            ? nature with
            {
                Unlocked = true,
            }
            : nature;

    private static TwinNature Some(Random dice) =>
        new()
        {
            Seed = (uint)dice.Next(1, 1000),
            Unlocked = dice.Next(2) == 0,
            Permission = dice.Next(2) == 0,
            CustomRecovery = dice.Next(4) == 0,
            System = dice.Next(4) == 0 ? SoftwareKind.Custom : SoftwareKind.Stock,
            Root = dice.Next(4) == 0 ? "8.2" : null,
            Debugging = dice.Next(2) == 0,
            Account = dice.Next(2) == 0 ? "ferry" : null,
            ChargePercent = dice.Next(0, 101),
        };

    private static TwinEvent Random(Random dice, PhoneTwin twin, TwinState state)
    {
        var keys = twin.Family.Staves.Where(stave => stave.IsKey).Select(stave => stave.Id).Append("no-such-key").ToList();
        switch (dice.Next(16))
        {
            case 0 or 1 or 2:
                return new KeyDown(Any(dice, keys));
            case 3 or 4:
                return new KeyUp(Any(dice, keys));
            case 5:
                return new CableIn(dice.Next(3) == 0 ? null : "bench 1");
            case 6:
                return new CableOut();
            case 7:
                return dice.Next(2) == 0 ? new BatteryOut() : new BatteryIn();
            case 8 when twin.EntriesOf(state) is { Count: > 0 } entries:
                return new Choose(Any(dice, entries).Id);
            case 9:
                return new Command(Any(dice, OtherCatalogue.WithAllKeyFamilies.CommonWays.Commands).Id);
            case 10:
                var spec = Any(dice, twin.Model.Partitions);
                var kind = Any(dice, Enum.GetValues<SoftwareKind>());
                return new WritePart(
                    dice.Next(10) == 0 ? "nothing" : spec.Name,
                    new TwinPart($"p{dice.Next(100)}", kind)
                    {
                        Model = dice.Next(5) == 0 ? "other" : twin.Model.Code,
                        Revision = dice.Next(0, 9),
                        Os = dice.Next(12, 17),
                        Whole = dice.Next(8) > 0,
                    },
                    dice.Next(1, 1 << 20),
                    dice.Next(2) * dice.Next(0, 20_000)
                );
            case 11:
                return new ErasePart(Any(dice, twin.Model.Partitions).Name);
            case 12:
                return dice.Next(2) == 0
                    ? new CardTakenOut()
                    : new CardPutIn([
                        new CardFile(twin.Model.CardUpdate?.FileName ?? "x", dice.Next(2) == 0, new TwinPart("u", SoftwareKind.Stock)),
                    ]);
            default:
                return new TimePasses(
                    dice.Next(4) switch
                    {
                        0 => dice.Next(0, 500),
                        1 => dice.Next(0, 5000),
                        2 => dice.Next(0, 60_000),
                        _ => dice.Next(-5, 900_000),
                    }
                );
        }
    }
}
