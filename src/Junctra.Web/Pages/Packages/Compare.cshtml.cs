using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Packages;

/// <summary>Two packages side by side.</summary>
public sealed class CompareModel(PackageIndex shelf, ModelCatalogue catalogue) : PageModel
{
    public Package Left { get; private set; } = null!;

    public Package Right { get; private set; } = null!;

    public PackageComparison Comparison { get; private set; } = null!;

    public string RelationWords =>
        Comparison.Relation switch
        {
            PackageRelation.SameFile => "The same file.",
            PackageRelation.SameImages => "The same images, packed in two ways.",
            PackageRelation.Derived => "One was made from the other.",
            PackageRelation.OtherBuild => "Two builds of one model.",
            PackageRelation.OtherModel => "For different models.",
            _ => "Not enough is known to say how they stand to each other.",
        };

    public async Task<IActionResult> OnGetAsync(string? a, string? b, CancellationToken cancel)
    {
        if (await shelf.FindAsync(a, cancel) is not { } left || await shelf.FindAsync(b, cancel) is not { } right)
            return NotFound();
        (Left, Right) = (left, right);
        Comparison = PackageComparison.Of(left, right, catalogue);
        return Page();
    }
}
