using Junctra.Core.Packages;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>Looks into files of a folder with the lists beside them, and with lists that whoever asks answers for.</summary>
public static class FolderInspection
{
    /// <summary>Digests of a list that is trusted, with what it is called.</summary>
    /// <exception cref="InvalidDataException">The file is no list of digests.</exception>
    public static IReadOnlyDictionary<string, string> ReadTrusted(string path) =>
        ChecksumText.Read(File.ReadAllText(path), isNamedAsList: true) is { Lines: { Count: > 0 } lines, Unread.Count: 0 }
            ? lines.DistinctBy(line => line.Digest).ToDictionary(line => line.Digest, _ => Path.GetFileName(path), StringComparer.Ordinal)
            : throw new InvalidDataException($"{path} is no list of digests, or has lines that cannot be read.");

    /// <summary>Looks into one file.</summary>
    /// <param name="file">The file.</param>
    /// <param name="folder">The folder in which it lies.</param>
    /// <param name="trusted">Digests that are trusted, with their source.</param>
    /// <param name="cancel">Cancels.</param>
    public static async Task<PackageContents> InspectAsync(
        FileInfo file,
        LibraryFolder folder,
        IReadOnlyDictionary<string, string> trusted,
        CancellationToken cancel = default
    )
    {
        var contents = await PackageInspector
            .InspectFileAsync(file.FullName, folder.Published.GetValueOrDefault(file.Name), cancel: cancel)
            .ConfigureAwait(false);
        contents = contents with { Findings = [.. contents.Findings, .. folder.Findings[file.Name], .. folder.Findings[""]] };
        return contents.IsAsPublished != false && trusted.TryGetValue(contents.Sha256, out var by)
            ? contents with
            {
                PublishedDigest = contents.Sha256,
                PublishedBy = by,
            }
            : contents;
    }
}
