using SharpCompress.Archives;
using SharpCompress.Common;
using SharpCompress.Readers;
using ZipArchive = SharpCompress.Archives.Zip.ZipArchive;
using ZipArchiveEntry = SharpCompress.Archives.Zip.ZipArchiveEntry;

namespace Junctra.Formats.Archives;

/// <summary>
/// Opens the members of a ZIP that the plain reader does not: those that are locked with a password, or packed in a rarer way (LZMA, bzip2,
/// Zstandard, xz).
/// </summary>
/// <param name="zip">The archive, seekable.</param>
/// <param name="password">The password, or null; without one nothing that is locked is opened.</param>
internal sealed class OtherZip(Stream zip, string? password) : IAsyncDisposable
{
    private IWritableAsyncArchive<SharpCompress.Writers.Zip.ZipWriterOptions>? archive;
    private List<ZipArchiveEntry>? entries;

    /// <summary>Opens a member.</summary>
    /// <param name="number">Its place in the archive's list, folders counted.</param>
    /// <param name="entry">The same member as the plain reader sees it.</param>
    /// <param name="cancel">Cancels.</param>
    public async ValueTask<Stream> OpenAsync(int number, System.IO.Compression.ZipArchiveEntry entry, CancellationToken cancel)
    {
        if (entries is null)
        {
            zip.Position = 0;
            archive = await ZipArchive
                .OpenAsyncArchive(zip, new ReaderOptions { Password = password, LeaveStreamOpen = true }, cancel)
                .ConfigureAwait(false);
            entries = [];
            await foreach (var each in archive.EntriesAsync.WithCancellation(cancel).ConfigureAwait(false))
                entries.Add((ZipArchiveEntry)each);
        }

        if (number >= entries.Count || entries[number].Size != entry.Length)
            throw new InvalidDataException("Its list of members is read in two ways.");
        return await entries[number].OpenEntryStreamAsync(cancel).ConfigureAwait(false);
    }

    /// <summary>Whether the reader says that a password does not fit.</summary>
    public static bool IsRefusal(Exception error) =>
        error
            is SharpCompressException
                or System.Security.Cryptography.CryptographicException
                or IndexOutOfRangeException
                or NullReferenceException;

    public async ValueTask DisposeAsync()
    {
        if (archive is not null)
            await archive.DisposeAsync().ConfigureAwait(false);
    }
}
