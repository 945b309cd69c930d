using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>A folder of package files: which of its files are packages, which still arrive, and what was published for them.</summary>
/// <param name="Packages">Package files, by name.</param>
/// <param name="Arriving">Files that are still being downloaded or copied, by name.</param>
/// <param name="Published">Digests that checksum lists in the folder give, by file name.</param>
public sealed record LibraryFolder(IReadOnlyList<FileInfo> Packages, IReadOnlyList<FileInfo> Arriving, IReadOnlyDictionary<string, string> Published)
{
    private const long MostListBytes = 1 << 20;

    // What programs that fetch or copy files call them until they are whole.
    private static readonly string[] ArrivingEndings = [".partial", ".part", ".download", ".tmp"];

    /// <summary>Looks at a folder; not at folders below it.</summary>
    /// <exception cref="IOException">The folder cannot be read.</exception>
    public static LibraryFolder Read(string folder)
    {
        var files = new DirectoryInfo(folder).EnumerateFiles().Where(file => !file.Name.StartsWith('.')).OrderBy(file => file.Name, StringComparer.Ordinal).ToList();
        var lists = files.Where(IsChecksumList).ToList();
        var arriving = files.Where(file => ArrivingEndings.Contains(file.Extension, StringComparer.OrdinalIgnoreCase)).ToList();
        return new LibraryFolder([.. files.Except(lists).Except(arriving)], arriving, ReadLists(lists));
    }

    private static bool IsChecksumList(FileInfo file) =>
        file.Length < MostListBytes && (file.Extension is ".sha256" or ".md5" || Path.GetFileNameWithoutExtension(file.Name).ToUpperInvariant() is "SHA256SUMS" or "MD5SUMS");

    private static Dictionary<string, string> ReadLists(IEnumerable<FileInfo> lists)
    {
        var published = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var file in lists)
        {
            foreach (var line in ChecksumText.Read(File.ReadAllText(file.FullName)) ?? [])
            {
                // Of two digests for a file the stronger counts.
                var name = Path.GetFileName(line.FileName);
                if (!line.IsMd5 || !published.ContainsKey(name)) published[name] = line.Digest;
            }
        }

        return published;
    }
}
