using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Sparse;

namespace Junctra.Formats.Archives;

/// <summary>What bytes are, by their beginning.</summary>
internal enum ContentKind
{
    Empty,
    Text,
    Tar,
    Zip,
    Gzip,
    Lz4,
    Zstandard,
    Sparse,
    /// <summary>Packed in a way that is not unpacked here; must never be taken for a raw image.</summary>
    Foreign,
    Raw,
}

/// <summary>Tells what bytes are. Names decide nothing.</summary>
internal static class Content
{
    private const int TarBlock = 512;

    private static readonly (byte[] Magic, string Name)[] ForeignWrappings =
    [
        ([0xFD, (byte)'7', (byte)'z', (byte)'X', (byte)'Z', 0x00], "xz"),
        ([(byte)'B', (byte)'Z', (byte)'h'], "bzip2"),
        ([(byte)'7', (byte)'z', 0xBC, 0xAF, 0x27, 0x1C], "7z"),
        ([(byte)'R', (byte)'a', (byte)'r', (byte)'!', 0x1A, 0x07], "RAR"),
        ([(byte)'L', (byte)'Z', (byte)'I', (byte)'P'], "lzip"),
        ([0x02, 0x21, 0x4C, 0x18], "the old LZ4 form"),
    ];

    /// <summary>What bytes are.</summary>
    /// <param name="start">The first bytes.</param>
    /// <param name="isWhole">Whether these are all.</param>
    public static ContentKind Of(ReadOnlySpan<byte> start, bool isWhole)
    {
        if (start.Length == 0) return ContentKind.Empty;
        if (start.StartsWith("PK\x03\x04"u8) || start.StartsWith("PK\x05\x06"u8)) return ContentKind.Zip;
        if (start.StartsWith((ReadOnlySpan<byte>)[0x1F, 0x8B, 0x08])) return ContentKind.Gzip;
        if (start.StartsWith((ReadOnlySpan<byte>)[0x04, 0x22, 0x4D, 0x18])) return ContentKind.Lz4;
        if (start.StartsWith((ReadOnlySpan<byte>)[0x28, 0xB5, 0x2F, 0xFD])) return ContentKind.Zstandard;
        if (SparseHeader.IsSparse(start)) return ContentKind.Sparse;
        if (IsTar(start)) return ContentKind.Tar;
        if (ForeignName(start) is not null) return ContentKind.Foreign;
        return isWhole && AsText(start) is not null ? ContentKind.Text : ContentKind.Raw;
    }

    /// <summary>Whether an image may be wrapped so.</summary>
    public static Wrapping? WrappingOf(ContentKind kind) => kind switch
    {
        ContentKind.Gzip => Wrapping.Gzip,
        ContentKind.Lz4 => Wrapping.Lz4,
        ContentKind.Zstandard => Wrapping.Zstandard,
        _ => null,
    };

    /// <summary>Name of a wrapping that is known and not unpacked, or null.</summary>
    public static string? ForeignName(ReadOnlySpan<byte> start)
    {
        foreach (var (magic, name) in ForeignWrappings)
            if (start.StartsWith(magic)) return name;
        return null;
    }

    /// <summary>The bytes as a text, or null when they are none: UTF-8 without control characters but tab and line ends.</summary>
    public static string? AsText(ReadOnlySpan<byte> bytes)
    {
        try
        {
            var text = new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes);
            return text.Any(c => char.IsControl(c) && c is not ('\t' or '\n' or '\r')) ? null : text.TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    /// <summary>A TAR header says so at byte 257, or, in the oldest form, by a checksum that fits.</summary>
    private static bool IsTar(ReadOnlySpan<byte> start)
    {
        if (start.Length < TarBlock || start[0] == 0) return false;
        if (start[257..].StartsWith("ustar"u8)) return true;
        var sum = 0;
        for (var i = 0; i < TarBlock; i++) sum += i is >= 148 and < 156 ? ' ' : start[i];
        var told = 0;
        foreach (var digit in start[148..156])
        {
            if (digit is (byte)' ' or 0) continue;
            if (digit is < (byte)'0' or > (byte)'7') return false;
            told = told * 8 + digit - '0';
        }

        return told == sum;
    }
}
