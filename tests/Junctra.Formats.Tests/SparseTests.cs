using System.Buffers.Binary;
using System.IO.Hashing;
using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Sparse;

namespace Junctra.Formats.Tests;

public class SparseTests
{
    private const uint BlockSize = 64;

    private sealed record Run(SparseChunkKind Kind, uint Blocks, uint Value);

    private static readonly Gen<Run[]> Runs = Gen.Select(
        Gen.OneOf(SparseChunkKind.Raw, SparseChunkKind.Fill, SparseChunkKind.DontCare, SparseChunkKind.Crc32),
        Gen.UInt[1, 40],
        Gen.UInt,
        (kind, blocks, value) => new Run(kind, kind == SparseChunkKind.Crc32 ? 0 : blocks, value)
    ).Array[1, 12];

    private static byte[] DataOf(Run run)
    {
        var data = new byte[run.Blocks * BlockSize];
        if (run.Kind == SparseChunkKind.Raw)
            new Random((int)run.Value).NextBytes(data);
        if (run.Kind == SparseChunkKind.Fill)
            for (var i = 0; i < data.Length; i += 4)
                BinaryPrimitives.WriteUInt32LittleEndian(data.AsSpan(i), run.Value);
        return data;
    }

    private static byte[] Expand(Run[] runs) => [.. runs.SelectMany(DataOf)];

    private static async Task<byte[]> WriteAsync(Run[] runs)
    {
        var output = new MemoryStream();
        var header = new SparseHeader(BlockSize, (uint)runs.Sum(r => r.Blocks), (uint)runs.Length, Crc32.HashToUInt32(Expand(runs)));
        var writer = await SparseWriter.BeginAsync(output, header);
        var crc = new Crc32();
        foreach (var run in runs)
        {
            switch (run.Kind)
            {
                case SparseChunkKind.Raw:
                    await writer.BeginRawAsync(run.Blocks);
                    await output.WriteAsync(DataOf(run));
                    break;
                case SparseChunkKind.Fill:
                    await writer.FillAsync(run.Blocks, run.Value);
                    break;
                case SparseChunkKind.DontCare:
                    await writer.DontCareAsync(run.Blocks);
                    break;
                default:
                    await writer.CrcAsync(crc.GetCurrentHashAsUInt32());
                    break;
            }

            crc.Append(DataOf(run));
        }

        writer.End();
        return output.ToArray();
    }

    private static async Task<byte[]> ReadAsync(byte[] image, byte[]? onto = null)
    {
        var reader = await SparseReader.OpenAsync(new MemoryStream(image));
        var target = onto ?? new byte[reader.Header.ExpandedBytes];
        await reader.ReadAllAsync(null, (chunk, part, offset) =>
        {
            if (chunk.Kind != SparseChunkKind.DontCare)
                part.CopyTo(target.AsMemory((int)offset));
            return ValueTask.CompletedTask;
        });
        return target;
    }

    [Fact]
    public Task What_is_written_reads_back_the_same() =>
        Runs.SampleAsync(async runs => Assert.Equal(Expand(runs), await ReadAsync(await WriteAsync(runs))));

    [Fact]
    public Task Pieces_keep_to_the_limit_and_together_write_the_whole_image() =>
        Gen.Select(Runs, Gen.Int[200, 3000])
            .SampleAsync(
                async (runs, most) =>
                {
                    var image = await WriteAsync(runs);
                    var source = new MemoryStream(image);
                    var pieces = await SparsePieces.PlanAsync(source, ImageFormat.Sparse, image.Length, most);
                    var expected = Enumerable.Repeat((byte)0xEE, Expand(runs).Length).ToArray();
                    await ReadAsync(image, expected);
                    var target = Enumerable.Repeat((byte)0xEE, expected.Length).ToArray();
                    foreach (var piece in pieces)
                    {
                        var sent = new MemoryStream();
                        await SparsePieces.WriteAsync(piece, source, sent);
                        Assert.Equal(piece.Bytes, sent.Length);
                        Assert.True(sent.Length <= Math.Max(most, piece.IsWhole ? image.Length : 0));
                        await ReadAsync(sent.ToArray(), target);
                    }

                    Assert.Equal(expected, target);
                }
            );

