using System.Formats.Tar;
using System.Text;

namespace Junctra.Link.Tests;

/// <summary>Makes of a whole set of the model with a large partition one that brings what lies inside it image by image.</summary>
internal static class Loose
{
    private const string Build = "HX310/16.26w24-2.r2";
    private const int SystemBytes = 9 << 20,
        ProductBytes = 5 << 20,
        EndAt = SystemBytes - 64;

    /// <summary>Writes it.</summary>
    /// <param name="whole">The whole set, a TAR.</param>
    /// <param name="loose">Where it is written to.</param>
    public static async Task WriteAsync(string whole, string loose)
    {
        await using var from = File.OpenRead(whole);
        await using var to = File.Create(loose);
        using var reader = new TarReader(from);
        await using var writer = new TarWriter(to, TarEntryFormat.Ustar);
        while (await reader.GetNextEntryAsync(copyData: true) is { } entry)
        {
            var name = entry.Name.Split('/')[^1];
            if (name.StartsWith("super", StringComparison.Ordinal) || name == "SHA256SUMS" || entry.DataStream is null)
                continue;
            var bytes = new MemoryStream();
            await entry.DataStream.CopyToAsync(bytes);
            var data = bytes.ToArray();
            if (name == "requirements.txt")
                data = Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(data).Replace("HX310/16.26w20-1.r2", Build));
            await AddAsync(writer, name, data);
        }

        await AddAsync(writer, "system.img", System());
        await AddAsync(writer, "product.img", Stamped(ProductBytes, "part=product", "build=" + Build));
    }

    private static byte[] System()
    {
        var bytes = Stamped(SystemBytes, "part=system", "build=" + Build, "os=16", $"end={EndAt}");
        "junctra demo image ends\n"u8.CopyTo(bytes.AsSpan(EndAt));
        return bytes;
    }

    private static byte[] Stamped(int length, params string[] lines)
    {
        var bytes = new byte[length];
        for (var i = 0; i < length; i++)
            bytes[i] = (byte)(i * 31 >> 7);
        Encoding.UTF8.GetBytes($"junctra demo image\nmodel=HX310\n{string.Join('\n', lines)}\n\0").CopyTo(bytes, 0);
        return bytes;
    }

    private static Task AddAsync(TarWriter writer, string name, byte[] data) =>
        writer.WriteEntryAsync(new UstarTarEntry(TarEntryType.RegularFile, $"hx310-26w24/{name}") { DataStream = new MemoryStream(data) });
}
