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
    Xz,
    Bzip2,
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
        if (start.Length == 0)
            return ContentKind.Empty;
        if (start.StartsWith("PK\x03\x04"u8) || start.StartsWith("PK\x05\x06"u8))
            return ContentKind.Zip;
        if (start.StartsWith((ReadOnlySpan<byte>)[0x1F, 0x8B, 0x08]))
            return ContentKind.Gzip;
        if (start.StartsWith((ReadOnlySpan<byte>)[0x04, 0x22, 0x4D, 0x18]))
            return ContentKind.Lz4;
        if (start.StartsWith((ReadOnlySpan<byte>)[0x28, 0xB5, 0x2F, 0xFD]))
            return ContentKind.Zstandard;
        if (start.StartsWith((ReadOnlySpan<byte>)[0xFD, (byte)'7', (byte)'z', (byte)'X', (byte)'Z', 0x00]))
            return ContentKind.Xz;
        if (start.StartsWith("BZh"u8) && start.Length > 9 && start[3] is >= (byte)'1' and <= (byte)'9' && start[4..].StartsWith("1AY&SY"u8))
            return ContentKind.Bzip2;
        if (SkippedOver(start) is { } behind)
            return behind;
        if (SparseHeader.IsSparse(start))
            return ContentKind.Sparse;
        if (IsTar(start))
            return ContentKind.Tar;
        if (ForeignName(start) is not null)
            return ContentKind.Foreign;
        return isWhole && AsText(start) is not null ? ContentKind.Text : ContentKind.Raw;
    }

    /// <summary>Whether an image may be wrapped so.</summary>
    public static Wrapping? WrappingOf(ContentKind kind) =>
        kind switch
        {
            ContentKind.Gzip => Wrapping.Gzip,
            ContentKind.Lz4 => Wrapping.Lz4,
            ContentKind.Zstandard => Wrapping.Zstandard,
            ContentKind.Xz => Wrapping.Xz,
            ContentKind.Bzip2 => Wrapping.Bzip2,
            _ => null,
        };

    /// <summary>
    /// What the ending of a name says that its bytes are; null where it says nothing. A name that says so and bytes that are something else
    /// do not go together.
    /// </summary>
    public static ContentKind? NamedAs(string name) =>
        name[(name.LastIndexOf('.') + 1)..].ToLowerInvariant() switch
        {
            "gz" or "tgz" => ContentKind.Gzip,
            "lz4" => ContentKind.Lz4,
            "zst" or "zstd" => ContentKind.Zstandard,
            "xz" or "txz" => ContentKind.Xz,
            "bz2" or "tbz" or "tbz2" => ContentKind.Bzip2,
            "zip" => ContentKind.Zip,
            "tar" => ContentKind.Tar,
            "img" or "bin" or "raw" or "mbn" => ContentKind.Raw,
            _ => null,
        };

    /// <summary>What bytes are, in words, for the sentence that says that a name and its bytes do not go together.</summary>
    public static string Word(ContentKind kind) =>
        kind switch
        {
            ContentKind.Tar => "a TAR",
            ContentKind.Zip => "a ZIP",
            ContentKind.Gzip => "a gzip stream",
            ContentKind.Lz4 => "an LZ4 frame",
            ContentKind.Zstandard => "a Zstandard frame",
            ContentKind.Xz => "an xz stream",
            ContentKind.Bzip2 => "a bzip2 stream",
            ContentKind.Text => "a text",
            ContentKind.Empty => "empty",
            ContentKind.Sparse => "a sparse image",
            ContentKind.Foreign => "packed in another way",
            _ => "none of these",
        };

    /// <summary>
    /// Frames that are skipped may come before the first that is not, of LZ4 and of Zstandard alike; what follows them tells. Null where
    /// none begins it, or it goes on too long.
    /// </summary>
    private static ContentKind? SkippedOver(ReadOnlySpan<byte> start)
    {
        if (!IsSkippable(start))
            return null;
        while (IsSkippable(start))
        {
            var bytes = 8 + (long)System.Buffers.Binary.BinaryPrimitives.ReadUInt32LittleEndian(start[4..]);
            if (bytes >= start.Length)
                return ContentKind.Foreign;
            start = start[(int)bytes..];
        }

        var kind = Of(start, false);
        return kind is ContentKind.Lz4 or ContentKind.Zstandard ? kind : ContentKind.Foreign;
    }

    private static bool IsSkippable(ReadOnlySpan<byte> start) =>
        start.Length >= 8 && (start[0] & 0xF0) == 0x50 && start[1..].StartsWith((ReadOnlySpan<byte>)[0x2A, 0x4D, 0x18]);

    /// <summary>Name of a wrapping that is known and not unpacked, or null.</summary>
    public static string? ForeignName(ReadOnlySpan<byte> start)
    {
        foreach (var (magic, name) in ForeignWrappings)
            if (start.StartsWith(magic))
                return name;
        return IsSkippable(start) ? "frames that are skipped, and nothing after them that is known" : null;
    }

    /// <summary>Whether bytes, which may be cut off within a character, look like the beginning of a text.</summary>
    public static bool MayBeText(ReadOnlySpan<byte> start) =>
        start.IndexOfAnyInRange((byte)0, (byte)8) < 0
        && start[..Math.Min(start.Length, 4096)].IndexOfAnyInRange((byte)0x0E, (byte)0x1F) < 0;

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
        if (start.Length < TarBlock || start[0] == 0)
            return false;
        if (start[257..].StartsWith("ustar"u8))
            return true;
        var sum = 0;
        for (var i = 0; i < TarBlock; i++)
            sum += i is >= 148 and < 156 ? ' ' : start[i];
        var told = 0;
        foreach (var digit in start[148..156])
        {
            if (digit is (byte)' ' or 0)
                continue;
            if (digit is < (byte)'0' or > (byte)'7')
                return false;
            told = told * 8 + digit - '0';
        }

        return told == sum;
    }
}
