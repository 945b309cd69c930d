using Junctra.Core.Catalogue;
using Junctra.Core.Practice;
using Junctra.Store;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>A class of exercises, and how somebody stands in it.</summary>
/// <param name="Skill">The class.</param>
/// <param name="Words">It in words.</param>
/// <param name="State">How they stand; null where they never practised it.</param>
/// <param name="First">The exercise to begin with.</param>
public sealed record SkillLine(string Skill, string Words, SkillState? State, Exercise First);

/// <summary>A person's own page: recipes and classes with their state, and records, which are theirs to delete.</summary>
public sealed class MineModel(
    PracticeService practice,
    ExerciseShelf shelf,
    LicenceService licences,
    ModelCatalogue catalogue,
    TimeProvider time
) : PageModel
{
    private const int MostRecords = 30;

    public IReadOnlyList<IGrouping<Ladder, SkillLine>> Ladders { get; private set; } = [];

    public IReadOnlyList<PracticeRow> Records { get; private set; } = [];

    public PracticeRules Rules { get; private set; } = PracticeRules.None;

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    [TempData]
    public string? Done { get; set; }

    private string Person => User.Identity!.Name!;

    /// <summary>What the shop asks of whoever looks, and whether they have passed it.</summary>
    public IEnumerable<(Licence Licence, bool Passed)> Asked =>
        Rules
            .Licences.Where(licence => User.IsInRole(licence.Role))
            .DistinctBy(licence => licence.Path)
            .Select(licence => (licence, passed.Contains(licence.Skill)));

    private HashSet<string> passed = [];

    public async Task OnGetAsync(CancellationToken cancel)
    {
        var standing = await practice.StandingAsync(Person, cancel);
        Rules = await licences.RulesAsync(cancel);
        Records = await practice.LatestAsync(Person, MostRecords, cancel);
        passed = [.. (await practice.PassedAsync(cancel)).Where(one => one.Person == Person).Select(one => one.Skill)];
        Ladders =
        [
            .. shelf
                .Exercises.GroupBy(exercise => (exercise.Ladder, exercise.Skill))
                .Select(group =>
                    (
                        group.Key.Ladder,
                        Line: new SkillLine(
                            group.Key.Skill,
                            PracticeWords.Of(group.Key.Skill, catalogue),
                            standing.GetValueOrDefault(group.Key.Skill),
                            group.First()
                        )
                    )
                )
                .GroupBy(one => one.Ladder, one => one.Line),
        ];
    }

    /// <summary>Title of an exercise; its id where it is no longer in the catalogue.</summary>
    public string TitleOf(PracticeRow row) => shelf.Find(row.Exercise)?.Title ?? row.Exercise;

    public async Task<IActionResult> OnPostDeleteAsync(int? id, CancellationToken cancel)
    {
        var count = id is { } one ? await practice.DeleteAsync(Person, one, cancel) : await practice.DeleteAsync(Person, cancel);
        Done = $"{count} {(count == 1 ? "record" : "records")} deleted.";
        return RedirectToPage();
    }
}
