using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Practice;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Writes of practice: carried out on the twin, broken, touched, done slowly.</summary>
public sealed class PracticeWriteTests
{
    private static readonly IReadOnlyList<Exercise> All = PracticeReader.Read(Path.Combine(Repo.Root, "catalogue"), Repo.Catalogue);

    private static JobPractice Job(string id) => new(All.Single(exercise => exercise.Id == id), Repo.Catalogue);

    [Fact]
    public void Every_path_has_a_job_whose_write_is_carried_out_to_its_end()
    {
        var jobs = All.Where(exercise => exercise.Task is JobTask).ToList();
        Assert.Equal(
            PathList.All.Select(path => path.Letter).Order(),
            jobs.Select(exercise => ((JobTask)exercise.Task).Path).Distinct().Order()
        );
        foreach (var exercise in jobs)
        {
            var practice = new JobPractice(exercise, Repo.Catalogue);
            var write = practice.Parts.Single(part => part.Write is not null).Write!;
            var hands = write.Perfect();
            var view = write.At(hands.Acts, hands.Said, hands.LastsMs);
            Assert.True(
                view.Reached,
                $"{exercise.Id}: {view.Wants} {string.Join(" ", view.Journal.Select(entry => JournalWords.Of(entry.Event)))}"
            );
            Assert.Empty(view.Lost);
            Assert.Equal(write.Steps.Select(step => step.Number), view.Run.Done.Order());
            // What the run touches was touched, and nothing else; what the phone puts in by itself comes after it.
            Assert.Equal(
                write
                    .Steps.SelectMany(step => step.Act.Touches.Where(touch => touch.Erases || step.Act.By == ActBy.Link))
                    .Select(touch => touch.Partition)
                    .ToHashSet(),
                view.Run.Accepted.Keys.Concat(view.Run.Erased).ToHashSet()
            );
        }
    }

    [Fact]
    public void At_every_moment_a_write_goes_on_or_wants_something()
    {
        foreach (var id in new[] { "job-k-loops-on-stale-data", "job-d-held", "job-a-keeps-data", "job-g-card-update" })
        {
            var write = Job(id).Parts.Single(part => part.Write is not null).Write!;
            var hands = write.Perfect();
            long seen = 0;
            for (var at = 0L; at <= hands.LastsMs; at += Math.Max(250, hands.LastsMs / 60))
            {
                var view = write.At([.. hands.Acts.Where(act => act.AtMs <= at)], [.. hands.Said.Where(said => said <= at)], at);
                Assert.False(view.Run.Status.EndedEarly());
                Assert.True(view.Reached || view.Wants is not null || view.DueMs is not null, $"{id} at {at}");
                // What was written down stays written down.
                Assert.True(view.Run.LastSeq >= seen, $"{id} at {at}");
                seen = view.Run.LastSeq;
            }
        }
    }

    [Theory]
    [InlineData("job-f-factory-set", PartitionRole.BootChain)]
    [InlineData("job-f-factory-set", PartitionRole.System)]
    [InlineData("job-a-keeps-data", PartitionRole.System)]
    [InlineData("job-l-board-rescue", PartitionRole.BootChain)]
    public void A_cable_pulled_while_something_is_written_ends_it_with_nothing_and_says_what_it_would_have_cost(
        string id,
        PartitionRole role
    )
    {
        var practice = Job(id);
        var write = practice.Parts.Single(part => part.Write is not null).Write!;
        var step = write.Steps.First(one => one.Act.By == ActBy.Link && one.Act.Touches.Any(touch => touch.Role == role && !touch.Erases));
        var before = write.Perfect(step);
        var at = before.LastsMs + WritePractice.LengthOf(step) / 2;
        var view = write.At([.. before.Acts, new TrialAct(at, new CableOut())], before.Said, at + 60_000);
        Assert.Equal(RunStatus.Failed, view.Run.Status);
        Assert.Equal(at, view.TookMs);
        var lost = view.Lost.Single(one => one.For == LostFor.Safety);
        Assert.Contains(step.Title, lost.Why);
        Assert.Equal(RunAdvice.Again(view.Run), view.Run.Next);
        // Before it was begun nobody is asked, and after it nothing helps.
        Assert.False(practice.Score([.. practice.Perfect(1000)]).Lost.Any());
    }

