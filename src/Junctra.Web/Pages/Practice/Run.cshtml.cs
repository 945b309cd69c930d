using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Practice;
using Junctra.Store;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>How an exercise went: points, and why each was lost. Only whoever practised sees it.</summary>
public sealed class RunModel(PracticeService practice, ExerciseShelf shelf, ModelCatalogue catalogue, TimeProvider time) : PageModel
{
    public PracticeRow Run { get; private set; } = null!;

    /// <summary>The exercise; null where it is no longer in the catalogue.</summary>
    public Exercise? Exercise { get; private set; }

    public IReadOnlyList<LostPoints> Lost { get; private set; } = [];

    /// <summary>Where another one of its kind is made, of a number that nobody has seen; null where the exercise is gone.</summary>
    public string? Another { get; private set; }

    public async Task<IActionResult> OnGetAsync(int id, CancellationToken cancel)
    {
        if (await practice.FindAsync(User.Identity!.Name!, id, cancel) is not { } run)
            return NotFound();
        if (run.IsOpen)
            return RedirectToPage("/Practice/Job", new { id });
        Run = run;
        Lost = PracticeService.LostOf(run);
        Exercise = shelf.Find(run.Exercise);
        Hands = [.. PartsOf(run)];
        if (Exercise is not null)
            Another = $"/practice/{ExerciseShelf.KindOf(Exercise)}-{(time.GetUtcNow().ToUnixTimeMilliseconds() + id) % int.MaxValue}";
        return Page();
    }

    /// <summary>The parts that hands did: these can be seen once more.</summary>
    public IReadOnlyList<HandsPart> Hands { get; private set; } = [];

    /// <summary>The packages of its shelf as the match judges them, the best first; empty where none lay there.</summary>
    public IReadOnlyList<(MatchReport Report, Package Package)> Judged =>
        Questions.FirstOrDefault(one => one.Judged.Count > 0)?.Judged ?? [];

    private IEnumerable<PracticeQuestion> Questions =>
        Exercise?.Task switch
        {
            JobTask => shelf.JobOf(Exercise)?.Parts.SelectMany(part => part.Questions) ?? [],
            QuestionTask => [PracticeQuestion.Of(Exercise, catalogue)],
            _ => [],
        };

    /// <summary>The phone, to be looked at.</summary>
    public HoldModel? Hold =>
        catalogue.Model(Exercise?.Phone.ModelCode) is { } model ? new HoldModel(model, catalogue.KeyFamilyOf(model), false) : null;

    /// <summary>A part that hands did, at a moment.</summary>
    public async Task<IActionResult> OnGetMomentAsync(int id, int part, long at, CancellationToken cancel)
    {
        if (await practice.FindAsync(User.Identity!.Name!, id, cancel) is not { IsOpen: false } run)
            return NotFound();
        Exercise = shelf.Find(run.Exercise);
        return PartsOf(run).FirstOrDefault(one => one.Number == part) is { } hands
            ? new JsonResult(JobModel.MomentOf(hands.Part, hands.Done, Math.Clamp(at, 0, hands.Done.Now), catalogue))
            : NotFound();
    }

    private IEnumerable<HandsPart> PartsOf(PracticeRow run)
    {
        if (Exercise is null)
            return [];
        var done = PracticeService.PartsOf(run);
        if (Exercise.Task is KeyTask && done is [var only])
            return [new(0, new JobPart(JobStage.Route, []) { Keys = new KeyPractice(Exercise, catalogue) }, only, 0)];
        return shelf.JobOf(Exercise) is { } job
            ? job
                .Parts.Zip(done)
                .Select((pair, i) => new HandsPart(i, pair.First, pair.Second, done.Take(i).Sum(one => one.Now)))
                .Where(one => one.Part.Questions.Count == 0)
            : [];
    }
}

/// <summary>A part of an exercise that hands did.</summary>
/// <param name="Number">Which, from 0.</param>
/// <param name="Part">The part.</param>
/// <param name="Done">What was done.</param>
/// <param name="Began">When it began, in milliseconds since the exercise did.</param>
public sealed record HandsPart(int Number, JobPart Part, PartSent Done, long Began)
{
    /// <summary>The one score that leads there, with what was held on it since it was last begun; null where there is none.</summary>
    public (Way Way, IReadOnlyList<HeldSpan> Held)? Score =>
        Part.Keys is { Only: { Kind: WayKind.Keys } way } keys ? (way, HeldSpan.Of(keys, Done)) : null;

    /// <summary>Its acts, for the script that shows which keys are down.</summary>
    public string Acts => JsonSerializer.Serialize(Done.Acts, JsonSerializerOptions.Web);
}
