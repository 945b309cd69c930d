using System.Runtime.InteropServices;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Catalogue;
using Junctra.Core.Twin;
using Junctra.Formats.Sparse;

namespace Junctra.StandIns;

/// <summary>A command that the phone refuses, in its own words.</summary>
internal sealed class PhoneRefusesException(string text) : Exception(text);

/// <summary>
/// The bytes of a simulated phone's partitions: files of their true size in a folder. What they are, the twin knows as
/// <see cref="TwinPart"/>; here it is read off the stamp at their beginning.
/// </summary>
internal sealed class PhonePartitions(string folder, PhoneModel model)
{
    private const int Beginning = 8192;

    public string Folder => folder;

    /// <summary>Makes the files, empty but for the stamps.</summary>
    public void Create(IReadOnlyDictionary<string, string> contents)
    {
        Directory.CreateDirectory(folder);
        foreach (var partition in model.Partitions)
        {
            using var stream = File.Create(PathOf(partition.Name));
            stream.SetLength(partition.SizeBytes);
        }

        foreach (var (partition, text) in contents)
        {
            using var file = new FileStream(PathOf(partition), FileMode.Open, FileAccess.Write);
            file.Write(Encoding.UTF8.GetBytes(text));
        }
    }

    /// <summary>What nobody signed.</summary>
    public static TwinPart Unstamped { get; } = PartOf(null, whole: true);

    /// <summary>
    /// What an image would be once it is written, from its first bytes; null where it is a sparse one that does not begin at the beginning.
    /// </summary>
    public static async Task<TwinPart?> PartOfAsync(ReadOnlyMemory<byte> image)
    {
        if (!SparseHeader.IsSparse(image.Span))
            return PartOf(DemoImages.Stamp(image.Span), whole: true);
        var begins = new byte[Beginning];
        var has = 0;
        try
        {
            var reader = await OpenAsync(image);
            await reader.ReadAllAsync(null, (chunk, part, offset) =>
            {
                if (chunk.Kind != SparseChunkKind.DontCare && offset == has && has < Beginning)
                {
                    var length = Math.Min(part.Length, Beginning - has);
                    part[..length].CopyTo(begins.AsMemory(has));
                    has += length;
                }

                return ValueTask.CompletedTask;
            });
        }
        catch (SparseFormatException error)
        {
            throw new PhoneRefusesException(error.Message);
        }

        return has == 0 ? null : PartOf(DemoImages.Stamp(begins.AsSpan(0, has)), whole: true);
    }

    /// <summary>What lies in a partition.</summary>
    public TwinPart PartIn(string partition, PartitionRole role)
    {
        var path = PathOf(partition);
        return PartOf(DemoImages.Stamp(path), role != PartitionRole.System || DemoImages.IsWhole(path));
    }

    /// <summary>The radio build that lies in it, or nothing.</summary>
    public string Radio() =>
        model.Partitions.FirstOrDefault(spec => spec.Role == PartitionRole.Radio) is { } radio
            ? DemoImages.Stamp(PathOf(radio.Name))?.GetValueOrDefault("radio") ?? ""
            : "";

    /// <summary>
    /// Writes an image, raw or sparse. A partition of a slot, or inside the large one, has a file of its own once it is written.
    /// </summary>
    /// <exception cref="PhoneRefusesException">It is no image, or does not fit.</exception>
    public async Task WriteAsync(string partition, ReadOnlyMemory<byte> image)
    {
        await using var file = new FileStream(PathOf(partition), FileMode.OpenOrCreate, FileAccess.Write);
        if (!SparseHeader.IsSparse(image.Span))
        {
            await file.WriteAsync(image);
            return;
        }

        try
        {
            var reader = await OpenAsync(image);
            await reader.ReadAllAsync(null, async (chunk, part, offset) =>
            {
                if (chunk.Kind == SparseChunkKind.DontCare)
                    return;
                file.Position = offset;
                await file.WriteAsync(part);
            });
        }
        catch (SparseFormatException error)
        {
            throw new PhoneRefusesException(error.Message);
        }
    }

    /// <summary>Size of an image, expanded.</summary>
    /// <exception cref="PhoneRefusesException">It calls itself sparse and is not.</exception>
    public static async Task<long> ExpandedAsync(ReadOnlyMemory<byte> image)
    {
        if (!SparseHeader.IsSparse(image.Span))
            return image.Length;
        try
        {
            return (await OpenAsync(image)).Header.ExpandedBytes;
        }
        catch (SparseFormatException error)
        {
            throw new PhoneRefusesException(error.Message);
        }
    }

    public void Erase(string partition, long bytes)
    {
        using var file = new FileStream(PathOf(partition), FileMode.OpenOrCreate, FileAccess.Write);
        file.SetLength(0);
        file.SetLength(bytes);
    }

    /// <summary>Makes the files of another layout; the boot chain stays as it is.</summary>
    public void LayOut(IReadOnlyDictionary<string, long> sizes)
    {
        foreach (var partition in model.Partitions.Where(spec => spec.Role != PartitionRole.BootChain))
        {
            using var file = new FileStream(PathOf(partition.Name), FileMode.Create, FileAccess.Write);
            file.SetLength(sizes.GetValueOrDefault(partition.Name));
        }
    }

    private static ValueTask<SparseReader> OpenAsync(ReadOnlyMemory<byte> image) =>
        SparseReader.OpenAsync(
            new MemoryStream(MemoryMarshal.TryGetArray(image, out var held) ? held.Array! : image.ToArray(), held.Offset, image.Length)
        );

    private static TwinPart PartOf(IReadOnlyDictionary<string, string>? stamp, bool whole)
    {
        // Without a stamp nobody signed it.
        if (stamp is null)
            return new TwinPart("no stamp", SoftwareKind.Custom) { Whole = whole };
        var build = stamp.GetValueOrDefault("build");
        var text = string.Concat(stamp.OrderBy(line => line.Key, StringComparer.Ordinal).Select(line => $"{line.Key}={line.Value}\n"));
        return new TwinPart(
            Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..16],
            build?.StartsWith("custom", StringComparison.Ordinal) == true ? SoftwareKind.Custom
                : stamp.ContainsKey("root") ? SoftwareKind.Patched
                : SoftwareKind.Stock
        )
        {
            Model = stamp.GetValueOrDefault("model"),
            Build = build,
            Os = int.TryParse(stamp.GetValueOrDefault("os"), out var os) ? os : null,
            Revision = int.TryParse(stamp.GetValueOrDefault("revision"), out var revision) ? revision : null,
            Root = stamp.GetValueOrDefault("root"),
            Whole = whole,
        };
    }

    private string PathOf(string partition) => Path.Combine(folder, partition + ".bin");
}
