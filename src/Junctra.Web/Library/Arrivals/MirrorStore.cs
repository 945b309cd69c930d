using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

/// <summary>A file as it can be had from one mirror.</summary>
/// <param name="File">What the mirror's index says of it.</param>
/// <param name="Mirror">The mirror.</param>
/// <param name="Rate">How fast the mirror gives, or null where that is not known.</param>
/// <param name="SpoiltBefore">Files from there that were damaged or cut off.</param>
public sealed record MirrorOffer(MirrorFileRow File, MirrorRow Mirror, DownloadRate? Rate, int SpoiltBefore)
{
    /// <summary>Seconds that it usually takes, and that nine of ten files stay under; null where nobody knows.</summary>
    public Band? Seconds => File.SizeBytes is { } size && Rate is { } rate ? new Band(size / rate.Usual, size / rate.Slow) : null;

    /// <summary>Whether it can be had now.</summary>
    public bool IsUsable => Mirror is { IsOn: true, Problem: null } && !(Mirror.NeedsTicket && string.IsNullOrEmpty(Mirror.SealedTicket));
}

/// <summary>A file, and who offers it; the one to take first.</summary>
/// <param name="FileName">Its name.</param>
/// <param name="SizeBytes">Its size, or null.</param>
/// <param name="Build">Build that the mirrors say it is, or null.</param>
/// <param name="Offers">Offers, the best first.</param>
/// <param name="IsPublished">Whether any mirror publishes its digest.</param>
public sealed record OfferedFile(string FileName, long? SizeBytes, string? Build, IReadOnlyList<MirrorOffer> Offers, bool IsPublished)
{
    /// <summary>What it is called for people: its build, or its file's name.</summary>
    public string Title => Build ?? FileName;
}

/// <summary>A mirror as somebody describes it, unchecked.</summary>
/// <param name="Name">Its name here.</param>
/// <param name="Address">Address under which its files lie.</param>
/// <param name="IndexForm">Form of its index.</param>
/// <param name="IndexPath">Path of its index; <c>index.json</c> where it is left out.</param>
/// <param name="NeedsTicket">Whether it asks for a ticket code.</param>
/// <param name="PublishesChecksums">Whether its digests count as the publisher's.</param>
/// <param name="IsOn">Whether it is asked.</param>
public sealed record MirrorSettings(
    string? Name,
    string? Address,
    string? IndexForm,
    string? IndexPath,
    bool NeedsTicket,
    bool PublishesChecksums,
    bool IsOn
);

/// <summary>The mirrors, what they offer, and how fast each is.</summary>
public sealed partial class MirrorStore(JunctraDb db, MirrorClient client, MirrorTickets tickets, TimeProvider time)
{
    private const string UsualIndex = "index.json";
    private const int MostOfAModel = 40;
    private const int MaxName = 60;
    private const int MaxAddress = 300;
    private const int MaxTicket = 200;

    /// <summary>Adds a mirror, or changes one.</summary>
    /// <returns>Why it cannot be so, or null.</returns>
    public async Task<string?> SaveAsync(int? id, MirrorSettings wanted, CancellationToken cancel)
    {
        var name = wanted.Name?.Trim();
        if (string.IsNullOrEmpty(name) || name.Length > MaxName)
            return $"A mirror has a name of up to {MaxName} letters.";
        if (
            !Uri.TryCreate(wanted.Address?.Trim(), UriKind.Absolute, out var uri)
            || uri.Scheme is not ("http" or "https")
            || uri.UserInfo.Length > 0
            || wanted.Address!.Length > MaxAddress
        )
            return "The address of a mirror begins with https:// or http://, and holds no password.";
        if (wanted.IndexForm is not (MirrorIndex.JsonForm or MirrorIndex.ListForm))
            return "The index is in JSON or a checksum list.";
        if (await db.Mirrors.AnyAsync(m => m.Name == name && m.Id != id, cancel))
            return $"There is a mirror {name} already.";
        var indexPath = string.IsNullOrWhiteSpace(wanted.IndexPath) ? UsualIndex : wanted.IndexPath.Trim();
        var mirror = id is { } number ? await db.Mirrors.FindAsync([number], cancel) : null;
        if (mirror is null)
            db.Mirrors.Add(
                mirror = new MirrorRow
                {
                    Name = name,
                    BaseAddress = "",
                    IndexForm = wanted.IndexForm,
                    IndexPath = indexPath,
                }
            );
        (mirror.Name, mirror.BaseAddress, mirror.IndexForm, mirror.IndexPath) = (name, uri.ToString(), wanted.IndexForm, indexPath);
        (mirror.NeedsTicket, mirror.PublishesChecksums, mirror.IsOn) = (wanted.NeedsTicket, wanted.PublishesChecksums, wanted.IsOn);
        mirror.Problem = null;
        await db.SaveChangesAsync(cancel);
        return null;
    }

