using Junctra.Core.Facts;
using Junctra.Core.Practice;
using Junctra.Core.Twin;
using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Exercises: solved by perfect hands, failed by what they warn of, scored safety first.</summary>
public sealed class PracticeTests
{
    private static readonly IReadOnlyList<Exercise> All = PracticeReader.Read(Path.Combine(Repo.Root, "catalogue"), Repo.Catalogue);

    private static Exercise Of(string id) => All.Single(exercise => exercise.Id == id);

    private static KeyPractice Keys(string model, PhoneMode from, PhoneMode to, string lockState = "locked") =>
        new(
            new Exercise(
                "one",
                Ladder.Keys,
                "",
                "keys",
                "",
                new PracticePhone(
                    model,
                    from,
                    new Dictionary<FactName, string> { [FactName.BatteryPercent] = "60", [FactName.LockState] = lockState }
                ),
                new KeyTask(to)
            ),
            Repo.Catalogue
        );

    [Fact]
    public void Every_exercise_is_solved_by_perfect_hands_and_failed_by_the_wrong_ones_it_warns_of()
    {
        Assert.True(All.Count >= 60);
        Assert.Empty(All.SelectMany(exercise => ExerciseCheck.Of(exercise, Repo.Catalogue).Problems));
        // Every key recipe that leads anywhere without a risk is practised, each from a loop too where it begins in one.
        var practised = All.Select(exercise => exercise.Skill).ToHashSet();
        foreach (var family in Repo.Catalogue.Models.Select(Repo.Catalogue.KeyFamilyOf).DistinctBy(family => family.Id))
        foreach (var recipe in family.Recipes.Where(recipe => recipe.Risk is null && recipe.Id != "forced-restart"))
            Assert.Contains($"{family.Id}/{recipe.Id}", practised);
    }

    [Fact]
    public void New_exercises_of_every_kind_can_be_solved_and_the_same_seed_makes_the_same()
    {
        foreach (var kind in ExerciseGenerator.Kinds)
        {
            var made = Enumerable.Range(1, Sampled.Of(25, 8)).Select(seed => ExerciseGenerator.Make(kind, seed, Repo.Catalogue)).ToList();
            Assert.All(made, exercise => Assert.Empty(ExerciseCheck.Of(exercise, Repo.Catalogue).Problems));
            Assert.True(made.Select(exercise => (exercise.Phone.ModelCode, exercise.Phone.Mode)).Distinct().Count() > 3, kind);
            var again = ExerciseGenerator.Make(kind, 7, Repo.Catalogue);
            Assert.Equal(made[6].Phone.ModelCode, again.Phone.ModelCode);
            Assert.Equal(made[6].Phone.Mode, again.Phone.Mode);
        }
    }

    [Fact]
    public void Something_irreversible_ends_it_with_nothing_whatever_comes_after()
    {
        var practice = Keys("TN63E", PhoneMode.StockRecovery, PhoneMode.Off);
        // The wrong entry, and yes; then everything right.
        var state = practice.Start;
        var acts = new List<TrialAct>();
        var at = 0L;
        void Do(TwinEvent happening)
        {
            acts.Add(new TrialAct(at, happening));
            state = practice.Twin.Next(state, happening);
            at += 200;
            state = practice.Twin.Next(state, new TimePasses(200));
        }

        void To(string entry)
        {
            while (practice.Twin.ScreenOf(state) is var screen && screen.Entries[screen.Marked].Id != entry)
            {
                Do(new KeyDown("volume-down"));
                Do(new KeyUp("volume-down"));
            }

            Do(new KeyDown("power"));
            Do(new KeyUp("power"));
        }

        To("wipe-data");
        To("yes");
        at += 40_000;
        state = practice.Twin.Next(state, new TimePasses(40_000));
        Assert.Null(state.Data);
        To("off");
        var score = practice.At(acts, [], at + 60_000).Score;
        var lost = Assert.Single(score.Lost);
        Assert.Equal(LostFor.Safety, lost.For);
        Assert.Equal(0, score.Points);
        Assert.False(score.Passed);
        Assert.Contains("erased", lost.Why);
        // It is named where it happened: when the wipe was through, not when it was chosen.
        Assert.InRange(lost.AtMs, 30_000, at);
        Assert.True(practice.Play(null).Score.Passed);
    }

