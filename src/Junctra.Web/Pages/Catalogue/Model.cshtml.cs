using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>One model: its ladder of builds and revisions, its packages, its partitions.</summary>
public sealed class OneModelModel(ModelCatalogue catalogue, PackageIndex shelf) : PageModel
{
    private const double LadderWidth = 1100;

    public PhoneModel Variant { get; private set; } = null!;

    public Maker Maker { get; private set; } = null!;

    public IReadOnlyList<PhoneModel> Namesakes { get; private set; } = [];

    public IReadOnlyList<Package> Packages { get; private set; } = [];

    public BuildLadder Ladder { get; private set; } = null!;

    public LadderLayout Drawing => LadderLayout.Of(Ladder, LadderWidth);

    public async Task<IActionResult> OnGetAsync(string code, CancellationToken cancel)
    {
        if (catalogue.Model(code) is not { } model)
            return NotFound();
        (Variant, Maker) = (model, catalogue.MakerOf(code)!);
        Namesakes = [.. catalogue.Variants(model.ProductName).Where(other => other != model)];
        Packages = await shelf.ForModelAsync(model.Code, cancel);
        Ladder = BuildLadder.Of(model, Packages, null, catalogue);
        return Page();
    }
}
