using Junctra.Core.Practice;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>The ladders of practice, and how whoever is signed in stands on them.</summary>
public sealed class IndexModel(PracticeService practice, ExerciseShelf shelf, TimeProvider time) : PageModel
{
    public IReadOnlyDictionary<string, SkillState> Standing { get; private set; } = new Dictionary<string, SkillState>();

    public IEnumerable<IGrouping<Ladder, Exercise>> Ladders => shelf.Exercises.GroupBy(exercise => exercise.Ladder);

    public Exercise? Next { get; private set; }

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    private string Person => User.Identity!.Name!;

    public async Task OnGetAsync(CancellationToken cancel)
    {
        Standing = await practice.StandingAsync(Person, cancel);
        Next = practice.Next(Standing);
    }

    /// <summary>How a class stands, in a word or two.</summary>
    public string Says(string skill) => PracticeWords.Again(Standing.GetValueOrDefault(skill), Now);
}
