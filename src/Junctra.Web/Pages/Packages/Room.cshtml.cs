using Junctra.Core.Facts;
using Junctra.Web.Library;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Packages;

/// <summary>What lies on the disk for the library, and the sweep that frees some of it.</summary>
[Authorize(Policies.Bench)]
public sealed class RoomModel(LibraryCleanup room) : PageModel
{
    public RoomReport Report { get; private set; } = null!;

    [TempData]
    public string? Done { get; set; }

    public async Task OnGetAsync(CancellationToken cancel) => Report = await room.LookAsync(cancel);

    public async Task<IActionResult> OnPostAsync(string[] sweep, CancellationToken cancel)
    {
        var freed = await room.SweepAsync(sweep.ToHashSet(StringComparer.Ordinal), User.Identity!.Name!, cancel);
        Done = sweep.Length == 0 ? "Nothing was chosen." : $"{ByteSize.Text(freed)} freed.";
        return RedirectToPage();
    }
}
