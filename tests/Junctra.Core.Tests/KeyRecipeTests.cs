using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Every recipe of the catalogue, played on a twin of every model that has it.</summary>
public class KeyRecipeTests
{
    private const string Computer = "bench 1";
    private const double JustOutside = 0.3;

    public static TheoryData<string, string, PhoneMode> Recipes()
    {
        var data = new TheoryData<string, string, PhoneMode>();
        foreach (var model in OtherCatalogue.WithAllKeyFamilies.Models)
        foreach (var recipe in All(model))
        foreach (var from in recipe.From)
            data.Add(model.Code, recipe.Id, from);
        return data;
    }

    [Theory, MemberData(nameof(Recipes))]
    public void Hands_that_miss_nothing_arrive(string code, string id, PhoneMode from)
    {
        var (twin, recipe, start) = Case(code, id, from);
        var run = Hands.Play(twin, start, recipe, Computer);
        Assert.True(run.Finished, $"{code} {id} from {from.Id()} ends at {run.End.Stage}");
        Assert.Equal(Goal(twin, recipe, from), run.End.Mode);
    }

    [Theory, MemberData(nameof(Recipes))]
    public void Marks_show_when_the_score_draws_them(string code, string id, PhoneMode from)
    {
        // In a loop it depends on where in the loop the phone is.
        if (from is PhoneMode.BootLoop or PhoneMode.Starting)
            return;
        var (twin, recipe, start) = Case(code, id, from);
        var run = Hands.Play(twin, start, recipe, Computer);
        foreach (var mark in recipe.Marks)
            Assert.InRange(run.Seen[mark.Id] / 1000.0, mark.AtSeconds - 0.3, mark.AtSeconds + 0.3);
    }

    [Theory, MemberData(nameof(Recipes))]
    public void Just_inside_every_tolerance_works(string code, string id, PhoneMode from)
    {
        foreach (var (move, seconds, _) in Bounds(code, id))
        {
            var (twin, recipe, start) = Case(code, id, from);
            var run = Hands.Play(twin, start, recipe, Computer, other => other == move ? seconds : 0);
            Assert.True(
                Goal(twin, recipe, from) == run.End.Mode,
                $"{code} {id} from {from.Id()}: {move.Bar.StaveId} {(move.IsPress ? "pressed" : "let go")} {seconds} s off leads to {run.End.Stage}"
            );
        }
    }

    [Theory, MemberData(nameof(Recipes))]
    public void Just_outside_a_tolerance_phone_shows_what_the_data_say(string code, string id, PhoneMode from)
    {
        // The tolerances are stated for the first mode of the recipe.
        if (from != All(OtherCatalogue.WithAllKeyFamilies.Model(code)!).First(recipe => recipe.Id == id).From[0])
            return;
        foreach (var (move, seconds, shows) in Bounds(code, id))
        {
            var (twin, recipe, start) = Case(code, id, from);
            var outside = seconds + Math.Sign(seconds) * JustOutside;
            var run = Hands.Play(twin, start, recipe, Computer, other => other == move ? outside : 0);
            Assert.True(
                shows == run.End.Mode,
                $"{code} {id} from {from.Id()}: {move.Bar.StaveId} {(move.IsPress ? "pressed" : "let go")} {outside} s off leads to {run.End.Stage} ({run.End.Mode.Id()}), not to {shows.Id()}"
            );
        }
    }

    [Theory, MemberData(nameof(Recipes))]
    public void Every_run_is_the_same_when_replayed(string code, string id, PhoneMode from)
    {
        var (twin, recipe, start) = Case(code, id, from);
        var run = Hands.Play(twin, start, recipe, Computer);
        var again = twin.Run(TwinState.FromJson(start.ToJson()), TwinEvent.FromJson(TwinEvent.ToJson(run.Events)));
        Assert.Equal(run.End.ToJson(), again.ToJson());
    }

    [Theory]
    [
        InlineData("HX204", "loop-to-bootloader"),
        InlineData("HX310", "loop-to-bootloader"),
        InlineData("TN63E", "loop-to-warning"),
        InlineData("TRB62", "loop-to-download")
    ]
    public void Where_in_its_loop_the_phone_is_does_not_matter(string code, string id)
    {
        for (var phase = 0; phase < 20_000; phase += 130)
        {
            var (twin, recipe, start) = Case(code, id, PhoneMode.BootLoop);
            var run = Hands.Play(twin, twin.Next(start, new TimePasses(phase)), recipe, Computer);
            Assert.True(recipe.To == run.End.Mode, $"from {phase} ms on it ends at {run.End.Stage}");
        }
    }

    private static IEnumerable<KeyRecipe> All(PhoneModel model) =>
        OtherCatalogue
            .WithAllKeyFamilies.KeyFamilyOf(model)
            .Recipes.Concat(OtherCatalogue.WithAllKeyFamilies.CommonWays.Recipes)
            .Where(recipe => !recipe.NeedsBatteryOut || model.BatteryOut);

    private static (PhoneTwin Twin, KeyRecipe Recipe, TwinState Start) Case(string code, string id, PhoneMode from)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        var recipe = All(model).First(recipe => recipe.Id == id);
        var start = TwinFactory.In(
            model,
            from,
            new TwinNature
            {
                Unlocked = true,
                Debugging = true,
                Allowed = [Computer],
                Computer = recipe.Cable == CableAtStart.Computer ? Computer : null,
            }
        );
        return (new PhoneTwin(model, OtherCatalogue.WithAllKeyFamilies), recipe, start);
    }

    private static PhoneMode Goal(PhoneTwin twin, KeyRecipe recipe, PhoneMode from) =>
        recipe.Target switch
        {
            // What stands at the logo in this test is held up by nothing that a restart would not mend.
            Target.Start => from == PhoneMode.BootLoop ? PhoneMode.BootLoop
            : from == PhoneMode.SetupWizard ? PhoneMode.System
            : PhoneMode.System,
            Target.Recovery => from == PhoneMode.CustomRecovery ? PhoneMode.CustomRecovery : twin.Family.Behaviour.RecoveryOpensWith.Mode(),
            _ => recipe.To,
        };

    private static IEnumerable<(HandMove Move, double Seconds, PhoneMode Shows)> Bounds(string code, string id)
    {
        foreach (var bar in All(OtherCatalogue.WithAllKeyFamilies.Model(code)!).First(recipe => recipe.Id == id).Bars)
        foreach (var (isPress, tolerance) in new[] { (true, bar.Press), (false, bar.Release) })
        {
            if (tolerance?.EarlySeconds is { } early)
                yield return (new HandMove(bar, isPress), -early, tolerance.EarlyShows);
            if (tolerance?.LateSeconds is { } late)
                yield return (new HandMove(bar, isPress), late, tolerance.LateShows);
        }
    }
}
