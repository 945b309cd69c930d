using System.Text;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Web.Library;
using Junctra.Web.Library.Arrivals;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.Sources;

/// <summary>Where packages come from: mirrors, what is on its way, and files of this shop's computers.</summary>
public sealed class IndexModel(
    JunctraDb db,
    MirrorStore mirrors,
    ArrivalService arrivals,
    PublishedDigests digests,
    IAuthorizationService authorization,
    IOptions<JunctraOptions> options,
    TimeProvider time
) : PageModel
{
    private const int MaxFiles = 60;

    public IReadOnlyList<MirrorRow> Mirrors { get; private set; } = [];

    public IReadOnlyDictionary<int, int> Counts { get; private set; } = new Dictionary<int, int>();

    public IReadOnlyDictionary<int, int> Spoilt { get; private set; } = new Dictionary<int, int>();

    public IReadOnlyList<OfferedFile> Offers { get; private set; } = [];

    public IReadOnlyList<ArrivalRow> Arrivals { get; private set; } = [];

    /// <summary>Names of files that are in the library already.</summary>
    public IReadOnlySet<string> Here { get; private set; } = new HashSet<string>();

    public string? Search { get; private set; }

    public bool MayAct { get; private set; }

    public bool MayLead { get; private set; }

    [TempData]
    public string? Problem { get; set; }

    [TempData]
    public string? Done { get; set; }

    public IReadOnlyList<string> Roots => options.Value.AllowedRoots;

    public long MaxUpload => ArrivalService.MaxUploadBytes;

    public async Task OnGetAsync(string? q, CancellationToken cancel) => await LoadAsync(q, cancel);

    /// <summary>The part of the page that moves.</summary>
    public async Task<IActionResult> OnGetArrivalsAsync(CancellationToken cancel)
    {
        await LoadArrivalsAsync(cancel);
        return Partial("_Arrivals", this);
    }

    /// <summary>Reads all indexes and measures the mirrors.</summary>
    public async Task<IActionResult> OnPostReadAsync(CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        await mirrors.ReadAllAsync(cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostFetchAsync(int file, string? q, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        (_, Problem) = await arrivals.FetchAsync(file, User.Identity!.Name!, cancel);
        return RedirectToPage(new { q });
    }

    public async Task<IActionResult> OnPostPauseAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        await arrivals.PauseAsync(id, cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostResumeAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        Problem = await arrivals.ResumeAsync(id, cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostCancelAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        await arrivals.CancelAsync(id, cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostBringAsync(string? path, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        if (string.IsNullOrWhiteSpace(path))
            Problem = "Enter the path of a file.";
        else
            (_, Problem) = await arrivals.BringAsync(path.Trim(), User.Identity!.Name!, cancel);
        return RedirectToPage();
    }

    /// <summary>Takes published digests in, from a checksum list or a manifest.</summary>
    public async Task<IActionResult> OnPostListAsync(IFormFile? list, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        if (list is null || list.Length == 0)
            Problem = "Choose a checksum list or a manifest.";
        else if (list.Length > PublishedDigests.MaxListBytes)
            Problem = $"A list of more than {ByteSize.Text(PublishedDigests.MaxListBytes)} is not taken.";
        else
        {
            using var reader = new StreamReader(list.OpenReadStream(), Encoding.UTF8);
            var text = await reader.ReadToEndAsync(cancel);
            (Done, Problem) = await digests.TakeInAsync(list.FileName, text, await MayAsync(Policies.Lead), User.Identity!.Name!, cancel);
        }

        return RedirectToPage();
    }

    /// <summary>Adds a mirror, or changes one.</summary>
    public async Task<IActionResult> OnPostMirrorAsync(
        int? id,
        string? name,
        string? address,
        string? indexForm,
        string? indexPath,
        bool needsTicket,
        bool publishes,
        bool isOn,
        CancellationToken cancel
    )
    {
        if (!await MayAsync(Policies.Lead))
            return Forbid();
        Problem = await mirrors.SaveAsync(
            id,
            new MirrorSettings(name, address, indexForm, indexPath, needsTicket, publishes, isOn),
            cancel
        );
        return RedirectToPage();
    }

    /// <summary>Notes a ticket code that somebody got for a mirror.</summary>
    public async Task<IActionResult> OnPostTicketAsync(int id, string? ticket, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        Problem = await mirrors.SetTicketAsync(id, ticket, User.Identity!.Name!, cancel);
        return RedirectToPage();
    }

    private async Task<bool> MayAsync(string policy) => (await authorization.AuthorizeAsync(User, policy)).Succeeded;

    private async Task LoadAsync(string? q, CancellationToken cancel)
    {
        Search = string.IsNullOrWhiteSpace(q) ? null : q.Trim();
        Mirrors = await db.Mirrors.AsNoTracking().OrderBy(m => m.Name).ToListAsync(cancel);
        Counts = await db
            .MirrorFiles.GroupBy(f => f.MirrorId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        Spoilt = await mirrors.SpoiltAsync(cancel);
        Offers = await mirrors.OffersAsync(Search, MaxFiles, cancel);
        var names = Offers.Select(offer => offer.FileName).ToList();
        Here = await db.Packages.Where(p => names.Contains(p.FileName)).Select(p => p.FileName).ToHashSetAsync(cancel);
        await LoadArrivalsAsync(cancel);
    }

    private async Task LoadArrivalsAsync(CancellationToken cancel)
    {
        (MayAct, MayLead) = (await MayAsync(Policies.Bench), await MayAsync(Policies.Lead));
        var yesterday = time.GetUtcNow().AddDays(-1);
        Arrivals = await db
            .Arrivals.AsNoTracking()
            .Where(a => a.State != ArrivalState.Cancelled && (a.State != ArrivalState.Done || a.UpdatedAt > yesterday))
            .OrderBy(a => a.State == ArrivalState.Done)
            .ThenByDescending(a => a.CreatedAt)
            .Take(30)
            .ToListAsync(cancel);
    }
}
