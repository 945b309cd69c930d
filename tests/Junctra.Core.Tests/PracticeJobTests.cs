using Junctra.Core.Catalogue;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Practice;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Whole jobs of practice, and what goes wrong in them: worked out, carried out on the twin, scored.</summary>
public sealed class PracticeJobTests
{
    private static readonly IReadOnlyList<Exercise> All = PracticeReader.Read(Path.Combine(Repo.Root, "catalogue"), Repo.Catalogue);

    private static JobPractice Job(string id) => new(All.Single(exercise => exercise.Id == id), Repo.Catalogue);

    private static PracticeQuestion Question(string id) => PracticeQuestion.Of(All.Single(exercise => exercise.Id == id), Repo.Catalogue);

    private static string Right(PracticeQuestion question) => question.Answers.Single(answer => answer.Worth == AnswerWorth.Right).Id;

    private static AnswerWorth? Worth(PracticeQuestion question, string id) => question.WorthOf(id);

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

    /// <summary>Which answer at which station, and what is left of the points.</summary>
    public static TheoryData<string, JobStage, AnswerWorth, int, bool> Answers =>
        new()
        {
            { "job-a-keeps-data", JobStage.Finding, AnswerWorth.Wrong, 75, true },
            { "job-a-keeps-data", JobStage.Match, AnswerWorth.Harmful, 0, false },
            { "job-a-keeps-data", JobStage.Match, AnswerWorth.Wrong, 75, true },
            { "job-a-keeps-data", JobStage.Way, AnswerWorth.Harmful, 0, false },
            { "job-a-keeps-data", JobStage.Plan, AnswerWorth.Second, 92, true },
            { "job-a-keeps-data", JobStage.Plan, AnswerWorth.Wrong, 75, true },
            { "job-f-nobody-has-agreed", JobStage.Plan, AnswerWorth.Harmful, 0, false },
            { "job-a-differs-afterwards", JobStage.Check, AnswerWorth.Harmful, 0, false },
            { "job-a-differs-afterwards", JobStage.Check, AnswerWorth.Wrong, 75, true },
            { "job-b-bundle-clean", JobStage.HandBack, AnswerWorth.Wrong, 75, true },
        };

    [Theory]
    [MemberData(nameof(Answers))]
    public void One_answer_costs_what_it_is_worth(string id, JobStage stage, AnswerWorth worth, int points, bool passes)
    {
        var practice = Job(id);
        var perfect = practice.Perfect(1000);
        var at = practice.Parts.ToList().FindIndex(part => part.Stage == stage);
        var changed = false;
        var answers = practice
            .Parts[at]
            .Questions.Select(
                (question, i) =>
                {
                    var other = changed ? null : question.Answers.FirstOrDefault(answer => answer.Worth == worth)?.Id;
                    changed |= other is not null;
                    return other ?? perfect[at].Answers[i];
                }
            )
            .ToList();
        Assert.True(changed, $"{id} has no such answer.");
        var done = perfect.Select((one, i) => i == at ? one with { Answers = answers } : one).ToList();
        var score = practice.Score(done, hasEnded: true);
        Assert.Equal((points, passes), (score.Points, score.Passed));
        Assert.All(score.Lost, lost => Assert.False(string.IsNullOrWhiteSpace(lost.Why) || string.IsNullOrWhiteSpace(lost.Rule)));
        // Spoiled, nothing comes after it; else the job goes on.
        Assert.Equal(worth == AnswerWorth.Harmful, practice.Next([.. done.Take(at + 1)]) is null && at + 1 < practice.Parts.Count);
    }

    [Fact]
    public void Two_wrong_answers_are_one_too_many_and_a_job_that_is_given_up_is_not_passed()
    {
        var practice = Job("job-a-keeps-data");
        var perfect = practice.Perfect(1000);
        PartDone Wrong(int at) =>
            perfect[at] with
            {
                Answers =
                [
                    .. practice
                        .Parts[at]
                        .Questions.Select(question =>
                            question.Answers.Last(answer => answer.Worth != AnswerWorth.Right && answer.Worth != AnswerWorth.Harmful).Id
                        ),
                ],
            };
        var stages = practice.Parts.ToList();
        var (finding, way) = (
            stages.FindIndex(part => part.Stage == JobStage.Finding),
            stages.FindIndex(part => part.Stage == JobStage.HandBack)
        );
        var two = practice.Score([.. perfect.Select((one, i) => i == finding || i == way ? Wrong(i) : one)]);
        Assert.True(two.Reached);
        Assert.False(two.Passed);
        var given = practice.Score([.. perfect.Take(2)], hasEnded: true);
        Assert.False(given.Reached);
        Assert.Contains(given.Lost, lost => lost.For == LostFor.Aim && lost.Why.StartsWith("The job ended at", StringComparison.Ordinal));
        Assert.Equal(stages[2], practice.Next([.. perfect.Take(2)]));
        Assert.Null(practice.Next(perfect));
    }

    [Fact]
    public void What_goes_wrong_is_judged_by_the_rules_of_a_real_job()
    {
        Assert.Equal(GateId.Target.Value, Right(Question("trouble-two-phones")));
        Assert.Equal(AnswerWorth.Harmful, Worth(Question("trouble-two-phones"), "yes"));
        Assert.Equal(GateId.Target.Value, Right(Question("trouble-no-phone")));
        Assert.Equal(GateId.Battery.Value, Right(Question("trouble-low-battery")));
        Assert.Equal("yes", Right(Question("trouble-nothing-against-it")));
        Assert.Equal("cable", Right(Question("trouble-silent-port")));
        Assert.NotEqual("cable", Right(Question("trouble-silent-port-again")));
        // In the boot chain it is not even switched off; elsewhere keys bring it back.
        Assert.Equal(AnswerWorth.Harmful, Worth(Question("trouble-cable-out-boot-chain"), "restart"));
        Assert.Contains(
            "Do not switch the phone off",
            Question("trouble-cable-out-boot-chain").Answers.Single(one => one.Worth == AnswerWorth.Right).Label
        );
        Assert.Equal(AnswerWorth.Wrong, Worth(Question("trouble-cable-out-system"), "restart"));
        Assert.Equal(AnswerWorth.Harmful, Worth(Question("trouble-cable-out-system"), "hand-back"));
        Assert.StartsWith("Bring it into", Question("trouble-held-restart").Answers.Single(one => one.Worth == AnswerWorth.Right).Label);
        Assert.Equal("restart", Right(Question("trouble-loops-after-keeping")));
        Assert.Equal("wipe-cache", Right(Question("trouble-loops-after-a-restart")));
        Assert.Equal(AnswerWorth.Harmful, Worth(Question("trouble-loops-after-keeping"), "wipe-data"));
    }

    [Fact]
    public void A_hint_takes_a_wrong_answer_away_and_never_the_right_one()
    {
        var questions = All.Where(exercise => exercise.Task is QuestionTask)
            .Select(exercise => PracticeQuestion.Of(exercise, Repo.Catalogue))
            .ToList();
        Assert.All(questions, question => Assert.True(question.Hint is null || question.Hint.Worth >= AnswerWorth.Wrong));
        // With two answers a hint would be the answer.
        Assert.All(questions.Where(question => question.Answers.Count == 2), question => Assert.Null(question.Hint));
        Assert.Contains(questions, question => question.Hint is not null);
    }
}
