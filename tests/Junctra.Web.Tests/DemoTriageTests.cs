using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Demo;

namespace Junctra.Web.Tests;

/// <summary>The fourteen demo jobs, each from its facts and observations alone, to its fault class.</summary>
public class DemoTriageTests
{
    private const int MaxAnswers = 10;

    /// <summary>What each phone really is, and what it really shows to every check that means something on it.</summary>
    private static readonly Dictionary<int, (string[] Classes, string Answers)> Truth = new()
    {
        [1] = (
            ["damaged-system"],
            "power-key=picture write-end=well screen-words=none computer=nothing write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock update-check=no-settings account-screen=no began=after-modification other-cable=nothing card-list=no-card-job way-out-keys=no-such-screen works=unusable root=unread meter=rises"
        ),
        [2] = (
            ["out-of-date"],
            "power-key=system write-end=none screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock update-check=up-to-date account-screen=no began=by-itself other-cable=was-right card-list=no-card-job way-out-keys=no-such-screen works=all-works root=none meter=rises"
        ),
        [3] = (
            ["modified-running"],
            "power-key=system write-end=well screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=custom lock=unlocked update-check=modified account-screen=no began=after-modification other-cable=was-right card-list=no-card-job way-out-keys=no-such-screen works=warns root=present meter=rises"
        ),
        [4] = (
            ["modified-running"],
            "power-key=system write-end=well screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=custom lock=unlocked update-check=modified account-screen=no began=after-modification other-cable=was-right card-list=no-card-job way-out-keys=no-such-screen works=all-works meter=rises"
        ),
        [5] = (
            ["interrupted-write"],
            "power-key=picture write-end=badly screen-words=none computer=nothing write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=none status=official lock=unlocked update-check=no-settings account-screen=no began=after-broken-write other-cable=nothing card-list=no-card-job way-out-keys=no-such-screen works=unusable root=unread meter=rises"
        ),
        [6] = (
            ["modified-running"],
            "power-key=system write-end=well screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock status=custom update-check=modified account-screen=no began=after-modification other-cable=was-right card-list=no-card-job way-out-keys=no-such-screen works=all-works meter=rises"
        ),
        [7] = (
            ["modified-running"],
            "power-key=system write-end=well screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=custom update-check=modified account-screen=no began=after-modification other-cable=was-right card-list=no-card-job way-out-keys=no-such-screen works=warns root=none meter=rises"
        ),
        [8] = (
            ["card-update-refused"],
            "power-key=system write-end=none screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock lock=locked update-check=offered account-screen=no began=by-itself other-cable=was-right card-list=not-listed way-out-keys=no-such-screen works=all-works root=none meter=rises"
        ),
        [9] = (
            ["link"],
            "power-key=words write-end=none screen-words=waits computer=odd write-mode=unseen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock status=official lock=locked update-check=up-to-date account-screen=no began=by-itself other-cable=still-odd card-list=no-card-job way-out-keys=no-such-screen works=all-works root=none meter=rises"
        ),
        [10] = (
            ["stuck-screen"],
            "power-key=words write-end=none screen-words=waits computer=nothing write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock status=official lock=locked update-check=no-settings account-screen=no began=by-itself other-cable=nothing card-list=no-card-job way-out-keys=goes-on works=unusable root=unread meter=rises"
        ),
        [11] = (
            ["boot-chain-gone", "board"],
            "power-key=dark write-end=badly screen-words=none computer=nothing write-mode=no-answer charge=takes after-charge=dark vibrates=no recovery=none status=unread lock=unread update-check=no-settings account-screen=no began=after-broken-write other-cable=nothing card-list=no-card-job way-out-keys=no-such-screen works=unusable root=unread meter=small"
        ),
        [12] = (
            ["boot-chain-gone"],
            "power-key=dark write-end=badly screen-words=none computer=nothing write-mode=no-answer charge=takes after-charge=dark vibrates=no recovery=none status=unread lock=unread update-check=no-settings account-screen=no began=after-broken-write other-cable=nothing card-list=no-card-job way-out-keys=no-such-screen works=unusable root=unread meter=small"
        ),
        [13] = (
            ["wish"],
            "power-key=system write-end=well screen-words=none computer=right write-mode=seen charge=comes-up after-charge=not-charged vibrates=yes recovery=stock update-check=up-to-date account-screen=no began=by-itself other-cable=was-right card-list=no-card-job way-out-keys=no-such-screen works=all-works root=none meter=rises"
        ),
        [14] = (
            ["power"],
            "power-key=dark write-end=none screen-words=none computer=nothing write-mode=no-answer charge=comes-up after-charge=starts vibrates=no recovery=none status=unread lock=unread update-check=no-settings account-screen=no began=by-itself other-cable=nothing card-list=no-card-job way-out-keys=no-such-screen works=unusable root=unread meter=rises"
        ),
    };

