using System.Diagnostics;
using System.IO.Compression;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;

namespace Junctra.Formats.Inspection;

/// <summary>What a run of mutations came to.</summary>
/// <param name="Files">Files that were looked into.</param>
/// <param name="Refused">Files in which something was found that forbids writing them.</param>
/// <param name="Escapes">Exceptions that got out, with the number of the mutation.</param>
/// <param name="Slow">Files that took longer than allowed.</param>
/// <param name="Wrong">Files that were called whole although an image in them is another than it was.</param>
/// <param name="PeakBytes">Most memory that this program had meanwhile.</param>
public sealed record MutationReport(
    int Files,
    int Refused,
    IReadOnlyList<string> Escapes,
    IReadOnlyList<string> Slow,
    IReadOnlyList<string> Wrong,
    long PeakBytes
)
{
    /// <summary>Most memory that a run may take.</summary>
    public const long MaxBytes = 300_000_000;

    /// <summary>Whether nothing of that happened.</summary>
    public bool IsClean => Escapes.Count == 0 && Slow.Count == 0 && Wrong.Count == 0 && PeakBytes <= MaxBytes;
}

/// <summary>
/// Looks into files that were spoilt on purpose: bits turned over, bytes set, parts cut out, doubled, exchanged, zeroed, numbers made huge,
/// a good file's bytes packed anew. The same seed gives the same files. Whatever bytes come, an inspection ends in findings, in time, in
/// bounded memory, and calls nothing whole that is not.
/// </summary>
public static class Mutations
{
    /// <summary>Longest that one file may take.</summary>
    public static readonly TimeSpan MaxTime = TimeSpan.FromSeconds(5);

    /// <summary>Runs so many mutations of some good files.</summary>
    /// <param name="seeds">Good files, each with its name.</param>
    /// <param name="count">How many.</param>
    /// <param name="seed">Gives the same run again.</param>
    /// <param name="catalogue">Gives what was found its meaning.</param>
    /// <param name="progress">Told how many are done.</param>
    /// <param name="cancel">Cancels.</param>
    public static async Task<MutationReport> RunAsync(
        IReadOnlyList<(string Name, byte[] Bytes)> seeds,
        int count,
        int seed,
        ModelCatalogue catalogue,
        IProgress<int>? progress = null,
        CancellationToken cancel = default
    )
    {
        var originals = new Dictionary<string, HashSet<(string Partition, string Digest)>>(StringComparer.Ordinal);
        foreach (var (name, bytes) in seeds)
            originals[name] = ImagesOf(await ReadAsync(name, bytes, catalogue, cancel).ConfigureAwait(false));
        var (escapes, slow, wrong, refused) = (new List<string>(), new List<string>(), new List<string>(), 0);
        long peak = 0;
        for (var i = 0; i < count; i++)
        {
            cancel.ThrowIfCancellationRequested();
            var random = new Random(HashCode.Combine(seed, i) is var hash && hash == int.MinValue ? 0 : unchecked(seed * 1_000_003 + i));
            var (name, good) = seeds[i % seeds.Count];
            var bytes = Mutate(good, random);
            var began = Stopwatch.GetTimestamp();
            try
            {
                using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
                patience.CancelAfter(MaxTime * 4);
                var package = await ReadAsync(name, bytes, catalogue, patience.Token).ConfigureAwait(false);
                if (package.IsDamaged || package.Contents.IsLocked)
                    refused++;
                else if (
                    package.Whole().State <= Wholeness.Listed
                    && ImagesOf(package).FirstOrDefault(image => !originals[name].Contains(image)) is { Partition: not null } other
                )
                    wrong.Add($"{name}, mutation {i}: {other.Partition}");
            }
            catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
            {
                slow.Add($"{name}, mutation {i}: did not end");
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                escapes.Add($"{name}, mutation {i}: {error.GetType().Name}: {error.Message}");
            }

            if (Stopwatch.GetElapsedTime(began) is var took && took > MaxTime)
                slow.Add($"{name}, mutation {i}: {took.TotalSeconds:0.0} s");
            if (i % 500 == 0)
            {
                peak = Math.Max(peak, Environment.WorkingSet);
                progress?.Report(i);
            }
        }

        return new MutationReport(count, refused, escapes, slow, wrong, Math.Max(peak, Environment.WorkingSet));
    }

