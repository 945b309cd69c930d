using System.Formats.Tar;

namespace Junctra.StandIns;

// A bundle as large as one likes, for measuring.
internal static partial class DemoBundles
{
    /// <summary>
    /// Writes a single bundle of the Tern 4 whose system image is as large as is said, raw, and never as a whole in memory.
    /// </summary>
    /// <param name="to">Where to.</param>
    /// <param name="mebibytes">Size of the system image.</param>
    public static async Task WriteLargeAsync(Stream to, int mebibytes)
    {
        var bundle = new Bundle("TN41E", "Merak Two", "TN41E.2.2610.WHM1");
        await using var tar = new TarWriter(to, TarEntryFormat.Ustar, leaveOpen: true);
        (string Name, Stream Bytes)[] members =
        [
            ("part.txt", new MemoryStream(Says(bundle, bundle.Radio is { } radio ? [$"version-baseband={radio}"] : []).Bytes)),
            ("bootchain.img", new MemoryStream(Stamped(bundle, 1 << 20, "bootchain"))),
            ("radio.img", new MemoryStream(Stamped(bundle, 4 << 20, "radio"))),
            ("boot.img", new MemoryStream(Boot(bundle, "boot", bundle.Os))),
            ("recovery.img", new MemoryStream(Boot(bundle, "recovery", bundle.Os))),
            ("system.img", new RepeatedStream(Stamped(bundle, 1 << 20, "system"), mebibytes)),
        ];
        foreach (var (name, bytes) in members)
        {
            await using var opened = bytes;
            await tar.WriteEntryAsync(new UstarTarEntry(TarEntryType.RegularFile, $"{bundle.Build}/{name}") { DataStream = opened });
        }
    }

    /// <summary>A block of a mebibyte, again and again; each but the first says which it is, so that no two are the same.</summary>
    private sealed class RepeatedStream(byte[] block, int times) : Stream
    {
        private readonly byte[] now = (byte[])block.Clone();

        public override bool CanRead => true;

        public override bool CanSeek => true;

        public override bool CanWrite => false;

        public override long Length { get; } = (long)block.Length * times;

        public override long Position { get; set; }

        public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

        public override int Read(Span<byte> buffer)
        {
            if (Position >= Length)
                return 0;
            var (index, within) = ((int)(Position / block.Length), (int)(Position % block.Length));
            if (index > 0)
                BitConverter.TryWriteBytes(now.AsSpan(0, sizeof(int)), index);
            var taken = Math.Min(buffer.Length, block.Length - within);
            (index == 0 ? block : now).AsSpan(within, taken).CopyTo(buffer);
            Position += taken;
            return taken;
        }

        public override long Seek(long offset, SeekOrigin origin) =>
            Position = origin switch
            {
                SeekOrigin.Begin => offset,
                SeekOrigin.Current => Position + offset,
                _ => Length + offset,
            };

        public override void Flush() { }

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}