    [Fact]
    public void Before_anything_is_written_a_pulled_cable_harms_nobody_and_keys_cost_a_little()
    {
        var write = Job("job-f-factory-set").Parts.Single(part => part.Write is not null).Write!;
        var confirm = write.Steps.First(step => step.Act is ConfirmTarget);
        var before = write.Perfect(confirm);
        var at = before.LastsMs + 200;
        var pulled = write.At([.. before.Acts, new TrialAct(at, new CableOut())], before.Said, at + 1);
        Assert.Equal(RunStatus.Failed, pulled.Run.Status);
        Assert.All(pulled.Lost, one => Assert.NotEqual(LostFor.Safety, one.For));
        var hands = write.Perfect();
        var touched = write.At(
            [.. hands.Acts, new TrialAct(at, new KeyDown("power")), new TrialAct(at + 100, new KeyUp("power"))],
            hands.Said,
            hands.LastsMs
        );
        Assert.True(touched.Reached);
        Assert.Equal((LostFor.Order, 10), Assert.Single(touched.Lost) is var one ? (one.For, one.Points) : default);
    }

    [Fact]
    public void A_cable_pulled_while_the_computer_works_alone_is_wanted_again_before_the_phone_is()
    {
        var write = Job("job-f-factory-set").Parts.Single(part => part.Write is not null).Write!;
        var verify = write.Steps[0];
        Assert.Equal(ActBy.Computer, verify.Act.By);
        var later = WritePractice.LengthOf(verify) + 5000;
        var pulled = write.At([new TrialAct(300, new CableOut())], [], later);
        Assert.Equal(
            (LostFor.Order, true),
            (Assert.Single(pulled.Lost).For, pulled.Wants?.StartsWith("Plug", StringComparison.Ordinal) == true)
        );
        var again = write.At(
            [new TrialAct(300, new CableOut()), new TrialAct(later, new CableIn(PracticePhone.Computer))],
            [],
            later + 60_000
        );
        Assert.True(again.Reached);
        Assert.Single(again.Lost);
    }

    [Fact]
    public void Hands_that_choose_the_wrong_entry_lose_what_it_costs()
    {
        // A write that keeps the data, and is to be let start: whoever wipes in recovery on the way has erased what was wanted.
        var practice = Job("job-g-card-update");
        var write = practice.Parts.Single(part => part.Write is not null).Write!;
        var step = write.Steps.First(one => one.Act is ChooseEntry { IsInRecovery: true } || one.Act is PutInUpdate);
        var before = write.Perfect(step);
        var view = write.At(before.Acts, before.Said, before.LastsMs + 1);
        Assert.Equal(step.Title, view.Wants);
        var wipe = write.Twin.EntriesOf(view.Phone).First(entry => entry.Id == "wipe-data");
        var state = view.Phone;
        var acts = new List<TrialAct>(before.Acts);
        var at = before.LastsMs + 10;
        foreach (var entry in new[] { wipe.Id, "yes" })
        {
            var events = ChooseEntry.Choose(write.Twin, state, entry).ToList();
            acts.AddRange(TwinPlay.Timed(events, at));
            at += events.OfType<TimePasses>().Sum(time => time.Milliseconds) + 500;
            state = write.Twin.Run(state, [.. events, new TimePasses(500)]);
        }

        var spoiled = write.At(acts, before.Said, at + 120_000);
        Assert.Contains(spoiled.Lost, one => one.For == LostFor.Safety && one.Why.Contains("erased", StringComparison.Ordinal));
        Assert.True(spoiled.IsOver);
    }

    [Theory]
    [InlineData("job-k-loops-on-stale-data")]
    [InlineData("job-d-held")]
    [InlineData("job-l-board-rescue")]
    public void Hands_in_a_write_are_measured_against_the_bands_and_slow_ones_lose_a_little(string id)
    {
        var write = Job(id).Parts.Single(part => part.Write is not null).Write!;
        var hands = write.Perfect();
        var steps = write.Steps.Where(step => step.Act.By == ActBy.Hands).ToList();
        Assert.NotEmpty(steps);
        var first = write.Perfect(steps[0]).LastsMs;
        var slow = (long)(steps[0].Seconds.Slow * 1000);

        // Everything from the first step of hands on comes later: within its band that costs nothing, far beyond it a fifth at the most.
        WriteView Later(long by) =>
            write.At(
                [.. hands.Acts.Select(act => act.AtMs >= first ? act with { AtMs = act.AtMs + by } : act)],
                [.. hands.Said.Select(said => said >= first ? said + by : said)],
                hands.LastsMs + by
            );
        Assert.Empty(Later(5_000).Lost);
        var late = Later(4 * slow + 120_000);
        Assert.True(late.Reached);
        var lost = Assert.Single(late.Lost);
        Assert.Equal((LostFor.Time, 20), (lost.For, lost.Points));
        Assert.Contains(steps[0].Title, lost.Why);
        var between = Later(slow + 15_000);
        Assert.InRange(between.Lost.Where(one => one.For == LostFor.Time).Sum(one => one.Points), 1, 19);
    }
}
