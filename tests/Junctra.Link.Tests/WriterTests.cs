using System.Text.Json.Nodes;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Link.Fastboot;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Reading and writing against the real stand-in phones, in their own process.</summary>
public sealed class WriterTests(PhoneBench bench) : WriteBench(bench)
{
    private Task<PhoneReading> ReadAsync() => ReadAsync(Phones.A);

    private Task<(Plan Plan, Package Package)> PlanAsync(string file = "cairn-stock-26w10.tar", bool erase = true) =>
        PlanAsync(Phones.A, file, erase);

    private Task<RunState> WriteAsync(Plan plan, Package package, string? path = null, CancellationToken cancel = default) =>
        WriteAsync(plan, package, Phones.A, path: path, cancel: cancel);

    [Fact]
    public async Task Reading_brings_every_fact_with_the_link_as_source()
    {
        var reading = await ReadAsync();
        Assert.Equal(
            ("HX204", "HXA70431", "3", "unlocked", "71", "fastboot"),
            (
                reading[FactName.ModelCode],
                reading[FactName.Serial],
                reading[FactName.RollbackFloor],
                reading[FactName.LockState],
                reading[FactName.BatteryPercent],
                reading[FactName.Mode]
            )
        );
        Assert.Equal("50331648", reading[FactName.PartitionSize("system")]);
        Assert.All(reading.Facts, fact => Assert.Equal(FactSource.Link, fact.Source));
        Assert.Empty(reading.Remarks);
    }

    [Fact]
    public async Task A_phone_that_is_not_in_its_bootloader_does_not_answer() =>
        Assert.Equal(LinkFault.NoAnswer, (await Assert.ThrowsAsync<LinkException>(() => ReadAsync(Phones.B))).Fault);

    [Fact]
    public async Task Keys_bring_a_looping_phone_into_its_bootloader()
    {
        Assert.Equal("boot-loop", await Phones.ModeAsync("B"));
        await Phones.DoAsync("B", "hold-menu-keys");
        Assert.Equal("HXB70988", (await ReadAsync(Phones.B))[FactName.Serial]);
    }