    [Theory]
    [InlineData(1, 0)]
    [InlineData(2, 9)]
    [InlineData(3, 20)]
    [InlineData(20, 20)]
    public void Time_costs_nothing_at_first_and_never_more_than_its_share(double times, int costs)
    {
        var practice = Keys("TN63E", PhoneMode.WarningScreen, PhoneMode.Download);
        var perfect = TwinPlay.Timed(
            Hands
                .Play(practice.Twin, practice.Start, practice.Only!.Score, PracticePhone.Computer)
                .Events.TakeWhile(one => one is not TimePasses)
        );
        var tap = new List<TrialAct>
        {
            new((long)(practice.UsualSeconds * times * 1000) - 1400, new KeyDown("volume-up")),
            new((long)(practice.UsualSeconds * times * 1000) - 1000, new KeyUp("volume-up")),
        };
        var score = practice.At([.. perfect, .. tap], [], (long)(practice.UsualSeconds * times * 1000) + 2000).Score;
        Assert.True(score.Reached);
        Assert.InRange(score.Lost.Where(lost => lost.For == LostFor.Time).Sum(lost => lost.Points), costs - 1, costs + 1);
    }

    [Fact]
    public void Hints_and_detours_cost_their_points_and_say_when()
    {
        var practice = Keys("TN63E", PhoneMode.WarningScreen, PhoneMode.Download);
        var hinted = practice.At([], [1000, 4000], 5000, hasEnded: true).Score;
        Assert.Equal([1000, 4000], hinted.Lost.Where(lost => lost.For == LostFor.Hint).Select(lost => lost.AtMs));
        Assert.Contains(hinted.Lost, lost => lost.For == LostFor.Aim);
        Assert.False(hinted.Reached);
        // Volume down cancels: the phone starts into its system, and that is not on the way.
        var cancelled = practice
            .At([new TrialAct(0, new KeyDown("volume-down")), new TrialAct(400, new KeyUp("volume-down"))], [], 120_000, hasEnded: true)
            .Score;
        Assert.Contains(cancelled.Lost, lost => lost.For == LostFor.Order && lost.Why.Contains("running system", StringComparison.Ordinal));
    }

    [Fact]
    public void A_forbidden_mode_ends_it_and_what_is_broken_is_broken()
    {
        var exercise = Of("trouble-not-the-lock-question");
        var practice = new KeyPractice(exercise, Repo.Catalogue);
        var held = practice.At([new TrialAct(0, new KeyDown("volume-up"))], [], 20_000, hasEnded: true).Score;
        Assert.Contains("forbidden", Assert.Single(held.Lost, lost => lost.For == LostFor.Safety).Why);
        // Without the ban it would be a detour.
        var allowed = new KeyPractice(exercise with { Forbids = [] }, Repo.Catalogue);
        Assert.DoesNotContain(allowed.At([new TrialAct(0, new KeyDown("volume-up"))], [], 20_000, hasEnded: true).Score.Lost, lost =>
            lost.For == LostFor.Safety
        );
        var socket = new KeyPractice(Of("trouble-dead-socket"), Repo.Catalogue);
        var plugged = socket.At([new TrialAct(0, new CableIn(PracticePhone.Computer))], [], 10_000).State;
        Assert.Null(PhoneTwin.LinkOf(plugged));
    }

