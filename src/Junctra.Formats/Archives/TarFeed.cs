using System.Globalization;
using System.Text;

namespace Junctra.Formats.Archives;

/// <summary>
/// Stands between a TAR and its reader. The reader takes an extended header into memory whole, however large it says it is, so that a few
/// compressed kilobytes could ask for gigabytes: a name is never that long, and a header that is ends the walk before it is read. And the
/// reader knows nothing of files with holes, whose map and fragments it would hand out as if they were the file: they are given to it as
/// plain files here, their holes as zeros.
/// </summary>
/// <remarks>
/// Follows the blocks of POSIX.1-2017 <c>pax</c>: a header of 512 bytes, its data, padding to 512. Holes in the form of old GNU TAR (kind
/// <c>S</c>) and in its three pax forms 0.0, 0.1 and 1.0 (GNU tar manual, appendix "Storing Sparse Files").
/// </remarks>
internal sealed partial class TarFeed(Stream inner) : ForwardStream
{
    private const int Block = TarHeader.Block;
    private const int MaxExtended = 1 << 20;
    private const int MaxName = 16 << 10;
    private const long HolesFreely = 512L << 20;
    private const int MaxHoles = 100;

    // What goes out before anything else is read, what then comes of the data of the entry at hand, and what is thrown away after it.
    private readonly MemoryStream pending = new();
    private readonly Queue<(bool IsHole, long Bytes)> data = new();
    private (bool IsHole, long Bytes) run;
    private long discard;
    private List<(string Name, string Value)>? extended;
    private byte[]? extendedHeader;
    private string? longName;

    /// <summary>Where the reading is in the archive as it lies there.</summary>
    public long RawPosition { get; private set; }

    /// <summary>Whether the entry that was begun last has holes, so that its bytes do not lie in the archive as they are.</summary>
    public bool HasHoles { get; private set; }

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        while (true)
        {
            if (pending.Length > pending.Position)
                return pending.Read(buffer.Span);
            if (run.Bytes == 0)
                data.TryDequeue(out run);
            if (run.Bytes > 0)
            {
                var count = (int)Math.Min(buffer.Length, run.Bytes);
                if (run.IsHole)
                    buffer.Span[..count].Clear();
                else if ((count = await RawAsync(buffer[..count], cancel).ConfigureAwait(false)) == 0)
                    return 0;
                run.Bytes -= count;
                return count;
            }

            for (var waste = new byte[Block]; discard > 0; )
            {
                var count = await RawAsync(waste.AsMemory(0, (int)Math.Min(discard, Block)), cancel).ConfigureAwait(false);
                if (count == 0)
                    return 0;
                discard -= count;
            }

            if (!await NextHeaderAsync(cancel).ConfigureAwait(false))
                return 0;
        }
    }

    private async ValueTask<int> RawAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        var count = await inner.ReadAsync(buffer, cancel).ConfigureAwait(false);
        RawPosition += count;
        return count;
    }

    private async ValueTask<byte[]> BlocksAsync(long bytes, CancellationToken cancel)
    {
        var read = new byte[(bytes + Block - 1) / Block * Block];
        for (var done = 0; done < read.Length; )
        {
            var count = await RawAsync(read.AsMemory(done), cancel).ConfigureAwait(false);
            if (count == 0)
                throw new EndOfStreamException();
            done += count;
        }

        return read;
    }

    private void Give(ReadOnlySpan<byte> bytes)
    {
        if (pending.Position == pending.Length)
        {
            pending.SetLength(0);
            pending.Position = 0;
        }

        var at = pending.Position;
        pending.Position = pending.Length;
        pending.Write(bytes);
        pending.Position = at;
    }

    /// <returns>Whether there was one.</returns>
    private async ValueTask<bool> NextHeaderAsync(CancellationToken cancel)
    {
        var header = new byte[Block];
        var read = 0;
        for (int count; read < Block && (count = await RawAsync(header.AsMemory(read), cancel).ConfigureAwait(false)) > 0; )
            read += count;
        if (read < Block || header.AsSpan().IndexOfAnyExcept((byte)0) < 0)
        {
            // The end, or a file that is cut off: the reader says which.
            Give(header.AsSpan(0, read));
            return read > 0;
        }

        var size = TarHeader.ReadSize(header.AsSpan(124, 12));
        switch ((char)header[156])
        {
            case 'x':
                if (size > MaxExtended)
                    throw TooLong();
                extended = TarHeader.Records(
                    Encoding.UTF8.GetString(await BlocksAsync(size, cancel).ConfigureAwait(false), 0, (int)Math.Max(0, size))
                );
                extendedHeader = header;
                return true;
            case 'g' or 'L' or 'K':
                if (size > MaxName)
                    throw TooLong();
                var text = await BlocksAsync(size, cancel).ConfigureAwait(false);
                if (header[156] == 'L')
                    longName = Encoding.UTF8.GetString(text).TrimEnd('\0');
                Give(header);
                Give(text);
                return true;
            case 'S':
                await GiveOldHolesAsync(header, size, cancel).ConfigureAwait(false);
                return true;
            default:
                await GiveEntryAsync(header, size, cancel).ConfigureAwait(false);
                return true;
        }
    }

    private static TrapException TooLong() => new("The file is a trap: a header in it is longer than any name or attribute.");

    private async ValueTask GiveEntryAsync(byte[] header, long size, CancellationToken cancel)
    {
        var records = extended ?? [];
        extended = null;
        longName = null;
        HasHoles = false;
        if (
            records.LastOrDefault(record => record.Name == "size").Value is { } told
            && long.TryParse(told, NumberStyles.None, CultureInfo.InvariantCulture, out var stored)
        )
            size = stored;
        if (records.Any(record => record.Name.StartsWith("GNU.sparse.", StringComparison.Ordinal)))
        {
            await GivePaxHolesAsync(header, records, size, cancel).ConfigureAwait(false);
            return;
        }

        if (records.Count > 0)
            GiveRecords(records);
        // Links, devices and folders have no data, whatever their header says.
        if ((char)header[156] is '1' or '2' or '3' or '4' or '5' or '6')
            size = 0;
        Give(header);
        var bytes = Math.Max(0, size);
        if (bytes > 0)
            data.Enqueue((false, bytes));
        if (TarHeader.Padding(bytes) is > 0 and var padding)
            data.Enqueue((false, padding));
    }

    /// <summary>
    /// An extended header with its records; a name that comes twice would be an error of the reader's, and the last one counts.
    /// </summary>
    private void GiveRecords(List<(string Name, string Value)> records)
    {
        var text = new MemoryStream();
        foreach (var (name, value) in records.GroupBy(record => record.Name).Select(group => group.Last()))
        {
            var rest = Encoding.UTF8.GetBytes($" {name}={value}\n");
            var length = rest.Length + 1;
            while (length != rest.Length + length.ToString(CultureInfo.InvariantCulture).Length)
                length = rest.Length + length.ToString(CultureInfo.InvariantCulture).Length;
            text.Write(Encoding.ASCII.GetBytes(length.ToString(CultureInfo.InvariantCulture)));
            text.Write(rest);
        }

        var header = (extendedHeader ?? TarHeader.ExtendedHeader()).ToArray();
        extendedHeader = null;
        TarHeader.SetSize(header, text.Length);
        Give(header);
        Give(text.ToArray());
        Give(new byte[TarHeader.Padding(text.Length)]);
    }
}