    /// <summary>Notes a ticket code that somebody got for a mirror, or takes it away where none is given.</summary>
    /// <returns>Why it cannot be so, or null.</returns>
    public async Task<string?> SetTicketAsync(int id, string? ticket, string who, CancellationToken cancel)
    {
        ticket = string.IsNullOrWhiteSpace(ticket) ? null : ticket.Trim();
        if (ticket is { Length: > MaxTicket } || ticket?.Any(char.IsControl) == true)
            return "That is no ticket code.";
        if (await db.Mirrors.SingleOrDefaultAsync(m => m.Id == id, cancel) is not { } mirror)
            return null;
        (mirror.SealedTicket, mirror.Problem) = (ticket is null ? null : tickets.Seal(ticket), null);
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = who,
                Act = ticket is null ? $"Took the ticket of {mirror.Name} away." : $"Entered a ticket for {mirror.Name}.",
            }
        );
        await db.SaveChangesAsync(cancel);
        return null;
    }

    /// <summary>Reads the indexes of all mirrors that are on and measures each.</summary>
    public async Task ReadAllAsync(CancellationToken cancel)
    {
        var mirrors = await db.Mirrors.Where(m => m.IsOn).ToListAsync(cancel);
        // They answer or not each by itself; the slowest decides how long it takes.
        var answers = await Task.WhenAll(mirrors.Select(mirror => AskAsync(mirror, cancel)));
        foreach (var (mirror, files, rate, problem) in answers)
        {
            (mirror.Problem, mirror.IndexedAt) = (problem, time.GetUtcNow());
            if (rate is not null)
                (mirror.Rate, mirror.MeasuredAt) = (rate, time.GetUtcNow());
            await db.SaveChangesAsync(cancel);
            if (files is not null)
                await KeepAsync(mirror, files, cancel);
        }
    }

    /// <summary>Keeps what one mirror offers; what cannot be kept is that mirror's trouble alone.</summary>
    private async Task KeepAsync(MirrorRow mirror, IReadOnlyList<MirrorFileRow> files, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        try
        {
            await db.MirrorFiles.Where(f => f.MirrorId == mirror.Id).ExecuteDeleteAsync(cancel);
            foreach (var file in files)
                file.MirrorId = mirror.Id;
            db.MirrorFiles.AddRange(files);
            await db.SaveChangesAsync(cancel);
            await transaction.CommitAsync(cancel);
        }
        catch (DbUpdateException)
        {
            await transaction.RollbackAsync(cancel);
            foreach (var file in files)
                db.Entry(file).State = EntityState.Detached;
            mirror.Problem = $"What {mirror.Name} offers cannot be kept here.";
            await db.SaveChangesAsync(cancel);
        }
    }

    /// <summary>Files that the mirrors offer, by name; for each the offers with the best first.</summary>
    /// <param name="search">Part of a name, build or model code; all when empty.</param>
    /// <param name="most">Most files.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<IReadOnlyList<OfferedFile>> OffersAsync(string? search, int most, CancellationToken cancel)
    {
        var pattern = $"%{search?.Trim().Replace("\\", "\\\\").Replace("%", "\\%").Replace("_", "\\_")}%";
        var files = await db
            .MirrorFiles.AsNoTracking()
            .Include(f => f.Mirror)
            .Where(f =>
                f.Mirror.IsOn
                && (
                    EF.Functions.ILike(f.Path, pattern)
                    || f.Build != null && EF.Functions.ILike(f.Build, pattern)
                    || f.ModelCode != null && EF.Functions.ILike(f.ModelCode, pattern)
                )
            )
            .OrderBy(f => f.Path)
            .Take(most * 4)
            .ToListAsync(cancel);
        var spoilt = await SpoiltAsync(cancel);
        var rates = await RatesAsync(cancel);
        return
        [
            .. files
                .GroupBy(file => (MirrorClient.FileNameOf(file.Path), file.SizeBytes))
                .Take(most)
                .Select(group => new OfferedFile(
                    group.Key.Item1,
                    group.Key.SizeBytes,
                    group.Select(file => file.Build).FirstOrDefault(build => build is not null),
                    [
                        .. group
                            .Select(file => new MirrorOffer(
                                file,
                                file.Mirror,
                                rates.Find(file.MirrorId, file.Mirror.Rate),
                                spoilt.GetValueOrDefault(file.MirrorId)
                            ))
                            .OrderByDescending(offer => offer.IsUsable)
                            .ThenBy(offer => offer.SpoiltBefore)
                            .ThenBy(offer => offer.Seconds?.Typical ?? double.MaxValue),
                    ],
                    group.Any(file => file.Sha256 is not null)
                )),
        ];
    }

    /// <summary>Files that the mirrors offer for a model and the library does not have, best offer first.</summary>
    /// <param name="modelCode">Code of the model.</param>
    /// <param name="most">Most files.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<IReadOnlyList<OfferedFile>> MissingAsync(string modelCode, int most, CancellationToken cancel)
    {
        var offers = (await OffersAsync(modelCode, MostOfAModel, cancel))
            .Where(offer => offer.Offers[0].IsUsable && offer.Offers.Any(one => one.File.ModelCode == modelCode))
            .ToList();
        var names = offers.ConvertAll(offer => offer.FileName);
        var here = await db
            .Packages.Where(package => names.Contains(package.FileName))
            .Select(package => package.FileName)
            .ToHashSetAsync(cancel);
        return [.. offers.Where(offer => !here.Contains(offer.FileName)).Take(most)];
    }

    /// <summary>For each mirror, how many files from there were not what was published, cut off, or damaged inside.</summary>
    public async Task<IReadOnlyDictionary<int, int>> SpoiltAsync(CancellationToken cancel)
    {
        var spoilt = await db
            .Arrivals.Where(a => a.MirrorId != null && a.IsSpoilt)
            .GroupBy(a => a.MirrorId!.Value)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        var damaged = await db
            .Arrivals.Where(a =>
                a.MirrorId != null
                && a.State == ArrivalState.Done
                && db.Packages.Any(p => p.Id == a.PackageId && p.Wholeness == Core.Packages.Wholeness.Damaged)
            )
            .GroupBy(a => a.MirrorId!.Value)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return spoilt.Concat(damaged).GroupBy(pair => pair.Key).ToDictionary(group => group.Key, group => group.Sum(pair => pair.Count));
    }

    private async Task<(MirrorRow Mirror, IReadOnlyList<MirrorFileRow>? Files, double? Rate, string? Problem)> AskAsync(
        MirrorRow mirror,
        CancellationToken cancel
    )
    {
        try
        {
            var files = await client.IndexAsync(mirror, cancel);
            if (files.Count == 0)
                return (mirror, files, null, null);
            if (mirror.NeedsTicket && string.IsNullOrEmpty(mirror.SealedTicket))
                return (mirror, files, null, null);
            return (
                mirror,
                files,
                await client.MeasureAsync(mirror, files.OrderByDescending(file => file.SizeBytes ?? 0).First().Path, cancel),
                null
            );
        }
        catch (SourceException error)
        {
            return (mirror, null, null, error.Message);
        }
        catch (Exception error) when (error is not OperationCanceledException || !cancel.IsCancellationRequested)
        {
            return (
                mirror,
                null,
                null,
                error is IOException or HttpRequestException
                    ? $"{mirror.Name} broke off while it was measured."
                    : $"{mirror.Name} answers in a way that cannot be read."
            );
        }
    }
}
