using Junctra.Core.Practice;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>The ladders of practice, and how whoever is signed in stands on them.</summary>
public sealed class IndexModel(PracticeService practice, ExerciseShelf shelf, TimeProvider time) : PageModel
{
    public IReadOnlyDictionary<string, SkillState> Standing { get; private set; } = new Dictionary<string, SkillState>();

    public IEnumerable<IGrouping<Ladder, Exercise>> Ladders => shelf.Exercises.GroupBy(exercise => exercise.Ladder);

    public Exercise? Next { get; private set; }

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    [TempData]
    public string? Done { get; set; }

    private string Person => User.Identity!.Name!;

    public async Task OnGetAsync(CancellationToken cancel)
    {
        Standing = await practice.StandingAsync(Person, cancel);
        Next = practice.Next(Standing);
    }

    public async Task<IActionResult> OnPostDeleteAsync(CancellationToken cancel)
    {
        var count = await practice.DeleteAsync(Person, cancel);
        Done = $"{count} {(count == 1 ? "record" : "records")} deleted.";
        return RedirectToPage();
    }

    /// <summary>How a class stands, in a word or two.</summary>
    public string Says(string skill) =>
        !Standing.TryGetValue(skill, out var state) ? "new"
        : state.DueAt <= Now ? "due"
        : $"again {(state.DueAt - Now).TotalDays switch { < 1 => "tomorrow", var days => $"in {Math.Ceiling(days):0} days" }}";
}
