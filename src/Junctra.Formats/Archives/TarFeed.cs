using System.Buffers.Binary;
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
internal sealed class TarFeed(Stream inner) : ForwardStream
{
    private const int Block = 512;
    private const int MaxExtended = 1 << 20;
    private const int MaxName = 16 << 10;
    private const int MaxRuns = 50_000;
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

        var size = ReadSize(header.AsSpan(124, 12));
        switch ((char)header[156])
        {
            case 'x':
                if (size > MaxExtended)
                    throw TooLong();
                extended = Records(
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
        if (Padding(bytes) is > 0 and var padding)
            data.Enqueue((false, padding));
    }

    /// <summary>Old GNU form: four runs in the header, more in blocks after it.</summary>
    private async ValueTask GiveOldHolesAsync(byte[] header, long stored, CancellationToken cancel)
    {
        var runs = new List<(long Offset, long Bytes)>();
        ReadRuns(header.AsSpan(386, 4 * 24), runs);
        for (var more = header[482] != 0; more; )
        {
            var next = await BlocksAsync(Block, cancel).ConfigureAwait(false);
            ReadRuns(next.AsSpan(0, 21 * 24), runs);
            if (runs.Count > MaxRuns)
                throw new InvalidDataException("A file with holes in it has more of them than is believable.");
            more = next[504] != 0;
        }

        var size = ReadSize(header.AsSpan(483, 12));
        var name = longName ?? Encoding.UTF8.GetString(header.AsSpan(0, 100)).TrimEnd('\0');
        longName = null;
        GiveWithHoles(header, [("path", name)], runs, size, stored);
    }

    private async ValueTask GivePaxHolesAsync(
        byte[] header,
        List<(string Name, string Value)> records,
        long stored,
        CancellationToken cancel
    )
    {
        string? Of(string name) => records.LastOrDefault(record => record.Name == name).Value;
        var runs = new List<(long Offset, long Bytes)>();
        if (Of("GNU.sparse.major") is "1")
        {
            var before = RawPosition;
            await ReadMapAsync(runs, cancel).ConfigureAwait(false);
            stored -= RawPosition - before;
        }
        else if (Of("GNU.sparse.map") is { } map)
        {
            var numbers = map.Split(',').Select(Number).ToList();
            for (var i = 0; i + 1 < numbers.Count; i += 2)
                runs.Add((numbers[i], numbers[i + 1]));
        }
        else
        {
            var offsets = records.Where(record => record.Name == "GNU.sparse.offset").Select(record => Number(record.Value)).ToList();
            var sizes = records.Where(record => record.Name == "GNU.sparse.numbytes").Select(record => Number(record.Value)).ToList();
            if (offsets.Count != sizes.Count)
                throw new InvalidDataException("The map of a file with holes in it is damaged.");
            runs.AddRange(offsets.Zip(sizes));
        }

        var size = Number(Of("GNU.sparse.realsize") ?? Of("GNU.sparse.size") ?? "");
        var name = Of("GNU.sparse.name") ?? Of("path");
        var kept = records
            .Where(record => !record.Name.StartsWith("GNU.sparse.", StringComparison.Ordinal) && record.Name is not ("size" or "path"))
            .ToList();
        if (name is not null)
            kept.Add(("path", name));
        GiveWithHoles(header, kept, runs, size, stored);
    }

    /// <summary>Form 1.0: the map stands before the data, decimal numbers a line, up to the end of a block.</summary>
    private async ValueTask ReadMapAsync(List<(long Offset, long Bytes)> runs, CancellationToken cancel)
    {
        var numbers = new List<long>();
        var digits = new StringBuilder();
        while (true)
        {
            foreach (var value in await BlocksAsync(Block, cancel).ConfigureAwait(false))
            {
                if (numbers.Count > 0 && numbers.Count == 1 + 2 * numbers[0])
                    break;
                if (value != '\n')
                {
                    if (digits.Length > 19)
                        throw new InvalidDataException("The map of a file with holes in it is damaged.");
                    digits.Append((char)value);
                    continue;
                }

                numbers.Add(Number(digits.ToString()));
                digits.Clear();
                if (numbers[0] > MaxRuns)
                    throw new InvalidDataException("A file with holes in it has more of them than is believable.");
            }

            if (numbers.Count > 0 && numbers.Count == 1 + 2 * numbers[0])
                break;
        }

        for (var i = 1; i + 1 < numbers.Count; i += 2)
            runs.Add((numbers[i], numbers[i + 1]));
    }

    private void GiveWithHoles(
        byte[] header,
        List<(string Name, string Value)> records,
        List<(long Offset, long Bytes)> runs,
        long size,
        long stored
    )
    {
        long at = 0,
            held = 0;
        foreach (var (offset, bytes) in runs)
        {
            if (offset < at || bytes < 0 || offset > long.MaxValue - bytes || offset + bytes > size)
                throw new InvalidDataException("The map of a file with holes in it is damaged.");
            (at, held) = (offset + bytes, held + bytes);
        }

        if (held != stored || size < 0)
            throw new InvalidDataException("The map of a file with holes in it does not agree with what is there.");
        if (size > HolesFreely + stored * MaxHoles)
            throw new TrapException("The file is a trap: a file in it is almost nothing but holes.");
        HasHoles = true;
        records.Add(("size", size.ToString(CultureInfo.InvariantCulture)));
        extendedHeader ??= ExtendedHeader();
        GiveRecords(records);
        var plain = header.ToArray();
        plain[156] = (byte)'0';
        "ustar\0"u8.CopyTo(plain.AsSpan(257));
        "00"u8.CopyTo(plain.AsSpan(263));
        plain.AsSpan(345).Clear();
        SetSize(plain, 0);
        Give(plain);
        at = 0;
        foreach (var (offset, bytes) in runs)
        {
            if (offset > at)
                data.Enqueue((true, offset - at));
            if (bytes > 0)
                data.Enqueue((false, bytes));
            at = offset + bytes;
        }

        if (size > at)
            data.Enqueue((true, size - at));
        if (Padding(size) is > 0 and var padding)
            data.Enqueue((true, padding));
        discard = Padding(stored);
    }

    private static byte[] ExtendedHeader()
    {
        var header = new byte[Block];
        "././@PaxHeader"u8.CopyTo(header);
        "0000644\0"u8.CopyTo(header.AsSpan(100));
        "0000000\0"u8.CopyTo(header.AsSpan(108));
        "0000000\0"u8.CopyTo(header.AsSpan(116));
        "00000000000\0"u8.CopyTo(header.AsSpan(136));
        header[156] = (byte)'x';
        "ustar\0"u8.CopyTo(header.AsSpan(257));
        "00"u8.CopyTo(header.AsSpan(263));
        return header;
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

        var header = (extendedHeader ?? ExtendedHeader()).ToArray();
        extendedHeader = null;
        SetSize(header, text.Length);
        Give(header);
        Give(text.ToArray());
        Give(new byte[Padding(text.Length)]);
    }

    private static void SetSize(byte[] header, long size)
    {
        Encoding.ASCII.GetBytes(Convert.ToString(size, 8).PadLeft(11, '0') + "\0").CopyTo(header, 124);
        header.AsSpan(148, 8).Fill((byte)' ');
        var sum = 0;
        foreach (var value in header)
            sum += value;
        Encoding.ASCII.GetBytes(Convert.ToString(sum, 8).PadLeft(6, '0') + "\0 ").CopyTo(header, 148);
    }

    /// <summary>Records of the form <c>length name=value</c>; lengths are in bytes, and a value may hold line ends.</summary>
    private static List<(string Name, string Value)> Records(string text)
    {
        var records = new List<(string, string)>();
        var bytes = Encoding.UTF8.GetBytes(text);
        for (var at = 0; at < bytes.Length; )
        {
            var blank = bytes.AsSpan(at).IndexOf((byte)' ');
            if (
                blank <= 0
                || blank > 10
                || !int.TryParse(bytes.AsSpan(at, blank), NumberStyles.None, CultureInfo.InvariantCulture, out var length)
                || length <= blank + 1
                || length > bytes.Length - at
            )
                throw new InvalidDataException("An extended header in it is damaged.");
            var record = Encoding.UTF8.GetString(bytes.AsSpan(at + blank + 1, length - blank - 1)).TrimEnd('\n');
            var equals = record.IndexOf('=', StringComparison.Ordinal);
            if (equals <= 0)
                throw new InvalidDataException("An extended header in it is damaged.");
            records.Add((record[..equals], record[(equals + 1)..]));
            if (records.Count > 2 * MaxRuns)
                throw new InvalidDataException("An extended header in it is damaged.");
            at += length;
        }

        return records;
    }

    private static void ReadRuns(ReadOnlySpan<byte> entries, List<(long Offset, long Bytes)> runs)
    {
        for (; entries.Length >= 24; entries = entries[24..])
        {
            if (entries[0] == 0)
                continue;
            runs.Add((ReadSize(entries[..12]), ReadSize(entries.Slice(12, 12))));
        }
    }

    private static long Number(string text) =>
        long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            ? number
            : throw new InvalidDataException("The map of a file with holes in it is damaged.");

    private static long Padding(long bytes) => (Block - bytes % Block) % Block;

    /// <summary>Octal digits, or a binary number where the first bit is set.</summary>
    private static long ReadSize(ReadOnlySpan<byte> field)
    {
        if ((field[0] & 0x80) != 0)
            return BinaryPrimitives.ReadInt64BigEndian(field[4..]);
        long size = 0;
        foreach (var digit in field)
            if (digit is >= (byte)'0' and <= (byte)'7')
                size = size * 8 + digit - '0';
        return size;
    }
}
