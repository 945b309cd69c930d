using System.Text.Json;
using Junctra.Core;
using Junctra.Core.Packages;
using Junctra.Formats.Text;
using Junctra.Store;

namespace Junctra.Web.Library.Arrivals;

/// <summary>The index of a mirror, in either form. What makes no sense in it is left out; what is no index is refused.</summary>
public static class MirrorIndex
{
    /// <summary>Forms of index that are read.</summary>
    public const string JsonForm = "json",
        ListForm = "checksum-list";

    private const int MaxFiles = 20_000;
    private const int MaxPathCharacters = 400;
    private const long MaxFileBytes = 1L << 40;

    /// <summary>Reads the files that an index lists.</summary>
    /// <exception cref="SourceException">It is none of its form.</exception>
    public static List<MirrorFileRow> Read(MirrorRow mirror, string text) =>
        mirror.IndexForm == ListForm ? ReadList(mirror, text) : ReadJson(mirror, text);

    private static List<MirrorFileRow> ReadList(MirrorRow mirror, string text) =>
        ChecksumText.Read(text) is { Lines: { Count: > 0 } lines }
            ?
            [
                .. lines
                    .Where(line => line.Digest.Length == ChecksumLine.Sha256Digits && IsPath(line.FileName))
                    .DistinctBy(line => line.FileName)
                    .Take(MaxFiles)
                    .Select(line => new MirrorFileRow { Path = line.FileName, Sha256 = line.Digest }),
            ]
            : throw new SourceException($"The index of {mirror.Name} is no checksum list.");

    private static List<MirrorFileRow> ReadJson(MirrorRow mirror, string text)
    {
        try
        {
            var index = JsonSerializer.Deserialize<IndexFile>(text, JsonSerializerOptions.Web);
            // An entry that makes no sense is left out; its neighbours are no worse for it.
            return
            [
                .. (index?.Files ?? throw new JsonException())
                    .OfType<IndexedFile>()
                    .Where(file =>
                        IsPath(file.Path)
                        && file.SizeBytes is null or >= 0 and <= MaxFileBytes
                        && file.UnpackedBytes is null or <= 4 * MaxFileBytes
                    )
                    .DistinctBy(file => file.Path)
                    .Take(MaxFiles)
                    .Select(file => new MirrorFileRow
                    {
                        Path = file.Path,
                        SizeBytes = file.SizeBytes,
                        UnpackedBytes = file.UnpackedBytes is > 0 ? file.UnpackedBytes : null,
                        Build = Short(file.Build),
                        ModelCode = Short(file.Model),
                        Sha256 =
                            file.Sha256 is { Length: 64 } digest && digest.All(char.IsAsciiHexDigit) ? digest.ToLowerInvariant() : null,
                    }),
            ];
        }
        catch (JsonException)
        {
            throw new SourceException($"The index of {mirror.Name} cannot be read.");
        }
    }

    private static bool IsPath(string? path) =>
        !string.IsNullOrWhiteSpace(path) && path.Length <= MaxPathCharacters && ShownText.IsFit(path);

    private static string? Short(string? text) =>
        string.IsNullOrWhiteSpace(text) || text.Length > 120 || !ShownText.IsFit(text) ? null : text;

    private sealed record IndexFile(IReadOnlyList<IndexedFile?>? Files);

    private sealed record IndexedFile(string Path, long? SizeBytes, long? UnpackedBytes, string? Sha256, string? Build, string? Model);
}
