using Junctra.Core.Packages;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Packages;

/// <summary>One package inside.</summary>
public sealed class OneModel(PackageShelf shelf) : PageModel
{
    public Package Package { get; private set; } = null!;

    public IReadOnlyList<PackageMember> Others => [.. Package.Contents.Members.Where(member => !Package.Images.Any(image => image.Member == member))];

    public static string WordOf(MemberKind kind) => kind switch
    {
        MemberKind.Requirements => "requirement lines",
        MemberKind.ChecksumList => "checksum list",
        MemberKind.Archive => "archive",
        _ => "stray, ignored",
    };

    public async Task<IActionResult> OnGetAsync(string id, CancellationToken cancel)
    {
        if (await shelf.FindAsync(id, cancel) is not { } package) return NotFound();
        Package = package;
        return Page();
    }
}