    [Fact]
    public void A_harmful_answer_is_worth_nothing_a_careful_one_something()
    {
        var may = PracticeQuestion.Of(Of("unplug-tn63e-download"), Repo.Catalogue);
        Assert.Equal(100, may.Score("yes", 0, 1000).Points);
        Assert.Equal(75, may.Score("no", 0, 1000).Points);
        Assert.Equal(90, may.Score("yes", 1, 1000).Points);
        Assert.Equal(80, may.Score("yes", 0, 10 * 60_000).Points);
        Assert.False(may.Score(null, 0, 1000).Passed);
        Assert.False(may.Score("maybe", 0, 1000).Passed);
        var mayNot = PracticeQuestion.Of(Of("trouble-update-running-tn63e"), Repo.Catalogue);
        Assert.Equal(0, mayNot.Score("yes", 0, 1000).Points);
        Assert.False(mayNot.Score("yes", 0, 1000).IsSafe);
        Assert.Equal(100, mayNot.Score("no", 0, 1000).Points);
        var wipe = PracticeQuestion.Of(Of("lost-trb62-stock-recovery-wipe-data"), Repo.Catalogue);
        Assert.Equal(0, wipe.Score("nothing", 0, 1000).Points);
        var package = PracticeQuestion.Of(Of("trouble-wrong-variant"), Repo.Catalogue);
        Assert.Equal("none", package.Answers.Single(answer => answer.Worth == AnswerWorth.Right).Id);
        Assert.Equal(2, package.Answers.Count(answer => answer.Worth == AnswerWorth.Harmful));
    }

    [Fact]
    public void What_is_passed_when_it_is_due_comes_later_each_time_and_what_is_failed_comes_today()
    {
        var day = new DateTimeOffset(2026, 11, 2, 10, 0, 0, TimeSpan.Zero);
        Practised On(double days, bool passed) => new(day.AddDays(days), passed ? 90 : 30, passed);
        Assert.Equal((1, day.AddDays(1)), At(On(0, true)));
        Assert.Equal((2, day.AddDays(4)), At(On(0, true), On(1, true)));
        // Twice on one day is no remembering.
        Assert.Equal((1, day.AddDays(1)), At(On(0, true), On(0.1, true)));
        Assert.Equal((0, day.AddDays(1.5)), At(On(0, true), On(1.5, false)));
        Assert.Equal((1, day.AddDays(2.6)), At(On(0, true), On(1.5, false), On(1.6, true)));
        Assert.Equal(5, Repetition.Of(Enumerable.Range(0, 9).Select(i => On(i * 40, true))).Box);
        Assert.Equal((2, 90), Repetition.Of([On(0, false), On(1, true)]) is var state ? (state.Times, state.BestPoints) : default);

        static (int, DateTimeOffset) At(params Practised[] all) => Repetition.Of(all) is var state ? (state.Box, state.DueAt) : default;
    }

    [Fact]
    public void Exercises_that_cannot_be_solved_or_failed_are_found()
    {
        var wrong = Of("hx204-off-to-bootloader") with { Warns = [new WrongHands(null, null, 0, 0)] };
        Assert.Contains("whoever does so passes", Assert.Single(ExerciseCheck.Of(wrong, Repo.Catalogue).Problems));
        var nowhere = wrong with { Task = new KeyTask(PhoneMode.Emergency), Warns = [] };
        Assert.Contains("Nothing leads", Assert.Single(ExerciseCheck.Of(nowhere, Repo.Catalogue).Problems));
        var gone = wrong with { Phone = wrong.Phone with { ModelCode = "XX1" } };
        Assert.Contains("no model", Assert.Single(ExerciseCheck.Of(gone, Repo.Catalogue).Problems));
        var entry = Of("lost-hx204-stock-recovery-restart");
        entry = entry with { Task = ((QuestionTask)entry.Task) with { Entry = "nothing-such" } };
        Assert.Contains("does not stand in the menu", Assert.Single(ExerciseCheck.Of(entry, Repo.Catalogue).Problems));
    }
}
