using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Practice;
using Junctra.Store;
using Junctra.Web.Practising;
using Junctra.Web.Writing;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>
/// A whole job of practice, one part after the other: questions as they come at the stations of a real one, hands on the drawn phone, the
/// write as the write station shows it. What was done is kept after each part.
/// </summary>
public sealed class JobModel(PracticeService practice, ExerciseShelf shelf, ModelCatalogue catalogue, TimeProvider time) : PageModel
{
    private const double BesideWidth = 560,
        FullWidth = 960;
    private static readonly TimeSpan Longest = TimeSpan.FromHours(1);

    [BindProperty(SupportsGet = true, Name = "hand")]
    public string? Hand { get; set; }

    public PracticeRow Row { get; private set; } = null!;

    public Exercise Exercise { get; private set; } = null!;

    public JobPractice Practice { get; private set; } = null!;

    /// <summary>What was done so far.</summary>
    public IReadOnlyList<PartSent> Done { get; private set; } = [];

    /// <summary>The part at hand.</summary>
    public JobPart Part => Practice.Parts[Done.Count];

    /// <summary>The phone, to be held.</summary>
    public HoldModel Hold =>
        new(Practice.Job.Model, catalogue.KeyFamilyOf(Practice.Job.Model), Hand == "left")
        {
            Commands = Part.Write is null ? [] : catalogue.CommonWays.Commands,
        };

    /// <summary>Now, in milliseconds: when the questions were first seen.</summary>
    public long Now => time.GetUtcNow().ToUnixTimeMilliseconds();

    /// <summary>What was seen of it, check and outcome in words.</summary>
    public IEnumerable<(string Check, string Outcome)> Seen =>
        Practice
            .Job.Task.Seen.Select(seen => (Check: catalogue.Triage.Check(seen.CheckId), seen.OutcomeId))
            .Where(seen => seen.Check is not null)
            .Select(seen => (seen.Check!.Ask, seen.Check.Outcome(seen.OutcomeId)?.Label ?? ""));

    /// <summary>What was read of the phone before a package is chosen.</summary>
    public IEnumerable<Fact> Read => Practice.Job.Phone.All.Where(fact => fact.Name != FactName.Mode && fact.Name != FactName.ModelCode);

    private double StripWidth => Part.Write is null ? FullWidth : BesideWidth;

    /// <summary>What a break in each step would leave, drawn.</summary>
    public RiskStrip Risks => RiskStrip.Of(Practice.Job.Plan, StripWidth);

    /// <summary>The partitions, and what the plan does with them, drawn.</summary>
    public PartitionStrip Strip => PartitionStrip.OfPlan(Practice.Job.Plan, Practice.Job.Model, StripWidth);

    public async Task<IActionResult> OnGetAsync(int id, CancellationToken cancel) =>
        !await LoadAsync(id, cancel) ? NotFound()
        : Row.IsOpen ? Page()
        : RedirectToPage("/Practice/Run", new { id });

    /// <summary>The questions of a part are answered.</summary>
    public async Task<IActionResult> OnPostAnswerAsync(int id, int part, string?[] answers, long began, int hints, CancellationToken cancel)
    {
        if (!await LoadAsync(id, cancel))
            return NotFound();
        // A second press, or another window: it goes on where it is.
        if (!Row.IsOpen || part != Done.Count || Part.Questions.Count == 0)
            return RedirectToPage(new { id });
        var took = Math.Clamp(Now - began, 0, (long)Longest.TotalMilliseconds);
        var sent = new PartSent
        {
            Answers = [.. Part.Questions.Select((_, i) => answers.ElementAtOrDefault(i))],
            Now = took,
            Hints = [.. Enumerable.Repeat(0L, Math.Clamp(hints, 0, 1))],
        };
        await KeepAsync(sent, false, cancel);
        return RedirectToPage(new { id });
    }

    /// <summary>What hands did so far in a part, replayed.</summary>
    public async Task<IActionResult> OnPostPlayAsync(int id, [FromBody] PartSent? sent, CancellationToken cancel)
    {
        if (!await LoadAsync(id, cancel) || !Row.IsOpen || Part.Questions.Count > 0)
            return NotFound();
        if ((sent ?? new PartSent { Now = -1 }).WhyNot() is { } whyNot)
            return BadRequest(whyNot);
        return new JsonResult(MomentOf(Part, sent!, sent!.Now, catalogue));
    }

