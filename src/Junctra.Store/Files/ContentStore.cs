using System.Security.Cryptography;

namespace Junctra.Store.Files;

/// <summary>
/// Files kept by what is in them: each lies under the SHA-256 of its bytes, so that the same bytes lie there once, and a file under such a
/// name is always whole. What is still arriving lies apart, under a name of its own, until it is known to be whole.
/// </summary>
/// <remarks>
/// <c>incoming/NAME</c> while it arrives, <c>content/ab/abcd…</c> afterwards. A file is written through to the disk before it gets its
/// final name, and gets that by a rename within one file system; a crash at any moment leaves a whole file, an incoming one, or nothing.
/// </remarks>
/// <param name="folder">Where the files lie; made when it is first needed.</param>
public sealed class ContentStore(string folder)
{
    private const int BufferBytes = 1 << 18;
    private const int DigestDigits = 64;

    /// <summary>Where the files lie.</summary>
    public string Folder { get; } = Path.GetFullPath(folder);

    private string Incoming => Path.Combine(Folder, "incoming");

    private string Content => Path.Combine(Folder, "content");

    /// <summary>Path under which a file is collected until it is whole.</summary>
    /// <param name="name">A plain name, unique among those that arrive.</param>
    /// <exception cref="ArgumentException">The name is no plain one.</exception>
    public string IncomingPath(string name)
    {
        if (name.Length == 0 || !name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_'))
            throw new ArgumentException("Not a plain name.", nameof(name));
        Directory.CreateDirectory(Incoming);
        return Path.Combine(Incoming, name);
    }

    /// <summary>Where a file lies, or would lie.</summary>
    /// <exception cref="ArgumentException">That is no SHA-256.</exception>
    public string PathOf(string sha256) =>
        IsDigest(sha256) ? Path.Combine(Content, sha256[..2], sha256) : throw new ArgumentException("Not a SHA-256.", nameof(sha256));

    /// <summary>Whether a file is there.</summary>
    public bool Has(string sha256) => IsDigest(sha256) && File.Exists(PathOf(sha256));

    /// <summary>Gives an incoming file its final name.</summary>
    /// <param name="name">Its incoming name.</param>
    /// <param name="sha256">Digest of its bytes, as its reader computed it.</param>
    /// <returns>Whether it is new; a file that was there already makes the incoming one go.</returns>
    public bool Keep(string name, string sha256)
    {
        var (from, to) = (IncomingPath(name), PathOf(sha256));
        if (File.Exists(to))
        {
            File.Delete(from);
            return false;
        }

        Directory.CreateDirectory(Path.GetDirectoryName(to)!);
        using (var file = new FileStream(from, FileMode.Open, FileAccess.ReadWrite, FileShare.Read))
            file.Flush(flushToDisk: true);
        if (!OperatingSystem.IsWindows())
            File.SetUnixFileMode(from, UnixFileMode.UserRead | UnixFileMode.GroupRead | UnixFileMode.OtherRead);
        File.Move(from, to, overwrite: true);
        return true;
    }

    /// <summary>Digest of an incoming file.</summary>
    /// <param name="name">Its incoming name.</param>
    /// <param name="progress">Told how many bytes were read.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<string> DigestAsync(string name, IProgress<long>? progress = null, CancellationToken cancel = default)
    {
        await using var file = new FileStream(
            IncomingPath(name),
            FileMode.Open,
            FileAccess.Read,
            FileShare.ReadWrite,
            1,
            FileOptions.Asynchronous | FileOptions.SequentialScan
        );
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[BufferBytes];
        for (int count; (count = await file.ReadAsync(buffer, cancel).ConfigureAwait(false)) > 0; )
        {
            hash.AppendData(buffer.AsSpan(0, count));
            progress?.Report(file.Position);
        }

        return Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    /// <summary>Size of an incoming file; 0 where there is none.</summary>
    public long IncomingBytes(string name) => new FileInfo(IncomingPath(name)) is { Exists: true } file ? file.Length : 0;

    /// <summary>Gives up an incoming file.</summary>
    public void Discard(string name) => File.Delete(IncomingPath(name));

    /// <summary>Takes a file away.</summary>
    /// <returns>Bytes that became free.</returns>
    public long Remove(string sha256)
    {
        if (!Has(sha256))
            return 0;
        var file = new FileInfo(PathOf(sha256));
        var bytes = file.Length;
        file.Delete();
        return bytes;
    }

    /// <summary>All whole files with their sizes; what lies there under another name is none.</summary>
    public IEnumerable<(string Sha256, long Bytes)> All() =>
        !Directory.Exists(Content)
            ? []
            : new DirectoryInfo(Content)
                .EnumerateFiles("*", SearchOption.AllDirectories)
                .Where(file => IsDigest(file.Name))
                .Select(file => (file.Name, file.Length));

    /// <summary>All incoming files with their sizes and the time of their last byte.</summary>
    public IEnumerable<(string Name, long Bytes, DateTimeOffset At)> AllIncoming() =>
        !Directory.Exists(Incoming)
            ? []
            : new DirectoryInfo(Incoming)
                .EnumerateFiles()
                .Select(file => (file.Name, file.Length, new DateTimeOffset(file.LastWriteTimeUtc)));

    /// <summary>Takes away incoming files that nobody waits for and no program holds open: what a crash left.</summary>
    /// <param name="wanted">Names that are still waited for.</param>
    /// <returns>Names of those that went.</returns>
    public IReadOnlyList<string> ClearIncoming(IReadOnlySet<string> wanted)
    {
        var left = AllIncoming().Select(file => file.Name).Where(name => !wanted.Contains(name) && !IsHeld(name)).ToList();
        foreach (var name in left)
            File.Delete(Path.Combine(Incoming, name));
        return left;
    }

    /// <summary>Opens a new incoming file that no other program takes for left over while it is open.</summary>
    public FileStream Begin(string name) =>
        new(IncomingPath(name), FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, 1 << 16, FileOptions.Asynchronous);

    private bool IsHeld(string name)
    {
        try
        {
            using var file = new FileStream(Path.Combine(Incoming, name), FileMode.Open, FileAccess.ReadWrite, FileShare.None);
            return false;
        }
        catch (IOException)
        {
            return true;
        }
    }

    /// <summary>Bytes that are free where the files lie.</summary>
    public long FreeBytes()
    {
        Directory.CreateDirectory(Folder);
        return new DriveInfo(Folder).AvailableFreeSpace;
    }

    private static bool IsDigest(string text) => text.Length == DigestDigits && text.All(char.IsAsciiHexDigitLower);
}
