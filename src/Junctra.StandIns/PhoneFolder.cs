using System.Security.Cryptography;

namespace Junctra.StandIns;

/// <summary>A place of a simulated phone that holds files: what it has built in, or its storage card.</summary>
/// <param name="folder">The folder with its files.</param>
/// <param name="capacity">How many bytes it holds.</param>
internal sealed class PhoneFolder(string folder, long capacity)
{
    public string Folder => folder;

    /// <summary>Bytes that are free.</summary>
    public long Room => Math.Max(0, capacity - Files().Sum(file => file.Length));

    /// <summary>Makes it empty.</summary>
    public void Clear()
    {
        if (Directory.Exists(folder))
            Directory.Delete(folder, true);
        Directory.CreateDirectory(folder);
    }

    /// <summary>Name, size and digest of all files in it, by name.</summary>
    /// <remarks>A file that goes while they are read is none of them.</remarks>
    public IReadOnlyList<(string Name, long Bytes, string Sha256)> All()
    {
        var all = new List<(string Name, long Bytes, string Sha256)>();
        foreach (var file in Files())
        {
            try
            {
                all.Add((NameOf(file), file.Length, DigestOf(file.FullName)));
            }
            catch (Exception gone) when (gone is FileNotFoundException or DirectoryNotFoundException)
            {
                continue;
            }
        }
        return all;
    }

    /// <summary>Whether a file may have that name.</summary>
    public static bool Takes(string name) =>
        name.Length is > 0 and <= 200 && !name.Contains('\\') && name.Split('/').All(part => part is not ("" or "." or ".."));

    /// <summary>Where a file lies; null where there is none.</summary>
    public string? Find(string name) => PathOf(name) is var path && File.Exists(path) ? path : null;

    /// <summary>Keeps a file; it appears under its name only when it is whole.</summary>
    public async Task PutAsync(string name, Func<Stream, Task> write)
    {
        var path = PathOf(name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var partial = Path.Combine(Path.GetDirectoryName(folder)!, Path.GetRandomFileName());
        try
        {
            await using (var file = File.Create(partial))
                await write(file);
            File.Move(partial, path, overwrite: true);
        }
        finally
        {
            File.Delete(partial);
        }
    }

    public static string DigestOf(string path)
    {
        using var file = File.OpenRead(path);
        return Convert.ToHexStringLower(SHA256.HashData(file));
    }

    private IEnumerable<FileInfo> Files() =>
        Directory.Exists(folder)
            ? new DirectoryInfo(folder).EnumerateFiles("*", SearchOption.AllDirectories).OrderBy(NameOf, StringComparer.Ordinal)
            : [];

    private string NameOf(FileInfo file) => Path.GetRelativePath(folder, file.FullName).Replace(Path.DirectorySeparatorChar, '/');

    private string PathOf(string name) => Path.Combine(folder, name);
}
