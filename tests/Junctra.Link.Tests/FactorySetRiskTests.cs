using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>What the rehearsal says a break would mean, held against what is left of a phone whose write was broken there.</summary>
public class FactorySetRiskTests(PhoneBench bench) : WriteBench(bench)
{
    private const string File = "cairn-stock-26w10.tar";

    // A few in every run of the suite; all of them with JUNCTRA_EVERY_FAULT=1.
    public static TheoryData<int> Cuts => [.. Enumerable.Range(0, Sampled.Of(20, 4))];

    [Theory]
    [MemberData(nameof(Cuts))]
    public async Task Wherever_it_breaks_the_phone_is_no_worse_than_rehearsed_and_is_written_again_from_there(int cut)
    {
        var (plan, package) = await PlanAsync(Phones.A, File);
        var random = new Random(Sampled.Seed + cut);
        // Half of the breaks in the boot chain, which is a small part of the bytes and where it matters most.
        var chain = plan.Steps.First(step => step.IsWrite()).Bytes;
        var at = (long)(random.NextDouble() * (cut % 2 == 0 ? chain : plan.BytesToSend));
        await Phones.FaultAsync("A", new { dropAtByte = Math.Max(1, at) });
        var state = await WriteAsync(plan, package, Phones.A);
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Equal(Journalled(plan), await Phones.AcceptedAsync("A"));

        await Phones.EventsAsync("A", new ForcedRestart());
        await Until.TrueAsync(async () => await Phones.ModeAsync("A") is not "starting", "the phone has come to rest");
        var risk = plan.RiskOf(state.Step);
        if (await Phones.ModeAsync("A") == "emergency")
        {
            Assert.True(risk.IsNoReturn, $"step {state.Step?.Number} was rehearsed as {risk.Risk}, and left chip emergency mode");
            return;
        }

        // A step that must be finished may still leave a phone that starts; one that may be left never leaves less than keys mend.
        if (await Phones.ModeAsync("A") != "fastboot")
            await Phones.DoAsync("A", "hold-menu-keys");
        await Until.TrueAsync(async () => await Phones.ModeAsync("A") == "fastboot", "keys have brought it back");
        await Phones.FaultAsync("A", new { });
        var (again, same) = await PlanAsync(Phones.A, File);
        Assert.Equal(RunStatus.Finished, (await WriteAsync(again, same, Phones.A)).Status);
    }

    /// <summary>The boot chain is the only thing that must not be left half written, and every step says so of itself.</summary>
    [Fact]
    public async Task Only_the_boot_chain_must_be_finished_once_begun()
    {
        var (plan, _) = await PlanAsync(Phones.A, File);
        var final = plan.Steps.Where(step => plan.RiskOf(step).IsNoReturn).ToList();
        Assert.Equal(["bootloader"], final.Select(step => step.Partition()).OfType<string>());
        Assert.All(final, step => Assert.Equal(RiskKind.OnlyEmergency, plan.RiskOf(step).Risk));
        Assert.All(plan.Steps.Except(final).Where(step => !step.Act.FollowsTheRun), step =>
            Assert.InRange(plan.RiskOf(step).Risk, RiskKind.SafeToStop, RiskKind.KeysBringItBack)
        );
    }
}
