using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.Packages;

/// <summary>The library.</summary>
public sealed class IndexModel(PackageShelf shelf, LibraryWatch watch, IOptions<JunctraOptions> options) : PageModel
{
    public IReadOnlyList<Package> Packages { get; private set; } = [];

    public LibraryProgress? Progress => watch.Progress;

    public IReadOnlyList<string> Arriving => watch.Arriving;

    public string Folder => options.Value.Library;

    public (Verdict Verdict, string Word) StateOf(Package package) =>
        package.Findings.Any(f => f.Weight == FindingWeight.Fatal) ? (Verdict.Stop, "damaged")
        : package.Kind == PackageKind.Unknown ? (Verdict.Ask, "not a known kind")
        : package.Images.Any(image => image.Digest == DigestState.NothingToCompare) ? (Verdict.Care, "no digest to compare")
        : (Verdict.Go, "intact");

    public async Task OnGetAsync(CancellationToken cancel) => Packages = await shelf.AllAsync(cancel);

    public IActionResult OnPost()
    {
        watch.LookAgain();
        return RedirectToPage();
    }
}
