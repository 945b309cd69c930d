using System.Net;
using Junctra.Core.Runs;

namespace Junctra.Web.Tests;

// What is left of a write that broke off, where nobody goes on with it.
public partial class WriteFaultTests
{
    [Fact]
    public async Task A_phone_whose_owner_gives_up_goes_back_with_a_sheet_that_says_so()
    {
        if (await world.Phones.ModeAsync("C") != "fastboot")
            await world.Phones.DoAsync("C", "hold-menu-keys");
        await PlanAsync("0612", "C", "cairn-small-26w10.tar");
        Assert.Contains("nothing to give up", (await PostAsync("/jobs/0612/hand-back", "GiveUp", ("told", "true"), ("owner", "x"))).Text);
        await world.Phones.FaultAsync("C", new { dropAtByte = 12_000_000 });
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0612")).Status);
        await UntilAsync("0612", state => state.Status == RunStatus.Failed, "the write has broken off");
        var open = await GetAsync("/jobs/0612/hand-back");
        Assert.Contains("Writes that ended early", open);
        Assert.Contains("If it goes back unrepaired", open);
        Assert.DoesNotContain("Nothing was written to this phone", open);
        Assert.Contains("note who gives the repair up", (await PostAsync("/jobs/0612/hand-back", "GiveUp", ("owner", "the owner"))).Text);
        Assert.Contains("note who gives the repair up", (await PostAsync("/jobs/0612/hand-back", "GiveUp", ("told", "true"))).Text);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await PostAsync("/jobs/0612/hand-back", "GiveUp", ("told", "true"), ("owner", "the owner, by telephone"))).Status
        );
        var sheet = await GetAsync("/jobs/0612/hand-back");
        Assert.Contains("Handed back unrepaired", sheet);
        Assert.Contains("the owner, by telephone", sheet);
        Assert.Contains("Accepted whole: bootloader", sheet);
        Assert.Contains("hat it starts was not seen", sheet);
        Assert.Contains("handed back already", (await PostAsync("/jobs/0612/hand-back", null)).Text);
    }
}
