using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Web.Library;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.Packages;

/// <summary>The library.</summary>
public sealed class IndexModel(
    PackageSearch search,
    LibraryWatch watch,
    IAuthorizationService authorization,
    IOptions<JunctraOptions> options
) : PageModel
{
    /// <summary>The facets, by their names in an address.</summary>
    public static IReadOnlyList<(string Key, string Label)> FacetNames { get; } =
    [("model", "Model"), ("region", "Region"), ("revision", "Revision"), ("kind", "Kind"), ("whole", "Check")];

    public PackageFound Found { get; private set; } = null!;

    /// <summary>Whether this person may have the folder looked through.</summary>
    public bool MayLook { get; private set; }

    public PackageFilter Filter { get; private set; } = new();

    [TempData]
    public string? Done { get; set; }

    public LibraryProgress? Progress => watch.Progress;

    public IReadOnlyList<string> Arriving => watch.Arriving;

    /// <summary>What lies in the folder and could not be looked into, with the reason.</summary>
    public IReadOnlyList<(string Name, string Why)> Unreadable => watch.Unreadable;

    public string Folder => options.Value.Library;

    public bool IsNarrowed => Filter != new PackageFilter();

    /// <summary>The chosen value of a facet, or null.</summary>
    public string? Chosen(string key) =>
        key switch
        {
            "model" => Filter.Model,
            "region" => Filter.Region,
            "revision" => Filter.Revision?.ToString(),
            "kind" => Filter.Kind?.ToString(),
            "whole" => Filter.Whole?.ToString(),
            _ => null,
        };

    /// <summary>The address of this list with one thing changed.</summary>
    public string With(string key, string? value)
    {
        var pairs = FacetNames
            .Select(facet => (facet.Key, Value: Chosen(facet.Key)))
            .Append(("q", Filter.Text))
            .Where(pair => pair.Item1 != key)
            .Append((key, value))
            .Where(pair => !string.IsNullOrEmpty(pair.Item2))
            .ToList();
        return "/packages" + QueryString.Create(pairs.Select(pair => KeyValuePair.Create(pair.Item1, pair.Item2)));
    }

    public async Task OnGetAsync(
        string? q,
        string? model,
        string? region,
        int? revision,
        PackageKind? kind,
        Wholeness? whole,
        CancellationToken cancel
    )
    {
        Filter = new PackageFilter(string.IsNullOrWhiteSpace(q) ? null : q, model, region, revision, kind, whole);
        // A razor page's own route value is called page, too.
        MayLook = (await authorization.AuthorizeAsync(User, Policies.Bench)).Succeeded;
        Found = await search.FindAsync(Filter, int.TryParse(Request.Query["page"], out var wanted) ? wanted : 1, cancel);
    }

    public async Task<IActionResult> OnPostAsync()
    {
        // Whoever brings packages in has the folder looked through.
        if (!(await authorization.AuthorizeAsync(User, Policies.Bench)).Succeeded)
            return Forbid();
        watch.LookAgain();
        return RedirectToPage();
    }
}
