using System.Formats.Tar;
using System.IO.Compression;
using System.Text;
using Junctra.Formats.Sparse;
using K4os.Compression.LZ4.Streams;

namespace Junctra.Bench;

/// <summary>
/// Inspecting a four-part bundle of 1 GiB, a ZIP of TARs with LZ4 and sparse images, against a shell loop that does only the digests; and
/// the memory that one of 8 GiB takes.
/// </summary>
internal static class BundleBench
{
    private const int Rounds = 3;
    private const long PeakBudget = 150_000_000;
    private const int Block = 4096;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work)
    {
        var (small, large) = (Path.Combine(work, "bundle.zip"), Path.Combine(work, "bundle-8.zip"));
        Console.WriteLine("Making bundles of 1 and 8 GiB ...");
        if (!File.Exists(small))
            await MakeAsync(small, work, 900, packed: true);
        if (!File.Exists(large))
            await MakeAsync(large, work, 8000, packed: false);
        var cli = Path.Combine(root, "src/Junctra.Cli/bin/Release/net10.0/Junctra.Cli.dll");
        var (ours, theirs) = (new List<double>(), new List<double>());
        long peak = 0;
        for (var round = 0; round <= Rounds; round++)
        {
            Console.WriteLine($"Inspect a bundle, round {round} of {Rounds} ...");
            var inspected = await Programs.MeasureAsync(
                "dotnet",
                cli,
                "inspect",
                small,
                "--json",
                "--catalogue",
                Path.Combine(root, "catalogue")
            );
            var digested = await Programs.MeasureAsync("bash", Path.Combine(root, "bench/plain-bundle.sh"), small);
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

        Console.WriteLine("Inspect a bundle of 8 GiB ...");
        var largePeak = (
            await Programs.MeasureAsync("dotnet", cli, "inspect", large, "--json", "--catalogue", Path.Combine(root, "catalogue"))
        ).PeakBytes;
        var ratio = BenchRow.Median(ours) / BenchRow.Median(theirs);
        return
        [
            new BenchRow(
                "inspect a four-part bundle of 1 GiB, time",
                "the digests alone, in a shell loop",
                BenchRow.Seconds(BenchRow.Median(ours)),
                BenchRow.Seconds(BenchRow.Median(theirs)),
                BenchRow.Ratio(ratio),
                "at most 0.80",
                ratio <= 0.8
            ),
            new BenchRow(
                "inspect a four-part bundle of 1 GiB, peak memory",
                "",
                $"{peak / 1e6:0} MB",
                "",
                $"{peak / 1e6:0} MB",
                "at most 150 MB",
                peak <= PeakBudget
            ),
            new BenchRow(
                "inspect a four-part bundle of 8 GiB, peak memory",
                "",
                $"{largePeak / 1e6:0} MB",
                "",
                $"{largePeak / 1e6:0} MB",
                "at most 150 MB",
                largePeak <= PeakBudget
            ),
        ];
    }

    private static async Task MakeAsync(string path, string work, int systemMegabytes, bool packed)
    {
        await using (var output = File.Create(path + ".partial"))
        await using (var zip = new ZipArchive(output, ZipArchiveMode.Create))
        {
            await PartAsync(zip, "bootchain.tar", work, ("bootchain.img", 4, 0), ("boot.img", 60, 0));
            await PartAsync(zip, "system.tar", work, packed ? ("system.img.lz4", systemMegabytes, 2) : ("system.img", systemMegabytes, 1));
            await PartAsync(zip, "radio.tar", work, ("radio.img.lz4", 300, 3));
            await PartAsync(zip, "keep.tar", work, ("regionpack.img", 24, 0));
            await PartAsync(zip, "clean.tar", work, ("regionpack.img", 24, 0), ("userdata.img", 2, 0));
        }

        File.Move(path + ".partial", path, overwrite: true);
    }

    /// <summary>A part: images raw (0), sparse (1), sparse in LZ4 (2) or raw in LZ4 (3).</summary>
    private static async Task PartAsync(ZipArchive zip, string name, string work, params (string Name, int Megabytes, int Form)[] images)
    {
        await using var entry = await zip.CreateEntry(name, CompressionLevel.NoCompression).OpenAsync();
        await using var tar = new TarWriter(entry, TarEntryFormat.Pax);
        await AddAsync(tar, "part.txt", new MemoryStream(Encoding.UTF8.GetBytes("require board=TN63E\nbuild=TN63E.5.2608.WHM2\n")));
        foreach (var image in images)
        {
            var part = Path.Combine(work, "part");
            await using (var file = File.Create(part))
            {
                if (image.Form >= 2)
                    await using (var wrapped = LZ4Stream.Encode(file, leaveOpen: true))
                        await FillAsync(wrapped, image.Megabytes, image.Form == 2);
                else
                    await FillAsync(file, image.Megabytes, image.Form == 1);
            }

            await using (var file = File.OpenRead(part))
                await AddAsync(tar, image.Name, file);
            File.Delete(part);
        }
    }

    private static async Task FillAsync(Stream to, int megabytes, bool sparse)
    {
        var random = new Random(megabytes);
        var block = new byte[1 << 20];
        const int chunkMegabytes = 1000,
            blocksPerMegabyte = (1 << 20) / Block;
        var blocks = (uint)(megabytes * blocksPerMegabyte);
        // A chunk's size stands in 32 bits.
        var chunks = (megabytes + chunkMegabytes - 1) / chunkMegabytes;
        var writer = sparse ? await SparseWriter.BeginAsync(to, new SparseHeader(Block, blocks * 3 / 2, (uint)chunks + 2, 0)) : null;
        for (var i = 0; i < megabytes; i++)
        {
            if (writer is not null && i % chunkMegabytes == 0)
                await writer.BeginRawAsync((uint)(Math.Min(chunkMegabytes, megabytes - i) * blocksPerMegabyte));
            // Half noise, half repetition.
            random.NextBytes(block.AsSpan(0, block.Length / 2));
            for (var at = block.Length / 2; at < block.Length; at += 64)
                random.NextBytes(block.AsSpan(at, 4));
            await to.WriteAsync(block);
        }

        if (writer is null)
            return;
        await writer.FillAsync(blocks / 4, 0x5A5A5A5A);
        await writer.DontCareAsync(blocks * 3 / 2 - blocks - blocks / 4);
        writer.End();
    }

    private static Task AddAsync(TarWriter tar, string name, Stream data) =>
        tar.WriteEntryAsync(new PaxTarEntry(TarEntryType.RegularFile, name) { DataStream = data });
}
