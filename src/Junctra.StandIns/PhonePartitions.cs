using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Catalogue;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>A command that the phone refuses, in its own words.</summary>
internal sealed class PhoneRefusesException(string text) : Exception(text);

/// <summary>
/// The bytes of a simulated phone's partitions: files of their true size in a folder. What they are, the twin knows as
/// <see cref="TwinPart"/>; here it is read off the stamp at their beginning.
/// </summary>
internal sealed class PhonePartitions(string folder, PhoneModel model)
{
    /// <summary>Bytes from the beginning of an image in which its stamp lies.</summary>
    public const int Beginning = 8192;

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

    /// <summary>Writes an image. A partition of a slot, or inside the large one, has a file of its own once it is written.</summary>
    public void Write(string partition, PhoneImage image)
    {
        using var file = File.OpenHandle(PathOf(partition), FileMode.OpenOrCreate, FileAccess.Write);
        image.WriteTo(file);
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

    /// <summary>What an image with this stamp is.</summary>
    public static TwinPart PartOf(IReadOnlyDictionary<string, string>? stamp, bool whole)
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