    [Fact]
    public async Task A_whole_write_leaves_the_phone_on_the_packages_build_and_erased()
    {
        var (plan, package) = await PlanAsync();
        var state = await WriteAsync(plan, package);
        Assert.Equal(RunStatus.Finished, state.Status);
        Assert.Equal(1, state.Progress);
        Assert.Equal(
            package.Images.Select(i => (i.Partition, i.Member.Sha256)).Order(),
            state.Accepted.Select(p => (p.Key, p.Value)).Order()
        );
        Assert.Contains(Journal.OfType<PieceAccepted>(), piece => piece.Pieces > 1);
        Assert.Equal(2, Journal.OfType<PhoneBack>().Count());

        await Until.TrueAsync(async () => await Phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
        await Phones.DoAsync("A", "hold-menu-keys");
        var after = await ReadAsync();
        Assert.Equal(
            ("HX204/15.26w10-7.r3", "3", "HX204-R-26w10"),
            (after[FactName.Build], after[FactName.RollbackFloor], after[FactName.RadioBuild])
        );
        await AssertPartitionAsync(package, "radio");
        await AssertPartitionAsync(package, "boot");
    }

    private async Task AssertPartitionAsync(Package package, string partition)
    {
        var member = package.Image(partition)!.Member;
        await using var file = File.OpenRead(Path.Combine(Phones.Data, "a", partition + ".bin"));
        var bytes = new byte[member.PackedBytes];
        await file.ReadExactlyAsync(bytes);
        Assert.Equal(member.Sha256, Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes)));
    }

    [Fact]
    public async Task Data_of_a_custom_system_that_is_kept_makes_the_phone_loop()
    {
        var (plan, package) = await PlanAsync(erase: false);
        Assert.Equal(RunStatus.Finished, (await WriteAsync(plan, package)).Status);
        await Until.TrueAsync(async () => await Phones.ModeAsync("A") == "boot-loop", "the phone loops on stale data");
    }

    [Fact]
    public async Task A_newer_boot_chain_raises_the_floor_for_ever()
    {
        var (plan, package) = await PlanAsync("Cairn_latest_full.zip");
        await WriteAsync(plan, package);
        Assert.Equal(4, (int)(await Phones.LookAsync("A"))["rollbackFloor"]!);
        await Until.TrueAsync(async () => await Phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
        await Phones.DoAsync("A", "hold-menu-keys");
        await using var client = await FastbootClient.ConnectAsync(Phones.A, Clocks);
        var refusal = await Assert.ThrowsAsync<LinkException>(() => FlashAsync(client, "cairn-stock-26w10.tar", "bootloader"));
        Assert.Equal(LinkFault.Refused, refusal.Fault);
        Assert.Contains("below the floor 4", refusal.Message);
    }

    private static async Task FlashAsync(FastbootClient client, string file, string partition)
    {
        var member = (await DemoLibrary.ReadAsync(file)).Image(partition)!.Member;
        var bytes = new byte[member.PackedBytes];
        await using var stream = File.OpenRead(await DemoLibrary.PathAsync(file));
        stream.Position = member.Image!.Offset!.Value;
        await stream.ReadExactlyAsync(bytes);
        await client.DownloadAsync(bytes.Length, (to, cancel) => to.WriteAsync(bytes, cancel));
        await client.FlashAsync(partition, bytes.Length);
    }

    [Fact]
    public async Task The_stand_in_refuses_what_a_phone_refuses()
    {
        await using var client = await FastbootClient.ConnectAsync(Phones.A, Clocks);
        async Task<string> RefusalAsync(Func<Task> act) => (await Assert.ThrowsAsync<LinkException>(act)).Message;
        Assert.Contains("nothing was downloaded", await RefusalAsync(() => client.FlashAsync("boot", 1)));
        Assert.Contains("below the floor 3", await RefusalAsync(() => FlashAsync(client, "cairn-stock-25w40.tar", "bootloader")));
        Assert.Contains("not for this model", await RefusalAsync(() => FlashAsync(client, "cairn-small-26w10.tar", "bootloader")));
        Assert.Contains("at most 4194304", await RefusalAsync(() => client.DownloadAsync(5 << 20, (_, _) => ValueTask.CompletedTask)));
        Assert.Contains("no partition", await RefusalAsync(() => client.EraseAsync("kitchen", 1)));
        Assert.Contains("protected", await RefusalAsync(() => client.EraseAsync("identity", 1)));
        await client.DownloadAsync(3 << 20, (to, cancel) => to.WriteAsync(new byte[3 << 20], cancel));
        Assert.Contains("overlay holds", await RefusalAsync(() => client.FlashAsync("overlay", 1)));
    }

    [Fact]
    public async Task State_survives_the_stand_ins_own_end_and_a_locked_phone_refuses_writes()
    {
        await using var own = await StandInProcess.StartAsync();
        Phones = own;
        await Phones.KillAsync();
        var file = Path.Combine(Phones.Data, "a", "state.json");
        var memory = JsonNode.Parse(await File.ReadAllTextAsync(file))!;
        memory["Unlocked"] = false;
        memory["Charge"] = 55_900_000;
        await File.WriteAllTextAsync(file, memory.ToJsonString());
        await using var again = await StandInProcess.StartAsync(Phones.Data);
        var reading = await ReadAsync(again.A);
        Assert.Equal(
            ("locked", "55", "HXA70431"),
            (reading[FactName.LockState], reading[FactName.BatteryPercent], reading[FactName.Serial])
        );
        await using var client = await FastbootClient.ConnectAsync(again.A, Clocks);
        Assert.Contains("locked", (await Assert.ThrowsAsync<LinkException>(() => client.EraseAsync("userdata", 1))).Message);
    }

    [Fact]
    public async Task Another_phone_at_the_port_is_not_written()
    {
        var (plan, package) = await PlanAsync();
        var other = plan with { Target = plan.Target with { Serial = "HXA00000", RollbackFloor = 2 } };
        var state = await WriteAsync(other, package);
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.False(state.HasTouchedPhone);
        Assert.Contains("serial is HXA70431, judged was HXA00000", state.WhatHappened);
        Assert.Contains("rollback floor is 3, judged was 2", state.WhatHappened);
        Assert.Equal("custom-2.1", (await ReadAsync())[FactName.Build]);
    }

    [Fact]
    public async Task A_file_that_changed_after_its_check_is_not_written()
    {
        var (plan, package) = await PlanAsync();
        var copy = Path.GetTempFileName();
        File.Copy(await DemoLibrary.PathAsync(package.FileName), copy, overwrite: true);
        await using (var file = File.OpenWrite(copy))
        {
            file.Position = 4_000_000;
            file.WriteByte(0xFF);
        }

        var state = await WriteAsync(plan, package, copy);
        Assert.False(state.HasTouchedPhone);
        Assert.Contains("digest has changed", state.WhatHappened);
        File.Delete(copy);
    }

    [Fact]
    public async Task A_file_that_is_gone_is_named()
    {
        var (plan, package) = await PlanAsync();
        var state = await WriteAsync(plan, package, "/nowhere/set.tar");
        Assert.Contains("cannot be read", state.WhatHappened);
    }

    [Fact]
    public async Task A_cable_pulled_in_the_middle_leaves_a_journal_that_says_what_the_phone_holds()
    {
        var (plan, package) = await PlanAsync();
        var pulled = false;
        var state = await WriteAsync(plan, package, Phones.A, async what =>
        {
            if (what is ImageAccepted { Partition: "boot" } && !pulled)
            {
                pulled = true;
                await Phones.DoAsync("A", "cable");
            }
        });
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Equal(["boot", "bootloader", "radio"], state.Accepted.Keys.Order());
        Assert.Contains("write again from the start", state.Next);
        Assert.Single(Journal.OfType<RunFailed>());
    }

    [Fact]
    public async Task Stopping_the_program_is_written_down_as_a_failure()
    {
        var (plan, package) = await PlanAsync();
        using var stop = new CancellationTokenSource();
        await stop.CancelAsync();
        var state = await WriteAsync(plan, package, cancel: stop.Token);
        Assert.Contains("was stopped", state.WhatHappened);
    }
}