    /// <summary>A part that hands do is over: done, spoiled or given up.</summary>
    public async Task<IActionResult> OnPostFinishAsync(int id, [FromBody] PartSent? sent, CancellationToken cancel)
    {
        if (!await LoadAsync(id, cancel))
            return NotFound();
        if ((sent ?? new PartSent { Now = -1 }).WhyNot() is { } whyNot)
            return BadRequest(whyNot);
        if (Row.IsOpen && Part.Questions.Count == 0)
            await KeepAsync(sent!, true, cancel);
        return new JsonResult(new { url = Url.Page("/Practice/Job", new { id }) });
    }

    /// <summary>It is given up where it is.</summary>
    public async Task<IActionResult> OnPostGiveUpAsync(int id, CancellationToken cancel)
    {
        if (!await LoadAsync(id, cancel))
            return NotFound();
        await practice.PartAsync(Row, Done.Count, null, done => Practice.Score(DoneOf(Practice, done), hasEnded: true), cancel);
        return RedirectToPage("/Practice/Run", new { id });
    }

    /// <summary>A part that hands do, at a moment, for the page that draws it.</summary>
    /// <param name="part">The part.</param>
    /// <param name="sent">What was done in it.</param>
    /// <param name="at">When, in milliseconds; what was done later has not happened yet.</param>
    /// <param name="catalogue">Key families and figures.</param>
    internal static object MomentOf(JobPart part, PartSent sent, long at, ModelCatalogue catalogue)
    {
        var done = (sent with { Acts = [.. sent.Acts.Where(act => act.At <= at)] }).Done(part);
        if (part.Keys is { } keys)
        {
            var view = keys.At(done.Acts, [.. done.Hints.Where(hint => hint <= at)], at);
            return new
            {
                screen = TwinHands.Shown(keys.Twin, view.State),
                mode = view.State.Mode.Label(),
                list = TwinHands.Listed(view.State, keys.Route.Legs[^1].To, catalogue),
                due = view.DueMs,
                arrived = view.Score.Reached,
                moments = (view.Trial?.Moments ?? []).Select(moment => TwinHands.Said(keys.Twin.Family, moment)),
                over = view.Score.IsOver,
            };
        }

        var write = part.Write!;
        var now = write.At(done.Acts, [.. done.Said.Where(said => said <= at)], at);
        return new
        {
            screen = TwinHands.Shown(write.Twin, now.Phone),
            mode = now.Phone.Mode.Label(),
            list = TwinHands.Listed(now.Phone, now.Run.Step?.Act.In ?? PhoneMode.Unknown, catalogue),
            due = now.DueMs,
            arrived = now.Reached,
            moments = Array.Empty<object>(),
            over = now.IsOver,
            run = RunDisplay.Of(now.Run, catalogue.Figures, now.Run.LastAt ?? DateTimeOffset.UnixEpoch),
            lines = now.Journal.Select(RunDisplay.Line).OfType<JournalLine>(),
            wants = now.Wants,
            word = now.WantsWord,
            step = now.Run.Step?.Number,
        };
    }

    /// <summary>The parts of a job as they are judged.</summary>
    internal static IReadOnlyList<PartDone> DoneOf(JobPractice practice, IReadOnlyList<PartSent> sent) =>
        [.. practice.Parts.Zip(sent).Select(pair => pair.Second.Done(pair.First))];

    private Task KeepAsync(PartSent sent, bool byHands, CancellationToken cancel) =>
        practice.PartAsync(
            Row,
            Done.Count,
            sent,
            parts =>
            {
                var done = DoneOf(Practice, parts);
                // Hands that end a part without having done it have given the job up.
                return Practice.Next(done) is null ? Practice.Score(done, hasEnded: byHands || done.Count < Practice.Parts.Count) : null;
            },
            cancel
        );

    private async Task<bool> LoadAsync(int id, CancellationToken cancel)
    {
        if (await practice.FindAsync(User.Identity!.Name!, id, cancel) is not { } row || shelf.Find(row.Exercise) is not { } exercise)
            return false;
        if (shelf.JobOf(exercise) is not { } job)
            return false;
        (Row, Exercise, Practice, Done) = (row, exercise, job, PracticeService.PartsOf(row));
        // The catalogue may have changed since: a job that has fewer parts now is over.
        return !row.IsOpen || Done.Count < job.Parts.Count;
    }
}
