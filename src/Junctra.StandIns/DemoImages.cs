using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Images;

namespace Junctra.StandIns;

/// <summary>
/// Contents of the demo world's images. Each begins with a stamp: <c>key=value</c> lines up to a zero byte, by which a simulated
/// phone knows what it was given. A system names the place of its end mark, so that a half-written one is noticed.
/// </summary>
internal static class DemoImages
{
    private const string Head = "junctra demo image\n";
    private const int StampBytes = 4096;
    private const int BootPage = 4096;
    private static readonly byte[] EndMark = Encoding.UTF8.GetBytes("junctra demo image ends\n");

    public static string StampText(params (string Key, string Value)[] lines) =>
        Head + string.Concat(lines.Select(line => $"{line.Key}={line.Value}\n")) + '\0';

    /// <summary>The stamp at the start of a partition file, or null when there is none.</summary>
    public static IReadOnlyDictionary<string, string>? Stamp(string path)
    {
        using var file = File.OpenRead(path);
        var start = new byte[BootPage + StampBytes];
        var read = file.ReadAtLeast(start, start.Length, throwOnEndOfStream: false);
        return Stamp(start.AsSpan(0, read));
    }

    /// <summary>The stamp at the start of bytes, or null when there is none.</summary>
    public static IReadOnlyDictionary<string, string>? Stamp(ReadOnlySpan<byte> bytes)
    {
        // A boot image has its header first.
        if (bytes.StartsWith("ANDROID!"u8))
            bytes = bytes[Math.Min(bytes.Length, BootPage)..];
        var end = bytes[..Math.Min(bytes.Length, StampBytes)].IndexOf((byte)0);
        if (end < 0)
            return null;
        var text = Encoding.UTF8.GetString(bytes[..end]);
        if (!text.StartsWith(Head, StringComparison.Ordinal))
            return null;
        return text[Head.Length..]
            .Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(line => line.Split('=', 2))
            .Where(parts => parts.Length == 2)
            .ToDictionary(parts => parts[0], parts => parts[1], StringComparer.Ordinal);
    }

    /// <summary>Whether the end mark lies where the stamp says.</summary>
    public static bool IsWhole(string path)
    {
        if (Stamp(path) is not { } stamp || !long.TryParse(stamp.GetValueOrDefault("end"), out var end))
            return false;
        using var file = File.OpenRead(path);
        if (end + EndMark.Length > file.Length)
            return false;
        file.Position = end;
        var mark = new byte[EndMark.Length];
        file.ReadExactly(mark);
        return mark.AsSpan().SequenceEqual(EndMark);
    }

    /// <summary>
    /// Bytes of an image: the stamp, then content that looks like software: repetitive, so that it compresses, and the same
    /// on every computer for the same name.
    /// </summary>
    /// <param name="bytes">Size.</param>
    /// <param name="name">Seeds the content.</param>
    /// <param name="stamp">The stamp, or null.</param>
    public static byte[] Bytes(int bytes, string name, string? stamp)
    {
        var content = new byte[bytes];
        var state = name.Aggregate(2166136261u, (hash, c) => (hash ^ c) * 16777619u) | 1;
        for (var i = 0; i < bytes; )
        {
            state ^= state << 13;
            state ^= state >> 17;
            state ^= state << 5;
            var run = (int)(state >> 28) + 4;
            var value = (byte)(state >> 8 & 0x3F);
            for (var n = 0; n < run && i < bytes; n++, i++)
                content[i] = (byte)(value + (n & 3));
        }

        if (stamp is not null)
            Encoding.UTF8.GetBytes(stamp, content);
        return content;
    }

    /// <summary>A boot image: its header, then a stamp and content as of any other.</summary>
    public static byte[] Boot(int bytes, string name, BootHeader header, string stamp)
    {
        var page = BootHeaderWriter.Page(header, (uint)(bytes - BootPage) / 2, (uint)(bytes - BootPage) / 4);
        return [.. page, .. Bytes(bytes - page.Length, name, stamp)];
    }

    /// <summary>Adds lines to the stamp of a boot image.</summary>
    public static void Restamp(byte[] boot, params (string Key, string Value)[] more)
    {
        var lines = (Stamp(boot) ?? new Dictionary<string, string>()).Select(line => (line.Key, line.Value)).Concat(more);
        Encoding.UTF8.GetBytes(StampText([.. lines]), boot.AsSpan(BootPage));
    }

    public static void PutEndMark(byte[] content, int at) => EndMark.CopyTo(content, at);
}
