using System.Security.Cryptography;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Writes of packages whose images must be unpacked first, whose file changes under the writer, and that a person stops.</summary>
[Trait("Turn", "4")]
public sealed class PackedWriteTests(PhoneBench bench) : WriteBench(bench)
{
    [Theory]
    [InlineData("cairn-26w08.tar", "A", "HX204/15.26w08-1.r3", "setup-wizard")]
    [InlineData("cairn-26w06-set.zip", "A", "HX204/15.26w06-3.r3", "setup-wizard")]
    [InlineData("cairn-small-26w10.tar", "C", "HX204C/15.26w10-4.r3", "setup-wizard")]
    public async Task Every_partition_holds_what_its_image_expands_to(string file, string phone, string build, string boots)
    {
        var at = phone == "A" ? Phones.A : Phones.C;
        var (plan, package) = await PlanAsync(at, file);
        var work = Directory.CreateTempSubdirectory("junctra-work-").FullName;
        var state = await WriteAsync(plan, package, at, work: work);
        Assert.Equal(RunStatus.Finished, state.Status);
        Assert.Empty(Directory.EnumerateFileSystemEntries(work));
        Assert.Equal(await Phones.AcceptedAsync(phone), Journalled(plan));
        foreach (var image in package.Images)
        {
            await using var partition = File.OpenRead(Path.Combine(Phones.Data, phone.ToLowerInvariant(), image.Partition + ".bin"));
            var bytes = new byte[image.Body.ExpandedBytes];
            await partition.ReadExactlyAsync(bytes);
            Assert.Equal(image.Body.ExpandedSha256, Convert.ToHexStringLower(SHA256.HashData(bytes)));
        }

        await Until.TrueAsync(async () => await Phones.ModeAsync(phone) == boots, "the phone has booted");
        await Phones.DoAsync(phone, "hold-menu-keys");
        Assert.Equal(build, (await ReadAsync(at))[FactName.Build]);
    }

    [Fact]
    public async Task Data_of_the_makers_own_system_survive_a_write_that_keeps_them()
    {
        var (plan, package) = await PlanAsync(Phones.C, "cairn-small-26w10.tar", erase: false);
        Assert.Equal(RunStatus.Finished, (await WriteAsync(plan, package, Phones.C)).Status);
        await Until.TrueAsync(async () => await Phones.ModeAsync("C") == "system", "the phone runs with its data");
    }

    [Fact]
    public async Task A_half_written_phone_comes_back_with_its_data()
    {
        await Phones.DoAsync("B", "hold-menu-keys");
        var (plan, package) = await PlanAsync(Phones.B, "cairn-stock-26w10.tar", erase: false);
        Assert.Equal(RunStatus.Finished, (await WriteAsync(plan, package, Phones.B)).Status);
        await Until.TrueAsync(async () => await Phones.ModeAsync("B") == "system", "the phone runs with its data");
    }

    private static async Task<string> CopyAsync(Package package)
    {
        var copy = Path.Combine(Directory.CreateTempSubdirectory("junctra-copy-").FullName, "set.tar");
        File.Copy(await DemoLibrary.PathAsync(package.FileName), copy);
        return copy;
    }

    private static void Change(string path, long at)
    {
        using var file = new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite);
        file.Position = at;
        var old = file.ReadByte();
        file.Position = at;
        file.WriteByte((byte)(old ^ 1));
    }

    [Fact]
    public async Task Bytes_that_change_in_the_file_during_the_write_never_reach_the_phone()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        var copy = await CopyAsync(package);
        var system = package.Image("system")!.Body;
        var state = await WriteAsync(plan, package, Phones.A, path: copy, atEvent: what =>
        {
            if (what is ImageAccepted { Partition: "radio" })
                Change(copy, system.Offset!.Value + system.Bytes - 1000);
            return Task.CompletedTask;
        });
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("changed on this computer after its digest had been read", state.WhatHappened);
        Assert.Contains("Get the package again", state.Next);
        Assert.Equal(["boot", "bootloader", "overlay", "radio", "verify"], state.Accepted.Keys.Order());
        Assert.Equal(await Phones.AcceptedAsync("A"), Journalled(plan));
        Directory.Delete(Path.GetDirectoryName(copy)!, true);
    }

    [Fact]
    public async Task A_file_put_in_the_packages_place_during_the_write_is_not_read()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        var copy = await CopyAsync(package);
        var state = await WriteAsync(plan, package, Phones.A, path: copy, atEvent: what =>
        {
            if (what is ImageAccepted { Partition: "radio" })
            {
                File.WriteAllText(copy + ".new", "something else");
                File.Move(copy + ".new", copy, overwrite: true);
            }

            return Task.CompletedTask;
        });
        Assert.Equal(RunStatus.Finished, state.Status);
        Directory.Delete(Path.GetDirectoryName(copy)!, true);
    }

    [Fact]
    public async Task A_packed_package_that_changed_is_refused_before_the_phone_is_asked_anything()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-26w06-set.zip");
        var copy = await CopyAsync(package);
        Change(copy, 3_000_000);
        var state = await WriteAsync(plan, package, Phones.A, path: copy);
        Assert.False(state.HasTouchedPhone);
        Assert.Contains("its digest has changed", state.WhatHappened);
        Assert.DoesNotContain(Journal, what => what is TargetConfirmed);
        Directory.Delete(Path.GetDirectoryName(copy)!, true);
    }

    [Fact]
    public async Task A_write_stops_after_the_image_at_hand()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        string? asked = null;
        var state = await WriteAsync(
            plan,
            package,
            Phones.A,
            stopAsked: () => asked,
            atEvent: what =>
            {
                if (what is StepStarted started && plan.Steps[started.Step - 1].Partition() == "boot")
                    asked = "bench";
                return Task.CompletedTask;
            }
        );
        Assert.Equal(RunStatus.Stopped, state.Status);
        Assert.Equal(["boot", "bootloader", "radio"], state.Accepted.Keys.Order());
        Assert.Equal(await Phones.AcceptedAsync("A"), Journalled(plan));
        Assert.Contains("write again from the start", state.Next);
        Assert.Equal("fastboot", await Phones.ModeAsync("A"));
    }

    [Fact]
    public async Task A_boot_chain_is_finished_and_started_before_a_write_stops()
    {
        var (plan, package) = await PlanAsync(Phones.A, "Cairn_latest_full.zip");
        string? asked = null;
        var state = await WriteAsync(
            plan,
            package,
            Phones.A,
            stopAsked: () => asked,
            atEvent: what =>
            {
                if (what is BytesSent or StepStarted { Title: "Write bootloader" })
                    asked = "bench";
                return Task.CompletedTask;
            }
        );
        Assert.Equal(RunStatus.Stopped, state.Status);
        Assert.Equal(["bootloader"], state.Accepted.Keys);
        Assert.Single(Journal.OfType<PhoneBack>());
        // The new boot chain runs: its floor is the phone's.
        Assert.Equal("4", (await ReadAsync(Phones.A))[FactName.RollbackFloor]);
    }

    [Fact]
    public async Task A_write_that_is_stopped_before_its_first_byte_leaves_the_phone_as_it_came()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        var state = await WriteAsync(plan, package, Phones.A, stopAsked: () => "bench");
        Assert.Equal((RunStatus.Stopped, false), (state.Status, state.HasTouchedPhone));
        Assert.Contains("Nothing was written", state.Next);
        Assert.Empty(await Phones.AcceptedAsync("A"));
    }
}
