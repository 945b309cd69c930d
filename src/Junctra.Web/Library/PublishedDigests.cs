using System.Text.Json;
using Junctra.Core;
using Junctra.Core.Packages;
using Junctra.Formats.Text;
using Junctra.Store;
using Junctra.Web.Library.Arrivals;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library;

/// <summary>What came of a list that somebody brought.</summary>
/// <param name="Done">What was taken in, or null.</param>
/// <param name="Problem">What was not, or null.</param>
public sealed record TakenList(string? Done, string? Problem);

/// <summary>Takes published digests in, from a checksum list or a manifest.</summary>
public sealed class PublishedDigests(JunctraDb db, LibraryWatch watch, TimeProvider time)
{
    /// <summary>Longest list that is taken.</summary>
    public const int MaxListBytes = 1 << 20;

    /// <summary>Takes a list in, or nothing of it.</summary>
    /// <param name="fileName">Name of the file it came in.</param>
    /// <param name="text">The list.</param>
    /// <param name="isTrusted">Whether whoever brings it answers for whose the files are: only a lead does.</param>
    /// <param name="who">Who brings it.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<TakenList> TakeInAsync(string fileName, string text, bool isTrusted, string who, CancellationToken cancel)
    {
        text = text.TrimStart('\uFEFF');
        string? problem = null;
        var digests = ReadManifest(text)
            ?? ChecksumText
                .Read(text, isNamedAsList: ChecksumText.IsListName(fileName))
                ?.Lines.Select(line =>
                    (
                        Name: line.FileName.Length > 0 ? Path.GetFileName(line.FileName) : ChecksumText.NamedAfter(fileName) ?? "",
                        line.Digest
                    )
                )
                .ToList();
        if (digests is null or { Count: 0 })
            return new TakenList(null, "The file is neither a checksum list nor a manifest.");

        var from = MirrorClient.FileNameOf(fileName);
        if (
            digests
                .GroupBy(pair => pair.Name)
                .FirstOrDefault(group =>
                    group.Select(pair => pair.Digest).Where(digest => digest.Length == group.First().Digest.Length).Distinct().Count() > 1
                ) is
            { } twice
        )
        {
            return new TakenList(null, $"The list gives two digests for {ShownText.Of(twice.Key)}. Nothing of it was taken in.");
        }

        // What anybody but a lead brings proves a file whole, and no more.
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
                    problem = $"A lead took in another digest for {name}; that one stays.";
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
            (row.Digest, row.From, row.At, row.By, row.IsTrusted) = (digest, from, time.GetUtcNow(), who, isTrusted);
        }

        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = who,
                Act = $"Took in a list of digests, {from}{(isTrusted ? "; what agrees with it counts as its publisher's" : "")}.",
            }
        );
        await db.SaveChangesAsync(cancel);
        watch.LookAgain();
        return new TakenList(
            $"{digests.Count} digest{(digests.Count == 1 ? "" : "s")} taken in from {from}. Packages of those names are held against them.",
            problem
        );
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
}
