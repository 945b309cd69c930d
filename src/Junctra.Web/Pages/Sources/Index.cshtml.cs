using System.Text;
using System.Text.Json;
using Junctra.Core;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Text;
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
    MirrorStore book,
    ArrivalService desk,
    LibraryWatch watch,
    IAuthorizationService authorization,
    IOptions<JunctraOptions> options,
    TimeProvider time
) : PageModel
{
    private const int MaxFiles = 60;
    private const int MaxListBytes = 1 << 20;

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

    public bool IsMoving =>
        Arrivals.Any(arrival => arrival.State is ArrivalState.Waiting or ArrivalState.Fetching or ArrivalState.Checking);

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
        await book.ReadAllAsync(cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostFetchAsync(int file, string? q, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        (_, Problem) = await desk.FetchAsync(file, User.Identity!.Name!, cancel);
        return RedirectToPage(new { q });
    }

    public async Task<IActionResult> OnPostPauseAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        await desk.PauseAsync(id, cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostResumeAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        Problem = await desk.ResumeAsync(id, cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostCancelAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        await desk.CancelAsync(id, cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostBringAsync(string? path, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        if (string.IsNullOrWhiteSpace(path))
            Problem = "Enter the path of a file.";
        else
            (_, Problem) = await desk.BringAsync(path.Trim(), User.Identity!.Name!, cancel);
        return RedirectToPage();
    }

    /// <summary>Takes published digests in, from a checksum list or a manifest.</summary>
    public async Task<IActionResult> OnPostListAsync(IFormFile? list, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        if (list is null || list.Length == 0)
            Problem = "Choose a checksum list or a manifest.";
        else if (list.Length > MaxListBytes)
            Problem = $"A list of more than {ByteSize.Text(MaxListBytes)} is not taken.";
        else
            await TakeListAsync(list, cancel);
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
        name = name?.Trim();
        indexPath = string.IsNullOrWhiteSpace(indexPath) ? "index.json" : indexPath.Trim();
        if (string.IsNullOrEmpty(name) || name.Length > 60)
            Problem = "A mirror has a name of up to 60 letters.";
        else if (
            !Uri.TryCreate(address?.Trim(), UriKind.Absolute, out var uri)
            || uri.Scheme is not ("http" or "https")
            || uri.UserInfo.Length > 0
            || address!.Length > 300
        )
            Problem = "The address of a mirror begins with https:// or http://, and holds no password.";
        else if (indexForm is not (MirrorClient.JsonIndex or MirrorClient.ListIndex))
            Problem = "The index is in JSON or a checksum list.";
        else if (await db.Mirrors.AnyAsync(m => m.Name == name && m.Id != id, cancel))
            Problem = $"There is a mirror {name} already.";
        else
        {
            var mirror = id is { } number ? await db.Mirrors.FindAsync([number], cancel) : null;
            if (mirror is null)
                db.Mirrors.Add(
                    mirror = new MirrorRow
                    {
                        Name = name,
                        BaseAddress = "",
                        IndexForm = indexForm,
                        IndexPath = indexPath,
                    }
                );
            (
                mirror.Name,
                mirror.BaseAddress,
                mirror.IndexForm,
                mirror.IndexPath,
                mirror.NeedsTicket,
                mirror.PublishesChecksums,
                mirror.IsOn,
                mirror.Problem
            ) = (name, uri.ToString(), indexForm, indexPath, needsTicket, publishes, isOn, null);
            await db.SaveChangesAsync(cancel);
        }

        return RedirectToPage();
    }

    /// <summary>Notes a ticket code that somebody got for a mirror.</summary>
    public async Task<IActionResult> OnPostTicketAsync(int id, string? ticket, CancellationToken cancel)
    {
        if (!await MayAsync(Policies.Bench))
            return Forbid();
        ticket = string.IsNullOrWhiteSpace(ticket) ? null : ticket.Trim();
        if (ticket is { Length: > 200 } || ticket?.Any(char.IsControl) == true)
            Problem = "That is no ticket code.";
        else if (await db.Mirrors.SingleOrDefaultAsync(m => m.Id == id, cancel) is { } mirror)
        {
            (mirror.Ticket, mirror.Problem) = (ticket, null);
            db.Audit.Add(
                new AuditRow
                {
                    At = time.GetUtcNow(),
                    By = User.Identity!.Name!,
                    Act = ticket is null ? $"Took the ticket of {mirror.Name} away." : $"Entered a ticket for {mirror.Name}.",
                }
            );
            await db.SaveChangesAsync(cancel);
        }

        return RedirectToPage();
    }

    /// <summary>How long is left, as a band in words; null where that cannot be said.</summary>
    public static string? Left(ArrivalRow row)
    {
        if (row.State != ArrivalState.Fetching || row.SizeBytes is not { } size || row.Rate is not > 0)
            return null;
        var left = size - row.BytesDone;
        var (usual, slow) = (left / row.Rate.Value, left / Math.Max(1, row.SlowRate ?? row.Rate.Value));
        return Words(usual) == Words(slow) ? $"about {Words(usual)} left" : $"{Words(usual)} to {Words(slow)} left";
    }

    /// <summary>A time in words.</summary>
    public static string Words(double seconds) =>
        seconds switch
        {
            < 50 => $"{Math.Max(1, Math.Round(seconds)):0} s",
            < 3600 => $"{Math.Max(1, Math.Round(seconds / 60)):0} min",
            _ => $"{seconds / 3600:0.#} h",
        };

    public static string RateWords(double? rate) => rate is { } bytes ? $"{ByteSize.Text((long)bytes)}/s" : "not measured";

    private async Task TakeListAsync(IFormFile list, CancellationToken cancel)
    {
        var bytes = new MemoryStream();
        await list.CopyToAsync(bytes, cancel);
        var text = Encoding.UTF8.GetString(bytes.ToArray()).TrimStart('\uFEFF');
        var digests = ReadManifest(text)
            ?? ChecksumText
                .Read(text, isNamedAsList: ChecksumText.IsListName(list.FileName))
                ?.Lines.Select(line =>
                    (
                        Name: line.FileName.Length > 0 ? Path.GetFileName(line.FileName) : ChecksumText.NamedAfter(list.FileName) ?? "",
                        line.Digest
                    )
                )
                .ToList();
        if (digests is null or { Count: 0 })
        {
            Problem = "The file is neither a checksum list nor a manifest.";
            return;
        }

        var from = MirrorClient.FileNameOf(list.FileName);
        if (
            digests
                .GroupBy(pair => pair.Name)
                .FirstOrDefault(group =>
                    group.Select(pair => pair.Digest).Where(digest => digest.Length == group.First().Digest.Length).Distinct().Count() > 1
                ) is
            { } twice
        )
        {
            Problem = $"The list gives two digests for {ShownText.Of(twice.Key)}. Nothing of it was taken in.";
            return;
        }

        // Only a lead answers for whose a file is; what anybody else brings proves a file whole.
        var isTrusted = await MayAsync(Policies.Lead);
        foreach (
            var (name, digest) in digests
                .Where(pair => pair.Name.Length is > 0 and <= 300 && ShownText.IsFit(pair.Name))
                .OrderByDescending(pair => pair.Digest.Length)
                .DistinctBy(pair => pair.Name)
        )
        {
            var row = await db.PublishedDigests.SingleOrDefaultAsync(p => p.FileName == name, cancel);
            if (row is { IsTrusted: true } && !isTrusted)
            {
                if (row.Digest != digest)
                    Problem = $"A lead took in another digest for {name}; that one stays.";
                continue;
            }

            if (row is null)
                db.PublishedDigests.Add(
                    row = new PublishedDigestRow
                    {
                        FileName = name,
                        Digest = digest,
                        From = from,
                    }
                );
            (row.Digest, row.From, row.At, row.By, row.IsTrusted) = (digest, from, time.GetUtcNow(), User.Identity!.Name!, isTrusted);
        }

        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = User.Identity!.Name!,
                Act = $"Took in a list of digests, {from}{(isTrusted ? "; what agrees with it counts as its publisher's" : "")}.",
            }
        );
        await db.SaveChangesAsync(cancel);
        watch.LookAgain();
        Done =
            $"{digests.Count} digest{(digests.Count == 1 ? "" : "s")} taken in from {from}. Packages of those names are held against them.";
    }

    private static List<(string Name, string Digest)>? ReadManifest(string text)
    {
        if (!text.StartsWith('{'))
            return null;
        try
        {
            var manifest = JsonSerializer.Deserialize<PackageManifest>(text, JsonSerializerOptions.Web);
            return
                manifest
                    is {
                        Format: PackageManifest.Name,
                        Version: PackageManifest.Current,
                        File: { Length: > 0 } file,
                        Sha256: { Length: 64 } digest
                    }
                && digest.All(char.IsAsciiHexDigit)
                ? [(Path.GetFileName(file), digest.ToLowerInvariant())]
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
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
        Spoilt = await book.SpoiltAsync(cancel);
        Offers = await book.OffersAsync(Search, MaxFiles, cancel);
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
