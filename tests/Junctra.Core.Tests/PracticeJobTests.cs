using Junctra.Core.Plans;
using Junctra.Core.Practice;
using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Whole jobs of practice, and what goes wrong in them: worked out, and scored.</summary>
public sealed class PracticeJobTests
{
    private static readonly IReadOnlyList<Exercise> All = PracticeReader.Read(Path.Combine(Repo.Root, "catalogue"), Repo.Catalogue);

    private static JobPractice Job(string id) => new(All.Single(exercise => exercise.Id == id), Repo.Catalogue);

    private static PracticeQuestion Question(string id) => PracticeQuestion.Of(All.Single(exercise => exercise.Id == id), Repo.Catalogue);

    private static string Right(PracticeQuestion question) => question.Answers.Single(answer => answer.Worth == AnswerWorth.Right).Id;

    private static AnswerWorth? Worth(PracticeQuestion question, string id) => question.WorthOf(id);

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