    public static TheoryData<int> Numbers { get; } = new(Enumerable.Range(1, 14));

    private static TriageTables Tables => Repo.Catalogue.Triage;

    private static (Diagnosis Diagnosis, IReadOnlyList<Observation> Asked) Walk(int number, Func<string, string?> answer)
    {
        var job = DemoJobs.All.Single(job => job.Number == number);
        var phone = new Phone(job.FactsAt(Sample.Noon, "counter"));
        var model = Repo.Catalogue.Model(phone[FactName.ModelCode].Value)!;
        var c = new TriageCase(Repo.Catalogue.MakerOf(model.Code)!.Name, model.KeyFamily);
        // What was said at the counter may be as wrong as what is read at the bench.
        var given = job.Said.Select(said => said with { OutcomeId = answer(said.CheckId) ?? said.OutcomeId }).ToList();
        var asked = new List<Observation>();
        while (true)
        {
            var skipped = asked.Where(one => one.OutcomeId == TriageAnswerRow.CannotTell).Select(one => one.CheckId).ToList();
            var diagnosis = Diagnoser.Of(Tables, c with { Skipped = skipped }, Observations.Of(phone, given.Concat(asked), Tables));
            if (diagnosis.Next is not { } next || asked.Count >= MaxAnswers)
                return (diagnosis, asked);
            asked.Add(new Observation(next.Check.Id, answer(next.Check.Id) ?? TrueAnswer(number, next.Check.Id)));
        }
    }

    private static string TrueAnswer(int number, string check)
    {
        var told = Truth[number].Answers.Split(' ').Select(pair => pair.Split('=')).FirstOrDefault(pair => pair[0] == check)?[1];
        return told
            ?? DemoJobs.All.Single(job => job.Number == number).Said.FirstOrDefault(said => said.CheckId == check)?.OutcomeId
            ?? throw new InvalidOperationException($"Job {number} does not say what {check} shows.");
    }

    [Theory]
    [MemberData(nameof(Numbers))]
    public void Every_demo_job_is_decided_within_ten_answers(int number)
    {
        var (diagnosis, asked) = Walk(number, _ => null);
        Assert.True(
            diagnosis.IsSettled,
            $"job {number} is still open after {asked.Count}: {string.Join(", ", diagnosis.Candidates.Take(3).Select(c => $"{c.Class.Id} {c.Chance:0.00}"))}"
        );
        Assert.Contains(diagnosis.Leading!.Class.Id, Truth[number].Classes);
        TestContext.Current.TestOutputHelper?.WriteLine(
            $"{number}: {asked.Count} answers ({string.Join(" ", asked.Select(a => a.CheckId + "=" + a.OutcomeId))}) -> {string.Join(", ", diagnosis.Candidates.Take(3).Select(c => $"{c.Class.Id} {c.Chance:0.00}"))}"
        );
    }

    [Theory]
    [MemberData(nameof(Numbers))]
    public void With_one_answer_in_four_missing_the_right_class_still_leads(int number)
    {
        var right = 0;
        var runs = Sampled.Of(200, 60);
        for (var run = 0; run < runs; run++)
        {
            var dice = new Random(number * 1000 + run);
            // What nobody can tell is left out, at the counter and at the bench.
            var (diagnosis, _) = Walk(number, _ => dice.Next(4) == 0 ? TriageAnswerRow.CannotTell : null);
            if (Truth[number].Classes.Contains(diagnosis.Leading!.Class.Id))
                right++;
        }

        Assert.True(right >= runs * 0.9, $"job {number}: {right} of {runs}");
    }

    [Theory]
    [MemberData(nameof(Numbers))]
    public void With_one_answer_in_eight_wrong_the_right_class_is_among_the_first_two(int number)
    {
        var right = 0;
        var runs = Sampled.Of(400, 100);
        var misses = new List<string>();
        for (var run = 0; run < runs; run++)
        {
            var dice = new Random(number * 1000 + run);
            var flips = new List<string>();
            var (diagnosis, _) = Walk(number, check =>
            {
                if (dice.Next(8) != 0)
                    return null;
                var truth = TrueAnswer(number, check);
                var others = Tables.Check(check)!.Outcomes.Where(outcome => outcome.Id != truth).ToList();
                var wrong = others[dice.Next(others.Count)].Id;
                flips.Add($"{check}={wrong}");
                return wrong;
            });
            if (diagnosis.Candidates.Take(2).Any(candidate => Truth[number].Classes.Contains(candidate.Class.Id)))
                right++;
            else
                misses.Add(string.Join(" ", flips));
        }

        Assert.True(right >= runs * 0.9, $"job {number}: {right} of {runs}; missed with {string.Join(" | ", misses.Take(12))}");
        TestContext.Current.TestOutputHelper?.WriteLine($"{number}: {right} of {runs}");
    }
}
