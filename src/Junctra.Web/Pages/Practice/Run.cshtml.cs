using Junctra.Core.Practice;
using Junctra.Store;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>How an exercise went: points, and why each was lost. Only whoever practised sees it.</summary>
public sealed class RunModel(PracticeService practice, ExerciseShelf shelf, TimeProvider time) : PageModel
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
        Run = run;
        Lost = PracticeService.LostOf(run);
        Exercise = shelf.Find(run.Exercise);
        if (Exercise is not null)
            Another = $"/practice/{ExerciseShelf.KindOf(Exercise)}-{(time.GetUtcNow().ToUnixTimeMilliseconds() + id) % int.MaxValue}";
        return Page();
    }
}
