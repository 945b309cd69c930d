using System.Formats.Tar;
using System.IO.Compression;

namespace Junctra.Formats.Inspection;

/// <summary>Copies one file out of an archive, as it lies there, for instance a part of a bundle that is an archive itself.</summary>
public static class MemberExtractor
{
    private static ReadOnlySpan<byte> ZipBegins => "PK"u8;

    /// <summary>Copies a file out of a ZIP or a TAR.</summary>
    /// <param name="open">Opens the archive from its first byte, seekable.</param>
    /// <param name="name">Its name in the archive, with folders.</param>
    /// <param name="to">Takes its bytes.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="InvalidDataException">It is no such archive, or has no such file.</exception>
    public static async Task ExtractAsync(Func<Stream> open, string name, Stream to, CancellationToken cancel = default)
    {
        await using var file = open();
        var begins = new byte[ZipBegins.Length];
        var read = await file.ReadAtLeastAsync(begins, begins.Length, throwOnEndOfStream: false, cancel).ConfigureAwait(false);
        file.Position = 0;
        if (read == begins.Length && begins.AsSpan().SequenceEqual(ZipBegins))
        {
            using var zip = new ZipArchive(file, ZipArchiveMode.Read, leaveOpen: true);
            if (zip.Entries.FirstOrDefault(entry => Named(entry.FullName, name)) is { } found)
            {
                await using var bytes = await found.OpenAsync(cancel).ConfigureAwait(false);
                await bytes.CopyToAsync(to, cancel).ConfigureAwait(false);
                return;
            }
        }
        else
        {
            await using var tar = new TarReader(file, leaveOpen: true);
            while (await tar.GetNextEntryAsync(copyData: false, cancel).ConfigureAwait(false) is { } entry)
            {
                if (!Named(entry.Name, name) || entry.DataStream is not { } bytes)
                    continue;
                await bytes.CopyToAsync(to, cancel).ConfigureAwait(false);
                return;
            }
        }

        throw new InvalidDataException($"{name} does not lie in the package as a file of its own, and cannot be taken out of it.");
    }

    private static bool Named(string entry, string name) => entry == name || entry.EndsWith("/" + name, StringComparison.Ordinal);
}
