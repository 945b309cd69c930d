using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Link.Running;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>
/// Plans in which a link and hands take turns, carried out on a phone that loops on a custom system: the writer lets go for hands, the
/// hands of the tests do what the act amounts to on a twin, and the writer goes on.
/// </summary>
[Trait("Turn", "10")]
public class HandsAndLinkTests(PhoneBench bench) : WriteBench(bench)
{
    private const string File = "TN63E_WHM_r5_full.zip";
    private const string Held = "D",
        WipedFirst = "C";

    // A few in every run of the suite; all of them with JUNCTRA_EVERY_FAULT=1.
    public static TheoryData<int> Breaks => [.. Enumerable.Range(0, Sampled.Of(20, 2))];

    private TwinState StateNow => TwinState.FromJson(System.IO.File.ReadAllText(Path.Combine(Phones.Data, "h", "state.json")));

    [Theory]
    [InlineData(Held)]
    [InlineData(WipedFirst)]
    public async Task Hands_and_link_take_turns_and_the_phone_ends_at_the_set_up(string path)
    {
        var (plan, package) = await ReadyAsync(path);
        var state = await CarryOutAsync(plan, package);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Contains(Journal, what => what is HandsSaid { Done: true });
        Assert.Equal(Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}"), await Phones.AcceptedAsync("H"));
        await Until.TrueAsync(async () => await Phones.ModeAsync("H") == "setup-wizard", "the phone asks to be set up");
        Assert.Equal(0, StateNow.Data?.Apps ?? 0);
    }

    [Fact]
    public async Task A_package_that_was_changed_while_hands_were_waited_for_is_not_sent()
    {
        var (plan, package) = await ReadyAsync(WipedFirst);
        var copy = Path.Combine(Directory.CreateTempSubdirectory("junctra-changed-").FullName, File);
        System.IO.File.Copy(await PathAsync(), copy);
        var state = await CarryOutAsync(plan, package, path: copy, atHands: step =>
        {
            if (step.Act is not ChooseEntry { Role: PartitionRole.System })
                return;
            using var file = System.IO.File.OpenWrite(copy);
            file.Position = file.Length / 2;
            file.WriteByte((byte)~copy.Length);
        });
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("its digest has changed", state.WhatHappened);
        Assert.DoesNotContain("Nothing was written", state.Next);
        Assert.Empty(await Phones.AcceptedAsync("H"));
        Directory.Delete(Path.GetDirectoryName(copy)!, true);
    }

    /// <summary>
    /// Wherever a step for hands or the session breaks: what is left is no worse than the rehearsal said, and the same path, planned anew,
    /// brings the phone to its end.
    /// </summary>
    [Theory]
    [MemberData(nameof(Breaks))]
    public async Task Wherever_it_breaks_the_phone_is_no_worse_than_rehearsed(int seed)
    {
        var random = new Random(Sampled.Seed + seed);
        var path = seed % 2 == 0 ? Held : WipedFirst;
        var (plan, package) = await ReadyAsync(path);
        var steps = plan.Steps.Where(step => step.Act is not ConfirmTarget && step.Act.By is ActBy.Hands or ActBy.Link).ToList();
        var broken = steps[random.Next(steps.Count)];
        if (broken.Act.By == ActBy.Link)
            await Phones.FaultAsync("H", new { dropAtByte = Math.Max(1, (long)(random.NextDouble() * plan.BytesToSend)) });
        var state = await CarryOutAsync(plan, package, broken, random);
        await Phones.EventsAsync("H", new CableOut(), random.Next(2) == 0 ? new PowerGone() : new ForcedRestart());
        await RestAsync();

        var risk = plan.RiskOf(broken);
        var left = await Phones.ModeAsync("H");
        var told = $"“{broken.Title}” of {path} was rehearsed as {risk.Risk}, and left {left}; the run: {state.Status}";
        Assert.True(left != "emergency" || risk.IsNoReturn, told);
        if (left == "emergency")
            return;
        await Phones.FaultAsync("H", new { });
        await IntoDownloadAsync();
        // Whatever recovery is left: erased, by the path that takes no hands.
        var again = Planned.Plan(new Phone((await ReadAsync(Phones.H)).Facts), package, true);
        var end = await WriteAsync(again, package, Phones.H, path: await PathAsync());
        Assert.True(end.Status == RunStatus.Finished, $"{told}; again: {end.WhatHappened}");
        await Until.TrueAsync(async () => await Phones.ModeAsync("H") == "setup-wizard", "the phone asks to be set up");
    }

    private static async Task<string> PathAsync() => Path.Combine(await DemoLibrary.AllFolderAsync(), File);

    /// <summary>The phone, with somebody else's recovery too, in download mode; and a plan for it.</summary>
    private async Task<(Plan Plan, Package Package)> ReadyAsync(string path)
    {
        await Phones.DoAsync("H", "renew");
        await IntoDownloadAsync();
        await Phones.EventsAsync(
            "H",
            new WritePart("recovery", new TwinPart("somebody else's", SoftwareKind.Custom) { Model = "TN63E" }, 1_000_000)
        );
        var package = await DemoLibrary.ReadAnyAsync(File);
        var phone = new Phone((await ReadAsync(Phones.H)).Facts).Supposing(FactName.Recovery, FactName.Recovery.Write(RecoveryKind.Custom));
        var outcome = PathList.Compile(new PathCase(phone, package, true, Repo.Catalogue), path);
        Assert.Empty(outcome.Refusals);
        known = phone;
        return (outcome.Plan!, package);
    }

    private Phone known = null!;

    private Task RestAsync() =>
        Until.TrueAsync(
            async () => await Phones.ModeAsync("H") is not "starting" && StateNow is { Task: null, Mode: not PhoneMode.Starting },
            "the phone has come to rest"
        );

    /// <summary>
    /// Carries a plan out, whoever's turn it is; up to the end, or to the moment within a step for hands in which it breaks.
    /// </summary>
    private async Task<RunState> CarryOutAsync(
        Plan plan,
        Package package,
        PlanStep? broken = null,
        Random? random = null,
        string? path = null,
        Action<PlanStep>? atHands = null
    )
    {
        Journal.Clear();
        path ??= await PathAsync();
        var scene = new TwinScene(new PhoneTwin(Repo.Catalogue.Model("TN63E")!, Repo.Catalogue), Repo.Catalogue, known);
        while (true)
        {
            await new PlanWriter(
                Repo.Catalogue,
                Clocks,
                what =>
                {
                    Journal.Add(what);
                    return ValueTask.CompletedTask;
                },
                TimeProvider.System
            ).RunAsync(new WriteOrder(plan, [new PackageFile(package, path)], Phones.H) { Before = Entries() });
            var state = RunState.Of(plan, Entries());
            if (state is not { Status: RunStatus.Waiting, Step: { } step })
                return state;
            var moves = step.Act.OnTwin(scene, StateNow).ToList();
            if (step == broken)
            {
                var made = moves.Take(random!.Next(moves.Count + 1)).ToList();
                await Phones.EventsAsync("H", [.. made, .. LetGo(made)]);
                return state;
            }

            atHands?.Invoke(step);
            await Phones.EventsAsync("H", [.. moves]);
            await RestAsync();
            Journal.Add(new HandsSaid(step.Number, "bench", StateNow.Mode.Id(), true));
        }
    }

    private IReadOnlyList<JournalEntry> Entries() => [.. Journal.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what))];
}
