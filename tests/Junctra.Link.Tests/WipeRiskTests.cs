using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>
/// What the rehearsal of a wipe by hands says of a break, held against what is left of a phone that hands let down there.
/// </summary>
[Trait("Turn", "0")]
public class WipeRiskTests(PhoneBench bench) : WriteBench(bench)
{
    // A few in every run of the suite; all of them with JUNCTRA_EVERY_FAULT=1.
    public static TheoryData<int> Breaks => [.. Enumerable.Range(0, Sampled.Of(20, 3))];

    private string StateFile => Path.Combine(Phones.Data, "a", "state.json");

    private TwinState StateNow => TwinState.FromJson(File.ReadAllText(StateFile));

    [Theory]
    [MemberData(nameof(Breaks))]
    public async Task Wherever_hands_let_it_down_it_is_no_worse_than_rehearsed_and_is_wiped_from_there(int at)
    {
        // Stock software over the data of a custom system: it loops on them.
        var (set, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar", erase: false);
        Assert.Equal(RunStatus.Finished, (await WriteAsync(set, package, Phones.A)).Status);
        await RestAsync();
        Assert.True(StateNow is { Mode: PhoneMode.BootLoop, Data.Apps: > 0 });
        var random = new Random(Sampled.Seed + at);
        var (plan, scene) = Wipe();
        var steps = plan.Steps.Where(step => step.Act.By == ActBy.Hands && step.Act is not ConfirmTarget).ToList();
        var broken = steps[random.Next(steps.Count)];
        foreach (var step in steps.TakeWhile(step => step != broken))
            await DoAsync(step.Act.OnTwin(scene, StateNow));

        // Somewhere within the step: some of its moves, and a part of the time that the phone takes for the last of them.
        var moves = broken.Act.OnTwin(scene, StateNow).ToList();
        var made = moves.Take(random.Next(moves.Count + 1)).ToList();
        if (made is [.., TimePasses last])
            made[^1] = new TimePasses((long)(last.Milliseconds * random.NextDouble()));
        TwinEvent[] mistakes = [new CableOut(), new PowerGone(), new ForcedRestart()];
        await DoAsync([.. made, .. LetGo(made), mistakes[random.Next(mistakes.Length)]]);
        await RestAsync();

        var risk = plan.RiskOf(broken);
        var left = await Phones.ModeAsync("A");
        Assert.True(left != "emergency" || risk.IsNoReturn, $"“{broken.Title}” was rehearsed as {risk.Risk}, and left chip emergency mode");
        Assert.InRange(risk.Risk, RiskKind.SafeToStop, RiskKind.KeysBringItBack);

        // What a flat battery needs before anything else; whoever begins again has charged it.
        await DoAsync([new CableIn(null), new TimePasses(30 * 60 * 1000), new CableOut()]);
        await RestAsync();
        // The phone's time goes on while moves are on their way to it: hands that came too late begin again from where it is.
        await Until.TrueAsync(
            async () =>
            {
                var (again, from) = Wipe();
                foreach (var step in again.Steps.Where(step => step.Act.By == ActBy.Hands && step.Act is not ConfirmTarget))
                    await DoAsync(step.Act.OnTwin(from, StateNow));
                await RestAsync();
                return StateNow is { Mode: PhoneMode.SetupWizard } wiped && (wiped.Data?.Apps ?? 0) == 0;
            },
            "it is wiped and has started"
        );
    }

    private Task DoAsync(IEnumerable<TwinEvent> events) => Phones.EventsAsync("A", [.. events]);

    private Task RestAsync() =>
        Until.TrueAsync(
            async () => await Phones.ModeAsync("A") is not "starting" && StateNow is { Task: null, Mode: not PhoneMode.Starting },
            "the phone has come to rest"
        );

    /// <summary>The plan of the wipe from where the phone is.</summary>
    private (Plan Plan, TwinScene Scene) Wipe()
    {
        var state = StateNow;
        var phone = new Phone([
            FactName.ModelCode.Claim("HX204", FactSource.Label, Sample.Noon, "bench"),
            FactName.Mode.Claim(state.Mode, FactSource.BootloaderScreen, Sample.Noon, "bench"),
            Sample.Fact(FactName.Recovery, "stock"),
        ]);
        var outcome = new WipeOnly().Compile(new PathCase(phone, null, true, Repo.Catalogue));
        Assert.Empty(outcome.Refusals);
        return (outcome.Plan!, new TwinScene(new PhoneTwin(Repo.Catalogue.Model("HX204")!, Repo.Catalogue), Repo.Catalogue, phone));
    }
}
