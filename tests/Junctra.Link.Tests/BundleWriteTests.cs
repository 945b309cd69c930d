using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Link.Running;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Bundles over the download link, against a phone that loops on a custom system.</summary>
public class BundleWriteTests(PhoneBench bench) : WriteBench(bench)
{
    private const string File = "TN63E_WHM_r5_full.zip";

    /// <summary>The phone in download mode, as hands would bring it there, and a plan for it.</summary>
    private async Task<(Plan Plan, Package Package)> ReadyAsync(bool erase)
    {
        await Phones.DoAsync("H", "renew");
        await IntoDownloadAsync();
        var package = await DemoLibrary.ReadAnyAsync(File);
        var facts = (await ReadAsync(Phones.H)).Facts;
        return (Planned.Plan(new Phone(facts), package, erase), package);
    }

    private async Task<RunState> SendAsync(Plan plan, Package package, Func<RunEvent, Task>? atEvent = null, LinkClocks? clocks = null) =>
        await WriteAsync(plan, package, Phones.H, atEvent, path: Path.Combine(await DemoLibrary.AllFolderAsync(), File), clocks: clocks);

    private static IEnumerable<PlannedImage> Images(Plan plan) => plan.Steps.Select(step => step.Act).OfType<SendBundle>().Single().Images;

