using Junctra.Core.Plans.Paths;
using Junctra.Web.Practising;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>What the shop asks of whoever begins a write, and, where its rule says so, who is ready for which kind of work.</summary>
[Authorize(Policy = Policies.Lead)]
public sealed class PeopleModel(PracticeService practice, LicenceService licences, TimeProvider time) : PageModel
{
    public PracticeRules Rules { get; private set; } = PracticeRules.None;

    /// <summary>By person and path, when they passed it last; empty where the lead does not see it.</summary>
    public IReadOnlyDictionary<(string Person, string Letter), DateTimeOffset> Passed { get; private set; } =
        new Dictionary<(string, string), DateTimeOffset>();

    public IEnumerable<string> People => Passed.Keys.Select(key => key.Person).Distinct().Order(StringComparer.Ordinal);

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    [TempData]
    public string? Done { get; set; }

    public async Task OnGetAsync(CancellationToken cancel)
    {
        Rules = await licences.RulesAsync(cancel);
        if (!Rules.LeadSees)
            return;
        var letters = PathList.All.ToDictionary(path => $"jobs/{path.Letter}", path => path.Letter, StringComparer.Ordinal);
        Passed = (await practice.PassedAsync(cancel))
            .Where(one => letters.ContainsKey(one.Skill))
            .ToDictionary(one => (one.Person, letters[one.Skill]), one => one.At);
    }

    public async Task<IActionResult> OnPostAsync(bool leadSees, string[] asked, CancellationToken cancel)
    {
        var before = await licences.RulesAsync(cancel);
        var rules = new PracticeRules(leadSees, [.. asked.Distinct().Select(Licence.Read).OfType<Licence>()]);
        await licences.DecideAsync(rules, User.Identity!.Name!, cancel);
        Done =
            rules.LeadSees && !before.LeadSees ? "Kept. Whoever practises reads on their own page that you see what they have passed."
            : rules.Licences.Count == 0 ? "Kept. Nothing is asked for before a write."
            : $"Kept. {rules.Licences.Count} {(rules.Licences.Count == 1 ? "licence is" : "licences are")} asked for from now on.";
        return RedirectToPage();
    }
}