    [Theory]
    [InlineData(1, 8192)]
    [InlineData(4096, 8192)]
    [InlineData(100_000, 8192)]
    [InlineData(100_000, 99_999)]
    [InlineData(100_000, 100_000)]
    public async Task A_raw_image_is_cut_into_sparse_pieces_that_write_it(int bytes, int most)
    {
        var image = new byte[bytes];
        new Random(bytes).NextBytes(image);
        var source = new MemoryStream(image);
        var pieces = await SparsePieces.PlanAsync(source, ImageFormat.Raw, bytes, most);
        Assert.Equal(bytes <= most, pieces is [{ IsWhole: true }]);
        if (bytes <= most)
            return;
        var target = new byte[(bytes + 4095) / 4096 * 4096];
        foreach (var piece in pieces)
        {
            var sent = new MemoryStream();
            await SparsePieces.WriteAsync(piece, source, sent);
            Assert.InRange(sent.Length, 1, most);
            await ReadAsync(sent.ToArray(), target);
        }

        Assert.Equal(image, target[..bytes]);
        Assert.All(target[bytes..], rest => Assert.Equal(0, rest));
    }

    [Fact]
    public async Task A_phone_that_takes_too_little_is_named() =>
        await Assert.ThrowsAsync<InvalidDataException>(async () =>
            await SparsePieces.PlanAsync(new MemoryStream(new byte[9000]), ImageFormat.Raw, 9000, 4096)
        );

    [Fact]
    public Task A_cut_image_never_reads_as_whole() =>
        Gen.Select(Runs, Gen.Double[0, 0.999])
            .SampleAsync(
                async (runs, share) =>
                {
                    var image = await WriteAsync(runs);
                    var error = await Record.ExceptionAsync(() => ReadAsync(image[..(int)(image.Length * share)]));
                    Assert.True(error is EndOfStreamException or InvalidDataException, error?.ToString() ?? "no error");
                }
            );

    [Fact]
    public Task A_flipped_bit_in_the_data_is_noticed_by_the_checksum() =>
        Gen.Select(Runs.Where(r => r.Any(x => x.Kind == SparseChunkKind.Raw)), Gen.Int[0, 7])
            .SampleAsync(
                async (runs, bit) =>
                {
                    var image = await WriteAsync(runs);
                    var first = Array.FindIndex(runs, r => r.Kind == SparseChunkKind.Raw);
                    var at =
                        28
                        + runs.Take(first)
                            .Sum(r =>
                                12
                                + (
                                    r.Kind == SparseChunkKind.Raw ? (int)(r.Blocks * BlockSize)
                                    : r.Kind == SparseChunkKind.DontCare ? 0
                                    : 4
                                )
                            )
                        + 12;
                    image[at] ^= (byte)(1 << bit);
                    await Assert.ThrowsAsync<SparseFormatException>(() => ReadAsync(image));
                }
            );

    [Theory]
    [InlineData(4, 2, "version")]
    [InlineData(8, 4, "headers")]
    [InlineData(12, 3, "block size")]
    [InlineData(16, 99, "blocks")]
    [InlineData(23, 9, "chunks")]
    [InlineData(28, 0, "unknown kind")]
    [InlineData(32, 9, "claims")]
    public async Task A_header_that_lies_is_named(int offset, byte value, string word)
    {
        var image = await WriteAsync([new Run(SparseChunkKind.Raw, 2, 1)]);
        image[offset] = value;
        Assert.Contains(word, (await Assert.ThrowsAsync<SparseFormatException>(() => ReadAsync(image))).Message);
    }
}