    private static async Task<Package> ReadAsync(string name, byte[] bytes, ModelCatalogue catalogue, CancellationToken cancel) =>
        PackageReader.Read(
            name,
            await PackageInspector.InspectAsync(() => new MemoryStream(bytes, writable: false), cancel: cancel).ConfigureAwait(false),
            catalogue
        );

    private static HashSet<(string Partition, string Digest)> ImagesOf(Package package) =>
        [.. package.Images.Select(image => (image.Partition, image.Body.Sha256))];

    private static byte[] Mutate(byte[] good, Random random)
    {
        // A file that is packed as a whole is spoilt inside and packed again, or nothing but its frame would ever be tried.
        if (good is [0x1F, 0x8B, ..] && random.Next(2) == 0)
            return Pack(Mutate(Unpack(good), random));
        var bytes = good.ToArray();
        for (var times = 1 + (random.Next(4) == 0 ? random.Next(8) : 0); times > 0; times--)
            bytes = MutateOnce(bytes, random);
        return bytes;
    }

    private static byte[] MutateOnce(byte[] bytes, Random random)
    {
        if (bytes.Length < 1024)
            return [.. bytes, (byte)random.Next(256)];
        // Beginnings and ends decide most; the middle is mostly content.
        var at = random.Next(5) switch
        {
            0 => random.Next(Math.Min(bytes.Length, 1024)),
            1 => bytes.Length - 1 - random.Next(Math.Min(bytes.Length, 1024)),
            2 => random.Next(bytes.Length) / 512 * 512 + random.Next(64),
            _ => random.Next(bytes.Length),
        };
        at = Math.Min(at, bytes.Length - 1);
        var length = Math.Min(bytes.Length - at, 1 << random.Next(13));
        switch (random.Next(11))
        {
            case 0 or 1:
                bytes[at] ^= (byte)(1 << random.Next(8));
                return bytes;
            case 2:
                bytes[at] = (byte)random.Next(256);
                return bytes;
            case 3:
                bytes.AsSpan(at, length).Clear();
                return bytes;
            case 4:
                return [.. bytes[..at], .. bytes[(at + length)..]];
            case 5:
                return [.. bytes[..(at + length)], .. bytes[at..]];
            case 6:
                return bytes[..Math.Max(1, at)];
            case 7:
                var (a, b) = (random.Next(bytes.Length / 512) * 512, random.Next(bytes.Length / 512) * 512);
                for (var i = 0; i < 512; i++)
                    (bytes[a + i], bytes[b + i]) = (bytes[b + i], bytes[a + i]);
                return bytes;
            case 8:
                random.NextBytes(bytes.AsSpan(at, Math.Min(length, 64)));
                return bytes;
            case 9:
                bytes.AsSpan(at, Math.Min(length, random.Next(2) == 0 ? 4 : 8)).Fill(random.Next(2) == 0 ? (byte)0xFF : (byte)0x7F);
                return bytes;
            default:
                var extra = new byte[random.Next(2048)];
                if (random.Next(2) == 0)
                    random.NextBytes(extra);
                return [.. bytes, .. extra];
        }
    }

    private static byte[] Unpack(byte[] packed)
    {
        using var gzip = new GZipStream(new MemoryStream(packed), CompressionMode.Decompress);
        var bytes = new MemoryStream();
        gzip.CopyTo(bytes);
        return bytes.ToArray();
    }

    private static byte[] Pack(byte[] bytes)
    {
        var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            gzip.Write(bytes);
        return packed.ToArray();
    }
}
