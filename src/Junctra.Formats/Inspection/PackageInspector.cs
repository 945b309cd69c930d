using System.Security.Cryptography;
using Junctra.Core.Packages;
using Junctra.Formats.Archives;

namespace Junctra.Formats.Inspection;

/// <summary>
/// Looks into a package file: members, sizes, digests of the file, of every member, of every image as a phone is given it and
/// of every expanded image, requirement lines and checksum lists. What a member is, its content says; names decide nothing.
/// Archives inside archives are walked too. Nothing is unpacked to disk, but an archive that must be read from its end and
/// lies within a compressed one, and that only into a nameless file. Memory is bounded, whatever the size. Whatever is wrong
/// with the file ends in a finding, never in an exception.
/// </summary>
/// <remarks>
/// The file's own digest is computed from a second reading beside the walk: on two cores the pair takes little longer than
/// the slower of them.
/// </remarks>
public static class PackageInspector
{
    /// <summary>Version of what an inspection finds; higher than that of a stored result, the file must be looked at again.</summary>
    public const int Version = 4;

    private const int BufferBytes = 1 << 18;

    /// <summary>Inspects a file on this computer.</summary>
    /// <param name="path">Path of the file.</param>
    /// <param name="publishedDigest">The digest published for the file, in hexadecimal: SHA-256, SHA-512, SHA-1 or MD5, or null.</param>
    /// <param name="password">Opens locked members, or null.</param>
    /// <param name="progress">Told how many bytes of the file are done, from 0 to its size.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="IOException">The file cannot be read; so for <see cref="UnauthorizedAccessException"/>.</exception>
    public static async Task<PackageContents> InspectFileAsync(
        string path,
        string? publishedDigest = null,
        string? password = null,
        IProgress<long>? progress = null,
        CancellationToken cancel = default
    )
    {
        var before = Look(path);
        var contents = await InspectAsync(() => Open(path), publishedDigest, password, progress: progress, cancel: cancel)
            .ConfigureAwait(false);
        var findings = contents.Findings.ToList();
        if (Look(path) != before)
            findings.Insert(0, new PackageFinding(FindingWeight.Fatal, "The file changed while it was read: it is still arriving."));
        if (FilePlace.NetworkOf(path) is { } network)
            findings.Insert(
                0,
                new PackageFinding(
                    FindingWeight.Fatal,
                    $"The file lies on a network path ({network}). Nothing is written from there: copy it to this computer."
                )
            );
        return contents with { Findings = findings };
    }

    /// <summary>Inspects what a stream gives.</summary>
    /// <param name="open">Opens the file from its first byte, seekable; called more than once.</param>
    /// <param name="publishedDigest">The digest published for the file, in hexadecimal: SHA-256, SHA-512, SHA-1 or MD5, or null.</param>
    /// <param name="password">Opens locked members, or null.</param>
    /// <param name="limits">What the file may ask of this computer.</param>
    /// <param name="progress">Told how many bytes of the file are done, from 0 to its size.</param>
    /// <param name="cancel">Cancels.</param>
    public static async Task<PackageContents> InspectAsync(
        Func<Stream> open,
        string? publishedDigest = null,
        string? password = null,
        InspectionLimits? limits = null,
        IProgress<long>? progress = null,
        CancellationToken cancel = default
    )
    {
        using var broken = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var meter = new WalkMeter(progress);
        var digesting = Task.Run(() => DigestAsync(open, OtherHashes.Of([publishedDigest]), meter, broken.Token), cancel);
        var walk = new PackageWalk(open, limits ?? InspectionLimits.Default, null, meter, password);
        try
        {
            var found = await walk.WalkAsync(broken.Token).ConfigureAwait(false);
            var (bytes, sha256, others) = await digesting.ConfigureAwait(false);
            // A list may follow what it names, so that a digest of another kind, wanted by nobody else, takes another reading.
            if (OtherHashes.Of(found.Checksums.Select(line => line.Digest)) is var kinds && kinds != HashKinds.None)
                found = await new PackageWalk(open, limits ?? InspectionLimits.Default, null, new WalkMeter(null), password, kinds)
                    .WalkAsync(broken.Token)
                    .ConfigureAwait(false);
            return new PackageContents(
                bytes,
                sha256,
                publishedDigest?.ToLowerInvariant(),
                found.Members,
                found.Requirements,
                found.Checksums,
                found.Findings,
                found.Form,
                others,
                found.IsLocked
            )
            {
                IsSingle = found.IsSingle,
            };
        }
        catch
        {
            await broken.CancelAsync().ConfigureAwait(false);
            await digesting.ContinueWith(_ => { }, TaskScheduler.Default).ConfigureAwait(false);
            throw;
        }
    }

    private static (long Bytes, DateTime ChangedAt) Look(string path) =>
        new FileInfo(path) is { Exists: true } file ? (file.Length, file.LastWriteTimeUtc) : (-1, default);

    private static FileStream Open(string path) =>
        new(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete, 1, FileOptions.SequentialScan);

    private static async Task<(long Bytes, string Sha256, OtherDigests? Others)> DigestAsync(
        Func<Stream> open,
        HashKinds kinds,
        WalkMeter meter,
        CancellationToken cancel
    )
    {
        await using var file = open();
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        using var others = kinds == HashKinds.None ? null : new OtherHashes(kinds);
        var buffer = new byte[BufferBytes];
        long bytes = 0;
        for (int count; (count = await file.ReadAsync(buffer, cancel).ConfigureAwait(false)) > 0; bytes += count)
        {
            hash.AppendData(buffer.AsSpan(0, count));
            others?.Append(buffer.AsSpan(0, count));
            meter.Add(count);
        }

        return (bytes, Convert.ToHexStringLower(hash.GetCurrentHash()), others?.Digests());
    }
}

/// <summary>Adds up the two readings of an inspection, each worth half of the file.</summary>
internal sealed class WalkMeter(IProgress<long>? progress)
{
    private const long TellEvery = 4 << 20;
    private long done;
    private long told;

    /// <summary>One of the readings went so many bytes further.</summary>
    public void Add(long bytes)
    {
        if (progress is null)
            return;
        var now = Interlocked.Add(ref done, bytes);
        var last = Interlocked.Read(ref told);
        if (now - last >= 2 * TellEvery && Interlocked.CompareExchange(ref told, now, last) == last)
            progress.Report(now / 2);
    }
}
