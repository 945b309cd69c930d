using System.Security.Cryptography;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>Data saved over the links that give them, and brought back to the same phone after they were erased.</summary>
public class SavedDataTests(PhoneBench bench) : HandsBench(bench)
{
    [Theory]
    [InlineData("K", "system", SavingMeans.DebuggingLink)]
    [InlineData("L", "custom-recovery", SavingMeans.RecoveryLink)]
    public async Task Data_are_saved_with_their_digests(string name, string mode, SavingMeans means)
    {
        await Phones.DoAsync(name, "renew");
        if (mode != "system")
            await Phones.DoAsync(name, $"into/{mode}");
        await Phones.EventsAsync(name, new CableIn("bench computer"));
        var phone = new Phone((await ReadAsync(Phones[name])).Facts).Supposing(FactName.LockState, "unlocked");
        if (means == SavingMeans.RecoveryLink)
            phone = phone.Supposing(FactName.Recovery, "custom");
        var plan = Compile(phone, null, "N", erases: false);
        Assert.Contains(plan.Steps, step => step.Act is SaveData save && save.Means == means);
        var state = await CarryOutAsync(name, plan, [], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        var there = await Phones.FilesAsync(name, "storage");
        Assert.Equal(5, there.Count);
        Assert.Equal(there, state.Copied.ToDictionary(copy => copy.Name, copy => copy.Sha256));
        foreach (var digest in there.Values)
            Assert.Equal(digest, Convert.ToHexStringLower(SHA256.HashData(await File.ReadAllBytesAsync(Path.Combine(Kept, digest)))));
    }

    [Theory]
    [InlineData("L", "custom-recovery", SavingMeans.RecoveryLink)]
    [InlineData("K", "system", SavingMeans.DebuggingLink)]
    public async Task What_was_saved_goes_back_after_the_data_were_erased_and_to_no_other_phone(string name, string mode, SavingMeans means)
    {
        await Data_are_saved_with_their_digests(name, mode, means);
        var there = await Phones.FilesAsync(name, "storage");
        var saved = new SavedData("1", [.. Journal.OfType<FileCopied>().Select(copy => new SavedFile(copy.Name, copy.Bytes, copy.Sha256))]);
        await EraseAsync(name, mode);
        var phone = new Phone((await ReadAsync(Phones[name])).Facts).Supposing(FactName.LockState, "unlocked");
        if (means == SavingMeans.RecoveryLink)
            phone = phone.Supposing(FactName.Recovery, "custom");
        var plan = Compile(phone, null, "N", @case => @case with { Saved = saved });
        Assert.Equal(("Saved data brought back", true, false), (plan.Choice.Title, plan.BringsBack, plan.IsChecked));

        // A copy that was touched since is told, and nothing of it goes to the phone.
        var last = Path.Combine(Kept, saved.Files[^1].Sha256);
        var bytes = await File.ReadAllBytesAsync(last);
        await File.WriteAllBytesAsync(last, [.. bytes[..^1], (byte)(bytes[^1] ^ 1)]);
        var refused = await CarryOutAsync(name, plan, [], phone);
        Assert.Contains($"The saved copy of {saved.Files[^1].Name} is not what was saved.", refused.WhatHappened);
        Assert.DoesNotContain(await Phones.FilesAsync(name, "storage"), there.Contains);
        await File.WriteAllBytesAsync(last, bytes);

        // Somebody else's phone in the same mode is not given them.
        var others = Compile(phone.Supposing(FactName.Serial, "OBF88230"), null, "N", @case => @case with { Saved = saved });
        var stranger = await CarryOutAsync(name, others with { Target = others.Target with { Serial = "OBF88230" } }, [], phone);
        Assert.Equal(RunStatus.Failed, stranger.Status);
        Assert.DoesNotContain(await Phones.FilesAsync(name, "storage"), there.Contains);

        var state = await CarryOutAsync(name, plan, [], phone);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Superset(there.ToHashSet(), (await Phones.FilesAsync(name, "storage")).ToHashSet());
    }

    /// <summary>Somebody erases the data, and sets the phone up so that it gives files again.</summary>
    private async Task EraseAsync(string name, string mode)
    {
        if (mode == "system")
        {
            await Phones.DoAsync(name, "select/sign-out");
            await Phones.DoAsync(name, "into/stock-recovery");
            await Until.TrueAsync(async () => await Phones.ModeAsync(name) == "stock-recovery", "it is in its recovery");
        }

        await Phones.DoAsync(name, "select/wipe-data");
        await Until.TrueAsync(async () => (await Phones.FilesAsync(name, "storage")).Count == 0, "the data are erased");
        if (mode != "system")
            return;
        await Until.TrueAsync(
            async () =>
                await Phones.DoAsync(name, "into/system") == System.Net.HttpStatusCode.OK && await Phones.ModeAsync(name) == "system",
            "it is set up anew"
        );
        await Phones.EventsAsync(
            name,
            [
                new CableIn("bench computer"),
                .. Enumerable.Repeat(new Choose("build-number"), 7),
                new Choose("debugging"),
                new Choose("allow"),
            ]
        );
    }
}
