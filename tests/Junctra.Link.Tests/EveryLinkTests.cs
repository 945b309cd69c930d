using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Link.Running;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>Every path that the links of a shop carry out, on the simulated phones, with hands where hands are wanted.</summary>
[Trait("Turn", "7")]
public class EveryLinkTests(PhoneBench bench) : HandsBench(bench)
{
    [Fact]
    public async Task Its_own_backup_goes_back_over_the_link_of_custom_recovery()
    {
        await Phones.DoAsync("L", "renew");
        Assert.Equal(System.Net.HttpStatusCode.OK, await Phones.DoAsync("L", "into/custom-recovery"));
        await Phones.EventsAsync("L", new CableIn("bench computer"));
        var backup = await PackageAsync("fell-own-backup.tar");
        var phone = new Phone((await ReadAsync(Phones["L"])).Facts)
            .Supposing(FactName.LockState, "unlocked")
            .Supposing(FactName.Recovery, "custom");
        Assert.Equal("OBF20117", phone[FactName.Serial].Value);
        var plan = Compile(phone, backup.Package, "H");
        var state = await CarryOutAsync("L", plan, [backup], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        await RestAsync("L");
        Assert.Equal("system", await Phones.ModeAsync("L"));
        await HoldsAsync("L", state, backup);
        Assert.Equal(new TwinData("OB17_2.6.112_r04_DNM", 2, SoftwareKind.Stock, 40, null), StateOf("L").Data);
    }

    [Fact]
    public async Task Stock_recovery_is_written_alone_and_proved_by_entering_it()
    {
        await Phones.DoAsync("L", "renew");
        Assert.Equal(System.Net.HttpStatusCode.OK, await Phones.DoAsync("L", "into/fastboot"));
        if (StateOf("L").Cable == CableTo.Nothing)
            await Phones.EventsAsync("L", new CableIn("bench computer"));
        var image = await PackageAsync("recovery.img");
        var phone = new Phone((await ReadAsync(Phones["L"])).Facts).Supposing(FactName.Recovery, "custom");
        var plan = Compile(phone, image.Package, "M", @case => @case with { Goal = JobGoal.Recovery }, erases: false);
        var state = await CarryOutAsync("L", plan, [image], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Contains(Journal, what => what is HandsSaid { Shows: "stock-recovery", Done: true });
        Assert.Equal(["flash recovery"], await Phones.AcceptedAsync("L"));
        await HoldsAsync("L", state, image);
    }

    [Fact]
    public async Task Somebody_elses_phone_in_custom_recovery_is_not_given_the_backup()
    {
        await Phones.DoAsync("L", "renew");
        await Phones.DoAsync("L", "into/custom-recovery");
        await Phones.EventsAsync("L", new CableIn("bench computer"));
        var backup = await PackageAsync("fell-own-backup.tar");
        var phone = new Phone((await ReadAsync(Phones["L"])).Facts)
            .Supposing(FactName.LockState, "unlocked")
            .Supposing(FactName.Recovery, "custom");
        var plan = Compile(phone, backup.Package, "H");
        var other = plan with { Target = plan.Target with { Serial = "OBF88230" } };
        var state = await CarryOutAsync("L", other, [backup], phone);
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("serial is OBF20117, judged was OBF88230", state.WhatHappened);
        Assert.Empty(await Phones.AcceptedAsync("L"));
    }

    [Fact]
    public async Task A_card_update_is_put_right_and_recovery_puts_it_in()
    {
        await Phones.DoAsync("M", "renew");
        var update = await PackageAsync("fell-full-2.6.118.zip");
        CardSource = update.Package.FileName;
        var phone = Known(
            "OB17",
            "system",
            (FactName.DeviceStatus, "official"),
            (FactName.Recovery, "stock"),
            (FactName.LockState, "locked")
        );
        var plan = Compile(phone, update.Package, "G", erases: false);
        var state = await CarryOutAsync("M", plan, [update], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        await Until.TrueAsync(async () => await Phones.ModeAsync("M") != "update-running", "recovery has done with it");
        await RestAsync("M");
        Assert.Equal("system", await Phones.ModeAsync("M"));
        Assert.Equal(update.Package.Id, (await Phones.FilesAsync("M", "card"))["fell-update.zip"]);
        Assert.Equal("OB17_2.6.118_r04_DNM", StateOf("M").Parts["system"].Build);
        Assert.Equal("OB17_2.6.112_r04_DNM", StateOf("M").Parts["bootchain"].Build);
        foreach (var image in update.Package.Images.Where(image => image.Partition is "boot" or "system" or "recovery"))
            Assert.Equal(await ExpandedAsync(update, image), await InPartitionAsync("M", image));
    }

    [Fact]
    public async Task A_card_update_goes_over_the_debugging_link_of_a_phone_that_allows_this_computer()
    {
        await Phones.DoAsync("M", "renew");
        await Phones.EventsAsync(
            "M",
            [
                new CableIn("bench computer"),
                .. Enumerable.Repeat(new Choose("build-number"), 7),
                new Choose("debugging"),
                new Choose("allow"),
            ]
        );
        var update = await PackageAsync("fell-full-2.6.118.zip");
        var phone = new (FactName Name, string Value)[]
        {
            (FactName.UsbDebugging, "authorised"),
            (FactName.Card, "present"),
            (FactName.Recovery, "stock"),
            (FactName.LockState, "locked"),
        }.Aggregate(new Phone((await ReadAsync(Phones["M"])).Facts), (known, fact) =>
            known[fact.Name].Value is null ? known.Supposing(fact.Name, fact.Value) : known
        );
        var plan = Compile(phone, update.Package, "G", erases: false);
        // Another phone's plan puts nothing on this one's card.
        var other = await CarryOutAsync("M", plan with { Target = plan.Target with { Serial = "OBM99999" } }, [update], phone);
        Assert.Equal(RunStatus.Failed, other.Status);
        Assert.DoesNotContain("fell-update.zip", (await Phones.FilesAsync("M", "card")).Keys);
        // Nor does a file that is not the one that was judged.
        var changed = Path.Combine(Kept, "changed.zip");
        await File.WriteAllBytesAsync(changed, [.. await File.ReadAllBytesAsync(update.Path), 0]);
        var wrong = await CarryOutAsync("M", plan, [update with { Path = changed }], phone);
        Assert.Equal(RunStatus.Failed, wrong.Status);
        Assert.DoesNotContain("fell-update.zip", (await Phones.FilesAsync("M", "card")).Keys);

        var state = await CarryOutAsync("M", plan, [update], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Equal(update.Package.Id, Assert.Single(state.Copied).Sha256);
        Assert.Equal(update.Package.Id, (await Phones.FilesAsync("M", "card"))["fell-update.zip"]);
        await Until.TrueAsync(async () => await Phones.ModeAsync("M") != "update-running", "recovery has done with it");
        await RestAsync("M");
        Assert.Equal("OB17_2.6.118_r04_DNM", StateOf("M").Parts["system"].Build);
    }

    [Fact]
    public async Task A_part_is_patched_on_the_phone_brought_back_and_written_with_its_bundle()
    {
        await Phones.DoAsync("K", "renew");
        var bundle = await PackageAsync("TN63E_WHM_r5_full.zip");
        var phone = Rooted(await ReadAsync(Phones["K"]));
        var prepare = Compile(phone, bundle.Package, "I", @case => @case with { Goal = JobGoal.KeepRoot }, false);
        var prepared = await CarryOutAsync("K", prepare, [bundle], phone);
        Assert.True(prepared.Status == RunStatus.Finished, $"{prepared.WhatHappened} {prepared.Next}");
        var part = await DemoLibrary.ReadFileAsync(Assert.Single(TakenIn));
        Assert.Equal("8.2", part.PatchedWith);
        Assert.Equal(PackageKind.BundlePart, part.Kind);

        Assert.Equal(System.Net.HttpStatusCode.OK, await Phones.DoAsync("K", "into/download"));
        await Phones.EventsAsync("K", new CableIn("bench computer"));
        await Until.TrueAsync(async () => await Phones.ModeAsync("K") == "download", "it is in download mode");
        phone = Rooted(await ReadAsync(Phones["K"]));
        var patched = new PackageFile(part, TakenIn[0]);
        var write = Compile(phone, part, "I", @case => @case with { Original = bundle.Package, Goal = JobGoal.KeepRoot }, false);
        Assert.Equal(
            SoftwareKind.Patched,
            write.Steps.SelectMany(step => step.Act.Sends).Single(image => image.Partition == "boot").Origin.Kind
        );
        Assert.Equal(
            SoftwareKind.Stock,
            write.Steps.SelectMany(step => step.Act.Sends).Single(image => image.Partition == "system").Origin.Kind
        );
        var written = await CarryOutAsync("K", write, [patched, bundle], phone);
        Assert.True(written.Status == RunStatus.Finished, $"{written.WhatHappened} {written.Next}");
        await Until.TrueAsync(async () => await Phones.ModeAsync("K") == "system", "it starts, its data and its root kept");
        Assert.Equal("8.2", StateOf("K").Parts["boot"].Root);
        Assert.Equal("TN63E.5.2608.WHM2", StateOf("K").Parts["system"].Build);
        Assert.Equal("owner", StateOf("K").Data?.Account);
        await HoldsAsync("K", written, patched, bundle);
    }

    [Fact]
    public async Task A_layout_goes_before_its_bundle()
    {
        await Phones.DoAsync("H", "renew");
        await IntoDownloadAsync();
        var bundle = await PackageAsync("TN63E_WHM_r5_with_layout.zip");
        var phone = new Phone((await ReadAsync(Phones.H)).Facts);
        var plan = Compile(phone, bundle.Package, "E", @case =>
            @case with
            {
                Policy = @case.Policy with { Layout = Core.Matching.LayoutSchool.Always },
            }
        );
        var state = await CarryOutAsync("H", plan, [bundle], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Equal("layout ", (await Phones.AcceptedAsync("H"))[0]);
        await Until.TrueAsync(async () => await Phones.ModeAsync("H") == "setup-wizard", "it asks to be set up");
        await HoldsAsync("H", state, bundle);
    }

    [Fact]
    public async Task What_lies_inside_the_large_partition_is_written_in_the_recovery_hosted_mode()
    {
        await Phones.DoAsync("P", "renew");
        var whole = await PackageAsync("cairn-two-26w20.tar");
        var phone = new Phone((await ReadAsync(Phones["P"])).Facts);
        var set = await CarryOutAsync("P", Compile(phone, whole.Package, "F"), [whole], phone);
        Assert.True(set.Status == RunStatus.Finished, $"{set.WhatHappened} {set.Next}");
        await Until.TrueAsync(async () => await Phones.ModeAsync("P") == "setup-wizard", "it asks to be set up");
        await HoldsAsync("P", set, whole);

        await Phones.DoAsync("P", "renew");
        var loose = await PackageAsync("cairn-two-26w24-loose.tar");
        phone = new Phone((await ReadAsync(Phones["P"])).Facts);
        var plan = Compile(phone, loose.Package, "F");
        Assert.Contains(plan.Steps, step => step.Act is RestartInto { ToCommandMode: true });
        var state = await CarryOutAsync("P", plan, [loose], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Contains("flash product", await Phones.AcceptedAsync("P"));
        await Until.TrueAsync(async () => await Phones.ModeAsync("P") == "setup-wizard", "it asks to be set up");
        Assert.Equal("HX310/16.26w24-2.r2", StateOf("P").Parts["system_a"].Build);
        Assert.True(StateOf("P").Parts["product_a"].Whole);
        Assert.Equal("HX310/16.26w02-1.r2", StateOf("P").Parts["system_b"].Build);
    }

    private static Phone Rooted(PhoneReading reading)
    {
        (FactName Name, string Value)[] read =
        [
            (FactName.RootManager, "8.2"),
            (FactName.LockState, "unlocked"),
            (FactName.Root, "present"),
        ];
        var phone = new Phone(reading.Facts);
        return read.Where(fact => phone[fact.Name].Value is null).Aggregate(phone, (known, fact) => known.Supposing(fact.Name, fact.Value));
    }
}
