using Junctra.Web.Bench;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.Catalogue;

/// <summary>What the catalogue's files, as they are now, would change for the phones that are here.</summary>
[Authorize(Policies.Lead)]
public sealed class ChangeModel(CataloguePreview preview, IOptions<JunctraOptions> options) : PageModel
{
    /// <summary>So many changes are listed; the count is of all.</summary>
    public const int MaxShown = 200;

    public CatalogueChange Change { get; private set; } = null!;

    public string Folder => options.Value.Catalogue;

    public async Task OnGetAsync(CancellationToken cancel) => Change = await preview.LookAsync(Folder, cancel);
}
