using System.Globalization;
using System.Text;

namespace Junctra.Formats.Archives;

/// <summary>Files with holes in them: their maps, in four forms, and the plain files that are handed out instead.</summary>
internal sealed partial class TarFeed
{
    /// <summary>Old GNU form: four runs in the header, more in blocks after it.</summary>
    private async ValueTask GiveOldHolesAsync(byte[] header, long stored, CancellationToken cancel)
    {
        var runs = new List<(long Offset, long Bytes)>();
        TarHeader.ReadRuns(header.AsSpan(386, 4 * 24), runs);
        for (var more = header[482] != 0; more; )
        {
            var next = await BlocksAsync(Block, cancel).ConfigureAwait(false);
            TarHeader.ReadRuns(next.AsSpan(0, 21 * 24), runs);
            if (runs.Count > TarHeader.MaxRuns)
                throw new InvalidDataException("A file with holes in it has more of them than is believable.");
            more = next[504] != 0;
        }

        var size = TarHeader.ReadSize(header.AsSpan(483, 12));
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
            var numbers = map.Split(',').Select(TarHeader.Number).ToList();
            for (var i = 0; i + 1 < numbers.Count; i += 2)
                runs.Add((numbers[i], numbers[i + 1]));
        }
        else
        {
            var offsets = records
                .Where(record => record.Name == "GNU.sparse.offset")
                .Select(record => TarHeader.Number(record.Value))
                .ToList();
            var sizes = records
                .Where(record => record.Name == "GNU.sparse.numbytes")
                .Select(record => TarHeader.Number(record.Value))
                .ToList();
            if (offsets.Count != sizes.Count)
                throw new InvalidDataException("The map of a file with holes in it is damaged.");
            runs.AddRange(offsets.Zip(sizes));
        }

        var size = TarHeader.Number(Of("GNU.sparse.realsize") ?? Of("GNU.sparse.size") ?? "");
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

                numbers.Add(TarHeader.Number(digits.ToString()));
                digits.Clear();
                if (numbers[0] > TarHeader.MaxRuns)
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
        extendedHeader ??= TarHeader.ExtendedHeader();
        GiveRecords(records);
        var plain = header.ToArray();
        plain[156] = (byte)'0';
        "ustar\0"u8.CopyTo(plain.AsSpan(257));
        "00"u8.CopyTo(plain.AsSpan(263));
        plain.AsSpan(345).Clear();
        TarHeader.SetSize(plain, 0);
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
        if (TarHeader.Padding(size) is > 0 and var padding)
            data.Enqueue((true, padding));
        discard = TarHeader.Padding(stored);
    }
}