    [Theory]
    [InlineData(false, "system")]
    [InlineData(true, "setup-wizard")]
    public async Task A_bundle_is_sent_in_one_session_and_the_phone_starts(bool erase, string ends)
    {
        var (plan, package) = await ReadyAsync(erase);
        var state = await SendAsync(plan, package);
        Assert.True(state.Status == RunStatus.Finished, $"{state.WhatHappened} {state.Next}");
        Assert.Equal(1, state.Progress);
        Assert.Equal(Images(plan).Select(image => image.Partition).Order(), state.Accepted.Keys.Order());
        var told = Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}").ToList();
        Assert.Equal(told, await Phones.AcceptedAsync("H"));
        Assert.StartsWith("write bootchain", told[0]);
        await Until.TrueAsync(async () => await Phones.ModeAsync("H") == ends, $"the phone ends in {ends}");
    }

    [Fact]
    public async Task A_cable_that_comes_out_in_the_system_image_leaves_an_exact_journal_and_a_second_run_mends_it()
    {
        var (plan, package) = await ReadyAsync(false);
        var before = Images(plan).TakeWhile(image => image.Partition != "system").Sum(image => image.Bytes);
        await Phones.FaultAsync("H", new { dropAtByte = before + 300_000 });
        var state = await SendAsync(plan, package);
        Assert.Equal((RunStatus.Failed, "system"), (state.Status, state.At));
        Assert.Contains("of system had been given to it", state.WhatHappened);
        Assert.Contains("Accepted whole: bootchain", state.PhoneNow);
        Assert.DoesNotContain("Do not switch the phone off", state.Next);
        Assert.Equal(Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}"), await Phones.AcceptedAsync("H"));

        var again = Planned.Plan(new Phone((await ReadAsync(Phones.H)).Facts), package, false);
        Assert.Equal(RunStatus.Finished, (await SendAsync(again, package)).Status);
        await Until.TrueAsync(async () => await Phones.ModeAsync("H") == "system", "the phone starts with its data");
    }

    // A few in every run of the suite; all of them with JUNCTRA_EVERY_FAULT=1.
    public static TheoryData<int> Cuts => [.. Enumerable.Range(0, Sampled.Of(20, 2))];

    /// <summary>
    /// Wherever the cable comes out: the journal is what the phone says, and what is left is no worse than the rehearsal said.
    /// </summary>
    [Theory]
    [MemberData(nameof(Cuts))]
    public async Task Wherever_it_breaks_the_journal_is_exact_and_the_phone_no_worse_than_rehearsed(int cut)
    {
        var (plan, package) = await ReadyAsync(false);
        var at = (long)(new Random(Sampled.Seed + cut).NextDouble() * plan.BytesToSend);
        await Phones.FaultAsync("H", new { dropAtByte = Math.Max(1, at) });
        var state = await SendAsync(plan, package);
        Assert.Equal(RunStatus.Failed, state.Status);
        var told = Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}").ToList();
        Assert.Equal(told, await Phones.AcceptedAsync("H"));
        await Phones.EventsAsync("H", new ForcedRestart());
        await Until.TrueAsync(async () => await Phones.ModeAsync("H") is not "starting", "the phone has come to rest");
        if (await Phones.ModeAsync("H") == "emergency")
            Assert.True(plan.RiskOf(state.Step, state.At).IsNoReturn);
        else
        {
            await IntoDownloadAsync();
            Assert.Equal(
                RunStatus.Finished,
                (await SendAsync(Planned.Plan(new Phone((await ReadAsync(Phones.H)).Facts), package, false), package)).Status
            );
        }
    }

    [Theory]
    [InlineData("{\"refuseWith\":\"not now\"}", "refused to write bootchain: “not now”")]
    [InlineData("{\"answerWith\":\"dancing\"}", "does not say how much it holds at once")]
    [InlineData("{\"stallAtByte\":1000}", "fell silent")]
    [InlineData("{\"product\":\"TN63W\"}", "This is not the phone that was judged: model code is TN63W")]
    public async Task Whatever_the_phone_does_instead_ends_the_run_with_its_reason(string faults, string reason)
    {
        var (plan, package) = await ReadyAsync(false);
        await Phones.FaultAsync("H", System.Text.Json.Nodes.JsonNode.Parse(faults)!);
        var state = await SendAsync(
            plan,
            package,
            clocks: Clocks with
            {
                Transfer = TimeSpan.FromSeconds(2),
                Answer = TimeSpan.FromSeconds(5),
            }
        );
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains(reason, state.WhatHappened);
        Assert.False(state.HasTouchedPhone && !Journal.OfType<WriteAsked>().Any());
    }

    [Fact]
    public async Task Another_phone_of_the_same_model_is_refused_before_a_byte()
    {
        var (plan, package) = await ReadyAsync(false);
        var state = await SendAsync(plan with { Target = plan.Target with { Serial = "TNH60419" } }, package);
        Assert.Contains("serial is TNH60418, judged was TNH60419", state.WhatHappened);
        Assert.False(state.HasTouchedPhone);
    }

    [Fact]
    public async Task A_plan_for_hands_is_let_go_of_at_every_step_and_goes_on_by_their_word()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204", FactSource.Label),
            Sample.Fact(FactName.Mode, "boot-loop", FactSource.Customer)
        );
        var plan = new Core.Plans.Paths.WipeOnly().Compile(new(phone, null, true, Repo.Catalogue)).Plan!;
        var journal = new List<RunEvent>();
        IReadOnlyList<JournalEntry> Entries() => [.. journal.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what))];
        foreach (var step in plan.Steps.Where(step => !step.Act.FollowsTheRun))
        {
            await GoOnAsync();
            var state = RunState.Of(plan, Entries());
            Assert.Equal((RunStatus.Waiting, step.Number), (state.Status, state.Step?.Number));
            // A wrong screen first: the run waits for the same step, and leads on from there.
            journal.Add(new HandsSaid(step.Number, "bench", "off", false));
            await GoOnAsync();
            state = RunState.Of(plan, Entries());
            Assert.Equal((RunStatus.Waiting, step.Number, PhoneMode.Off), (state.Status, state.Step?.Number, state.HandsFrom));
            var order = HandsOrder.Of(state, phone, Repo.Catalogue.Model("HX204")!, Repo.Catalogue)!;
            journal.Add(
                new HandsSaid(
                    step.Number,
                    "bench",
                    (order.Choices.FirstOrDefault(choice => choice.Done) ?? new(PhoneMode.StockRecovery, "", true)).Shows.Id(),
                    true
                )
            );
        }

        await GoOnAsync();
        Assert.Equal(RunStatus.Finished, RunState.Of(plan, Entries()).Status);

        Task GoOnAsync() =>
            new PlanWriter(
                Repo.Catalogue,
                Clocks,
                what =>
                {
                    journal.Add(what);
                    return ValueTask.CompletedTask;
                },
                TimeProvider.System
            ).RunAsync(new WriteOrder(plan, [], null) { Before = Entries() });
    }
}
