using System.Formats.Tar;
using System.IO.Compression;
using System.Text;
using K4os.Compression.LZ4.Streams;

namespace Junctra.Bench;

/// <summary>Inspecting a package of 1 GiB against a shell loop that does only the digests of the same bytes.</summary>
internal static class InspectBench
{
    private const int Rounds = 3;
    private const long PeakBudget = 150_000_000;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work)
    {
        var package = Path.Combine(work, "inspect.tar");
        if (!File.Exists(package))
        {
            Console.WriteLine("Making a package of 1 GiB ...");
            await MakeAsync(package + ".partial", work);
            File.Move(package + ".partial", package);
        }

        var cli = Path.Combine(root, "src/Junctra.Cli/bin/Release/net10.0/Junctra.Cli.dll");
        var (ours, theirs) = (new List<double>(), new List<double>());
        long peak = 0;
        for (var round = 0; round <= Rounds; round++)
        {
            Console.WriteLine($"Inspect, round {round} of {Rounds} ...");
            var inspected = await Programs.MeasureAsync(
                "dotnet",
                cli,
                "inspect",
                package,
                "--json",
                "--catalogue",
                Path.Combine(root, "catalogue")
            );
            var digested = await Programs.MeasureAsync("bash", Path.Combine(root, "bench/plain-digests.sh"), package);
            foreach (var digest in digested.Output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => line[..64]))
                if (!inspected.Output.Contains(digest, StringComparison.Ordinal))
                    throw new InvalidOperationException($"The inspection lacks the digest {digest}: the two did not do the same work.");
            peak = Math.Max(peak, inspected.PeakBytes);
            // The first round only warms the file.
            if (round == 0)
                continue;
            ours.Add(inspected.Seconds);
            theirs.Add(digested.Seconds);
        }

        var ratio = BenchRow.Median(ours) / BenchRow.Median(theirs);
        return
        [
            new BenchRow(
                "inspect a package of 1 GiB, time",
                "the digests alone, in a shell loop",
                BenchRow.Seconds(BenchRow.Median(ours)),
                BenchRow.Seconds(BenchRow.Median(theirs)),
                BenchRow.Ratio(ratio),
                "at most 0.80",
                ratio <= 0.8
            ),
            new BenchRow(
                "inspect a package of 1 GiB, peak memory",
                "",
                $"{peak / 1e6:0} MB",
                "",
                $"{peak / 1e6:0} MB",
                "at most 150 MB",
                peak <= PeakBudget
            ),
        ];
    }

    /// <summary>Raw, gzip and LZ4 images of content that compresses about as software does, 1 GiB together.</summary>
    private static async Task MakeAsync(string path, string work)
    {
        await using var output = File.Create(path);
        await using var tar = new TarWriter(output, TarEntryFormat.Pax);
        await AddAsync(
            tar,
            "requirements.txt",
            new MemoryStream(Encoding.UTF8.GetBytes("require board=HX204\nrequire version-bootloader=3\nbuild=HX204/15.26w10-7.r3\n"))
        );
        await AddImageAsync(tar, work, "radio.img", 280, stream => stream);
        await AddImageAsync(tar, work, "boot.img.gz", 260, stream => new GZipStream(stream, CompressionLevel.Fastest));
        await AddImageAsync(tar, work, "system.img.lz4", 900, stream => LZ4Stream.Encode(stream));
        await AddImageAsync(tar, work, "recovery.img", 170, stream => stream);
    }

    private static async Task AddImageAsync(TarWriter tar, string work, string name, int megabytes, Func<Stream, Stream> wrap)
    {
        var part = Path.Combine(work, "part");
        await using (var file = File.Create(part))
        await using (var wrapped = wrap(file))
        {
            var random = new Random(name.Length);
            var block = new byte[1 << 20];
            for (var i = 0; i < megabytes; i++)
            {
                // Half noise, half repetition.
                random.NextBytes(block.AsSpan(0, block.Length / 2));
                for (var at = block.Length / 2; at < block.Length; at += 64)
                    random.NextBytes(block.AsSpan(at, 4));
                await wrapped.WriteAsync(block);
            }
        }

        await using (var file = File.OpenRead(part))
            await AddAsync(tar, name, file);
        File.Delete(part);
    }

    private static Task AddAsync(TarWriter tar, string name, Stream data) =>
        tar.WriteEntryAsync(new PaxTarEntry(TarEntryType.RegularFile, name) { DataStream = data });
}
