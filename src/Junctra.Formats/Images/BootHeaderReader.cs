using System.Buffers.Binary;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Formats.Images;

/// <summary>
/// Reads the header of a boot image, versions 0 to 4 of the open form, and that of a vendor's boot image, versions 3 and 4; little-endian.
/// </summary>
/// <remarks>
/// Versions 0 to 2 give the size of a page and count every part in whole pages; versions 3 and 4 have pages of 4,096 bytes. The OS version
/// and the patch level share one word: three times seven bits of version, seven of the year after 2000, four of the month.
/// </remarks>
public static class BootHeaderReader
{
    private const int MaxVersion = 4;
    private const int VersionAt = 40;
    private const int BoardBytes = 16;
    private const int VendorBoardAt = 2080;

    private const int MinOlderPart = 512;
    private const int BoardAt = 48;

    // What a header of each version takes.
    private static readonly int[] HeaderBytes = [1632, 1648, 1660, 1580, 1584];

    /// <summary>Whether bytes begin like a boot image.</summary>
    public static bool IsBoot(ReadOnlySpan<byte> start) => start.StartsWith("ANDROID!"u8) || start.StartsWith("VNDRBOOT"u8);

    /// <summary>Reads a header.</summary>
    /// <param name="start">The first bytes of the image, 4,096 of them or all there are.</param>
    /// <param name="imageBytes">Size of the image.</param>
    /// <exception cref="ImageFormatException">The header is cut off, of a version that is not known, or claims more than the image
    /// has.</exception>
    public static BootHeader Read(ReadOnlySpan<byte> start, long imageBytes)
    {
        if (start.StartsWith("VNDRBOOT"u8))
            return ReadVendor(start, imageBytes);
        if (start.Length < VersionAt + 4)
            throw new ImageFormatException("ends within its boot header.");
        var stated = Word(start, VersionAt);
        // Before there were versions, the size of a hardware description stood here: always some pages, and no small number.
        var olderPart = stated > MaxVersion ? stated : 0;
        if (olderPart is > 0 and < MinOlderPart)
            throw new ImageFormatException($"has a boot header of version {stated}; versions 0 to {MaxVersion} are known.");
        var version = olderPart > 0 ? 0 : stated;
        if (start.Length < HeaderBytes[version])
            throw new ImageFormatException("ends within its boot header.");
        var isNew = version >= 3;
        var page = isNew ? 4096 : Word(start, 36);
        if (page is < 512 or > 65536 || (page & (page - 1)) != 0)
            throw new ImageFormatException($"has a boot header with pages of {page} bytes.");
        var parts = new List<long> { HeaderBytes[version], Word(start, 8), isNew ? Word(start, 12) : Word(start, 16) };
        if (!isNew)
            parts.Add(Word(start, 24));
        if (olderPart > 0)
            parts.Add(olderPart);
        if (version is 1 or 2)
            parts.Add(Word(start, 1632));
        if (version == 2)
            parts.Add(Word(start, 1648));
        if (version == 4)
            parts.Add(Word(start, 1580));
        // The last part may go without its padding.
        var needed = parts.Sum(part => (part + page - 1) / page * page) - Math.Max(0, page - 1);
        if (needed > imageBytes)
            throw new ImageFormatException(
                $"has a boot header that claims {ByteSize.Text(needed)} of parts; the image has {ByteSize.Text(imageBytes)}."
            );
        var word = Word(start, isNew ? 16 : 44);
        return new BootHeader(
            (int)version,
            OsVersion(word >> 11),
            Patch(word & 0x7FF),
            isNew ? null : Name(start.Slice(BoardAt, BoardBytes))
        );
    }

    /// <summary>A vendor's boot image has no OS version: the boot image beside it has.</summary>
    private static BootHeader ReadVendor(ReadOnlySpan<byte> start, long imageBytes)
    {
        if (start.Length < 12)
            throw new ImageFormatException("ends within its boot header.");
        var version = Word(start, 8);
        if (version is not (3 or 4))
            throw new ImageFormatException($"has a vendor's boot header of version {version}; versions 3 and 4 are known.");
        var header = version == 3 ? 2112 : 2128;
        if (start.Length < header)
            throw new ImageFormatException("ends within its boot header.");
        var page = Word(start, 12);
        if (page is < 512 or > 65536 || (page & (page - 1)) != 0)
            throw new ImageFormatException($"has a boot header with pages of {page} bytes.");
        long[] parts =
            version == 3
                ? [header, Word(start, 24), Word(start, 2100)]
                : [header, Word(start, 24), Word(start, 2100), Word(start, 2112), Word(start, 2124)];
        var needed = parts.Sum(part => (part + page - 1) / page * page) - Math.Max(0, page - 1);
        if (needed > imageBytes)
            throw new ImageFormatException(
                $"has a boot header that claims {ByteSize.Text(needed)} of parts; the image has {ByteSize.Text(imageBytes)}."
            );
        return new BootHeader((int)version, null, null, Name(start.Slice(VendorBoardAt, BoardBytes)));
    }

    private static string? Name(ReadOnlySpan<byte> bytes)
    {
        var end = bytes.IndexOf((byte)0);
        var name = end < 0 ? bytes : bytes[..end];
        return name.Length > 0 && name.IndexOfAnyExceptInRange((byte)0x20, (byte)0x7E) < 0
            ? System.Text.Encoding.ASCII.GetString(name).Trim()
            : null;
    }

    private static string? OsVersion(uint bits)
    {
        var (a, b, c) = (bits >> 14 & 0x7F, bits >> 7 & 0x7F, bits & 0x7F);
        return bits == 0 ? null
            : c > 0 ? $"{a}.{b}.{c}"
            : b > 0 ? $"{a}.{b}"
            : $"{a}";
    }

    private static string? Patch(uint bits) =>
        (bits >> 4, bits & 0xF) is (var year, >= 1 and <= 12 and var month) ? $"{2000 + year}-{month:00}" : null;

    private static uint Word(ReadOnlySpan<byte> start, int at) => BinaryPrimitives.ReadUInt32LittleEndian(start[at..]);
}
