using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>A chip that answers alone: its loader, its boot chain, and what the phone tells of itself only after that.</summary>
[Trait("Turn", "6")]
public class EmergencyLinkTests(PhoneBench bench) : HandsBench(bench)
{
    [Fact]
    public async Task A_chip_that_answers_alone_takes_its_loader_and_boot_chain_and_then_the_bundle()
    {
        await Phones.DoAsync("O", "renew");
        var bundle = await PackageAsync("tern6_latest.zip");
        var phone = Known("TN63W", "off", (FactName.Serial, "TNO60427"), (FactName.RollbackFloor, "6"));
        var plan = Compile(phone, bundle.Package, "L", @case => @case with { NeedsRescue = true });
        var state = await CarryOutAsync("O", plan, [bundle], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Equal("write bootchain", (await Phones.AcceptedAsync("O"))[0]);
        await Until.TrueAsync(async () => await Phones.ModeAsync("O") == "setup-wizard", "it asks to be set up");
        await HoldsAsync("O", state, bundle);
    }

    [Fact]
    public async Task A_chip_whose_boot_chain_is_too_new_does_not_start_the_loader()
    {
        await Phones.DoAsync("N", "renew");
        var bundle = await PackageAsync("tern6_latest.zip");
        // Somebody remembers wrong: its fuses say 7.
        var phone = Known("TN63W", "off", (FactName.Serial, "TNN60426"), (FactName.RollbackFloor, "6"));
        var plan = Compile(phone, bundle.Package, "L", @case => @case with { NeedsRescue = true });
        var state = await CarryOutAsync("N", plan, [bundle], phone);
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("refused to start the loader", state.WhatHappened);
        Assert.False(state.HasTouchedPhone);
    }

    // A phone of which nobody knew the serial: it was typed off the label, and the phone tells it in download mode.
    private async Task<RunState> RescueUnknownAsync(string label, Func<Plan, Plan>? with = null)
    {
        await Phones.DoAsync("O", "renew");
        LabelSays = label;
        var bundle = await PackageAsync("tern6_latest.zip");
        Phone phone = Known("TN63W", "off", (FactName.RollbackFloor, "6"));
        var plan = Compile(phone, bundle.Package, "L", @case => @case with { NeedsRescue = true });
        Assert.Null(plan.Target.Serial);
        return await CarryOutAsync("O", with?.Invoke(plan) ?? plan, [bundle], phone);
    }

    [Fact]
    public async Task A_label_that_says_what_the_phone_tells_afterwards_lets_the_bundle_through()
    {
        var state = await RescueUnknownAsync("tno-60427");
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Equal("TNO60427", state.ToldSerial);
    }

    [Fact]
    public async Task Of_a_phone_that_tells_another_serial_than_its_label_nothing_but_the_boot_chain_is_written()
    {
        var state = await RescueUnknownAsync("TNO99999");
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("serial is TNO60427, judged was TNO99999", state.WhatHappened);
        Assert.Equal(["write bootchain"], await Phones.AcceptedAsync("O"));
    }

    [Fact]
    public async Task A_floor_above_what_the_package_brings_ends_it_before_the_bundle()
    {
        // Nobody knew the floor, and the package states less than the phone has.
        var state = await RescueUnknownAsync("TNO60427", plan =>
            plan with
            {
                Target = plan.Target with { RollbackFloor = null },
                Packages = [.. plan.Packages.Select(package => package with { Revision = 5 })],
            }
        );
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("The phone's floor is 6, and the package brings revision 5", state.WhatHappened);
        Assert.Equal(["write bootchain"], await Phones.AcceptedAsync("O"));
    }
}
