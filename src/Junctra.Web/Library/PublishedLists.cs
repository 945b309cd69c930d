using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library;

/// <summary>What is published for one file.</summary>
/// <param name="Digest">The digest that counts, or null.</param>
/// <param name="By">Who gave it and is trusted; null where nobody is who gave it.</param>
/// <param name="Findings">What is wrong with lists that name the file.</param>
public sealed record PublishedFor(string? Digest, string? By, IReadOnlyList<PackageFinding> Findings)
{
    /// <summary>The findings in one text, to tell whether they changed.</summary>
    public string Note => string.Join(' ', Findings.Select(finding => finding.Text));
}

/// <summary>
/// All digests that somebody published, and whom of them the shop trusts: its mirrors, and lists that a lead took in. A list that lies
/// beside a file proves the file whole; it came with it, from wherever the file came.
/// </summary>
public sealed class PublishedLists
{
    private readonly Dictionary<string, string> trusted = new(StringComparer.Ordinal);
    private readonly Dictionary<string, PublishedDigestRow> taken = new(StringComparer.Ordinal);
    private LibraryFolder? folder;

    private PublishedLists() { }

    /// <summary>Reads them.</summary>
    public static async Task<PublishedLists> ReadAsync(JunctraDb db, LibraryFolder? folder, CancellationToken cancel)
    {
        var lists = new PublishedLists { folder = folder };
        foreach (var row in await db.PublishedDigests.AsNoTracking().ToListAsync(cancel))
        {
            lists.taken[row.FileName] = row;
            if (row.IsTrusted)
                lists.trusted.TryAdd(row.Digest, $"a list that {row.By} took in");
        }

        foreach (
            var file in await db
                .MirrorFiles.AsNoTracking()
                .Where(f => f.Sha256 != null && f.Mirror.PublishesChecksums)
                .Select(f => new { f.Sha256, f.Mirror.Name })
                .ToListAsync(cancel)
        )
            lists.trusted.TryAdd(file.Sha256!, file.Name);
        return lists;
    }

    /// <summary>What is published for a file.</summary>
    /// <param name="fileName">Its name.</param>
    /// <param name="sha256">Its digest, or null before it was read.</param>
    /// <param name="keptDigest">The digest under which it was taken in before, or null.</param>
    /// <param name="keptBy">Who gave that, or null.</param>
    /// <param name="isInFolder">Whether it lies in the watched folder, so that lists beside it concern it.</param>
    public PublishedFor For(string fileName, string? sha256, string? keptDigest, string? keptBy, bool isInFolder)
    {
        var beside = isInFolder ? folder?.Published.GetValueOrDefault(fileName) : null;
        List<PackageFinding> findings = isInFolder && folder is not null ? [.. folder.Findings[fileName], .. folder.Findings[""]] : [];
        var known = taken.GetValueOrDefault(fileName);
        if (known is { IsTrusted: true } && beside is not null && beside.Length == known.Digest.Length && beside != known.Digest)
            findings.Add(
                new PackageFinding(
                    FindingWeight.Doubt,
                    $"The list beside it gives another digest than {known.From}, which {known.By} took in."
                )
            );
        // A file is known by its digest, whatever it is called here; a name is held against what was taken in for that name.
        if (sha256 is not null && trusted.TryGetValue(sha256, out var by))
            return new PublishedFor(sha256, by, findings);
        if (known is { IsTrusted: true })
            return new PublishedFor(known.Digest, $"a list that {known.By} took in", findings);
        if (keptDigest is not null && keptBy is not null)
            return new PublishedFor(keptDigest, keptBy, findings);
        return new PublishedFor(beside ?? known?.Digest ?? keptDigest, null, findings);
    }
}
