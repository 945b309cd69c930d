using System.Buffers;
using System.Formats.Tar;
using System.IO.Compression;
using Junctra.Core.Packages;
using Junctra.Formats.Archives;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>
/// One walk through a package file. Goes forward only: a TAR is read entry by entry, a wrapped member is unwrapped while it
/// passes. Only a ZIP, whose list stands at its end, needs to be read from several places; where it does not lie plainly in the file
/// it is kept meanwhile in a file without a name, which goes away with this program however that ends.
/// </summary>
internal sealed class PackageWalk(Func<Stream> open, InspectionLimits limits, Func<int, Stream?>? copyTo, WalkMeter meter)
{
    private const int BufferBytes = 1 << 18;
    private const int MostLines = 20_000;
    private readonly byte[] buffer = new byte[BufferBytes];
    private long fileBytes;
    private long expandedBytes;
    private long unpackedBytes;
    private int numbered;
    private int entries;

    public List<PackageMember> Members { get; } = [];
    public List<RequirementLine> Requirements { get; } = [];
    public List<ChecksumLine> Checksums { get; } = [];
    public List<PackageFinding> Findings { get; } = [];

    /// <summary>Where a walk is.</summary>
    /// <param name="Within">Name of the archive member that is walked, or null for the package file itself.</param>
    /// <param name="Depth">How deep, from 1.</param>
    /// <param name="Base">Where its bytes lie plainly in the file, or null.</param>
    private sealed record Place(string? Within, int Depth, long? Base)
    {
        public string Name(string member) => Within is null ? member : $"{Within}/{member}";
    }

    public async Task WalkAsync(CancellationToken cancel)
    {
        await using var file = open();
        fileBytes = file.Length;
        var root = new Place(null, 1, 0);
        try
        {
            await using var whole = await MemberStream.OpenAsync(new CountedStream(file, count => meter.Add(count)), null, limits.MostTextBytes, cancel).ConfigureAwait(false);
            switch (whole.Kind)
            {
                case ContentKind.Tar or ContentKind.Zip:
                    await WalkArchiveAsync(whole.Kind, whole, open, root, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Gzip or ContentKind.Lz4:
                    await WalkWrappedRootAsync(whole, root, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Sparse:
                    Add(new Found("image", root, 0), MemberKind.Image, whole, await ReadImageAsync("The file", whole, Wrapping.None, 0, cancel).ConfigureAwait(false), await whole.DigestAsync().ConfigureAwait(false));
                    Note("The file is a single image: nothing in it says which phone it is for.");
                    break;
                case ContentKind.Foreign:
                    Fatal($"The file is packed with {Content.ForeignName(whole.Start)}, which is not unpacked here.");
                    break;
                default:
                    Fatal("This is no archive that can be read.");
                    break;
            }
        }
        catch (TrapException error)
        {
            Fatal(error.Message);
        }
        catch (Exception error) when (IsDamage(error))
        {
            Fatal(Members.Count == 0 ? "This is no archive that can be read, or it is cut off at its beginning." : $"The archive is cut off or damaged after {Members[^1].Name}.");
        }
    }

    private async Task WalkWrappedRootAsync(MemberStream packed, Place root, CancellationToken cancel)
    {
        await using var unwrapped = Unwrapping.Open(packed.Kind, packed);
        await using var inner = await MemberStream.OpenAsync(Guarded(unwrapped), null, limits.MostTextBytes, cancel).ConfigureAwait(false);
        if (inner.Kind is ContentKind.Tar or ContentKind.Zip)
        {
            await WalkArchiveAsync(inner.Kind, inner, null, root with { Base = null }, cancel).ConfigureAwait(false);
            await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
        }
        else
        {
            Fatal("The file is one compressed member and no archive: nothing in it says which phone it is for.");
        }
    }

    private Task WalkArchiveAsync(ContentKind kind, Stream whole, Func<Stream>? reopen, Place place, CancellationToken cancel) =>
        kind == ContentKind.Tar ? WalkTarAsync(whole, place, cancel) : WalkZipAsync(whole, reopen, place, cancel);

    private async Task WalkTarAsync(Stream whole, Place place, CancellationToken cancel)
    {
        var input = new TarGuard(whole);
        await using var tar = new TarReader(input, leaveOpen: true);
        var before = numbered;
        while (await tar.GetNextEntryAsync(copyData: false, cancel).ConfigureAwait(false) is { } entry)
        {
            if (entry.EntryType is TarEntryType.Directory or TarEntryType.GlobalExtendedAttributes) continue;
            if (!IsAllowed(entry.Name, place)) return;
            if (entry.EntryType is not (TarEntryType.RegularFile or TarEntryType.V7RegularFile or TarEntryType.ContiguousFile))
                Note($"{place.Name(entry.Name)} is a {Word(entry.EntryType)}; it is ignored.");
            else if (entry.DataStream is null || entry.Length == 0)
                Note($"{place.Name(entry.Name)} is empty; it is ignored.");
            else
                await ReadMemberAsync(entry.Name, entry.DataStream, entry.Length, place, place.Base + input.Position, cancel).ConfigureAwait(false);
        }

        if (numbered == before) Fatal(place.Within is null ? "The archive holds no file." : $"{place.Within} is an archive that holds no file.");
        // What follows the archive's end is part of the file's digest, and nothing else.
        while (await input.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
    }

    private async Task WalkZipAsync(Stream whole, Func<Stream>? reopen, Place place, CancellationToken cancel)
    {
        await using var seekable = reopen?.Invoke() ?? await SpoolAsync(whole, cancel).ConfigureAwait(false);
        await ZipGuard.CheckAsync(seekable, limits.MostMembers, cancel).ConfigureAwait(false);
        await using var zip = await ZipArchive.CreateAsync(seekable, ZipArchiveMode.Read, leaveOpen: true, entryNameEncoding: null, cancel).ConfigureAwait(false);
        long packed = 0;
        var before = numbered;
        foreach (var entry in zip.Entries.Where(entry => !entry.FullName.EndsWith('/')))
        {
            if (!IsAllowed(entry.FullName, place)) return;
            packed += entry.CompressedLength;
            if (packed > seekable.Length)
            {
                Fatal($"{place.Within ?? "The archive"} is a trap: its members overlap, and claim more bytes than it has.");
                return;
            }

            var name = place.Name(entry.FullName);
            if (entry.IsEncrypted) Fatal($"{name} is locked with a password.");
            else if ((entry.ExternalAttributes >> 16 & 0xF000) == 0xA000) Note($"{name} is a link; it is ignored.");
            else if (entry.Length == 0) Note($"{name} is empty; it is ignored.");
            else await ReadZipEntryAsync(entry, name, place, cancel).ConfigureAwait(false);
            if (reopen is not null && place.Within is null) meter.Add(entry.CompressedLength);
        }

        if (numbered == before) Fatal(place.Within is null ? "The archive holds no file." : $"{place.Within} is an archive that holds no file.");
    }

    private async Task ReadZipEntryAsync(ZipArchiveEntry entry, string name, Place place, CancellationToken cancel)
    {
        try
        {
            await using var data = await entry.OpenAsync(cancel).ConfigureAwait(false);
            var member = new CheckedMember(Guarded(data), entry.Length, entry.Crc32);
            await ReadMemberAsync(entry.FullName, member, entry.Length, place, null, cancel).ConfigureAwait(false);
            // The checksum is compared at the end, which nobody may have read to.
            while (await member.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
        }
        catch (Exception error) when (IsDamage(error))
        {
            Fatal($"{name} is damaged. {(error is InvalidDataException && error.Message.StartsWith("It", StringComparison.Ordinal) ? error.Message : "Its bytes cannot be unpacked.")}");
        }
    }

    /// <summary>Takes one member in, whatever it is.</summary>
    private async Task ReadMemberAsync(string entryName, Stream data, long length, Place place, long? offset, CancellationToken cancel)
    {
        var found = new Found(place.Name(entryName), place, numbered++);
        await using var member = await MemberStream.OpenAsync(data, length, limits.MostTextBytes, cancel).ConfigureAwait(false);
        switch (member.Kind)
        {
            case ContentKind.Tar or ContentKind.Zip:
                await ReadInnerArchiveAsync(found, member, length, offset, cancel).ConfigureAwait(false);
                break;
            case ContentKind.Gzip or ContentKind.Lz4:
                await ReadWrappedAsync(found, member, cancel).ConfigureAwait(false);
                break;
            case ContentKind.Sparse or ContentKind.Raw:
                member.Copy = copyTo?.Invoke(found.Number);
                var image = await ReadImageAsync(found.Name, member, Wrapping.None, offset, cancel).ConfigureAwait(false);
                Add(found, MemberKind.Image, member, image, image.Sha256);
                break;
            case ContentKind.Foreign:
                await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
                Fatal($"{found.Name} is packed with {Content.ForeignName(member.Start)}, which is not unpacked here.");
                Add(found, MemberKind.Stray, member, null, await member.DigestAsync().ConfigureAwait(false));
                break;
            default:
                await ReadTextAsync(found, member, cancel).ConfigureAwait(false);
                break;
        }
    }

    private async Task ReadTextAsync(Found found, MemberStream member, CancellationToken cancel)
    {
        await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
        var text = Content.AsText(member.Start) ?? "";
        var kind = MemberKind.Stray;
        if (RequirementText.Read(text) is { } requirements)
        {
            Requirements.AddRange(requirements.Take(MostLines - Requirements.Count));
            kind = MemberKind.Requirements;
        }
        else if (ChecksumText.Read(text) is { } checksums)
        {
            Checksums.AddRange(checksums.Take(MostLines - Checksums.Count).Select(line => line with { Within = found.Place.Within }));
            kind = MemberKind.ChecksumList;
        }

        if (Requirements.Count == MostLines || Checksums.Count == MostLines) Fatal($"The archive holds more than {MostLines} requirement or checksum lines.");
        Add(found, kind, member, null, await member.DigestAsync().ConfigureAwait(false));
    }

    private async Task ReadInnerArchiveAsync(Found found, MemberStream member, long length, long? offset, CancellationToken cancel)
    {
        if (found.Place.Depth >= limits.MostDepth)
        {
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
            Fatal($"{found.Name} is an archive, {found.Place.Depth + 1} deep; archives are followed {limits.MostDepth} deep.");
            Add(found, MemberKind.Archive, member, null, await member.DigestAsync().ConfigureAwait(false));
            return;
        }

        var inside = new Place(found.Name, found.Place.Depth + 1, offset);
        var place = Members.Count;
        if (offset is { } begins)
        {
            // It lies plainly in the file: it is walked by a reading of its own while this one digests it.
            Stream Reopen() => new SlicedStream(open(), begins, length, leaveOpen: false);
            var walking = Task.Run(async () =>
            {
                await using var slice = Reopen();
                await DamageEndsHereAsync(found.Name, () => WalkArchiveAsync(member.Kind, slice, Reopen, inside, cancel)).ConfigureAwait(false);
            }, cancel);
            try
            {
                await member.DrainAsync(new byte[BufferBytes], cancel).ConfigureAwait(false);
            }
            finally
            {
                await walking.ConfigureAwait(false);
            }
        }
        else
        {
            member.DigestBeside();
            await DamageEndsHereAsync(found.Name, () => WalkArchiveAsync(member.Kind, member, null, inside, cancel)).ConfigureAwait(false);
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
        }

        Members.Insert(place, new PackageMember(found.Number, found.Name, found.Place.Within, MemberKind.Archive, member.Position, await member.DigestAsync().ConfigureAwait(false)));
    }

    private async Task ReadWrappedAsync(Found found, MemberStream packed, CancellationToken cancel)
    {
        packed.DigestBeside();
        MemberImage? image = null;
        var kind = MemberKind.Stray;
        var place = Members.Count;
        await DamageEndsHereAsync(found.Name, async () =>
        {
            await using var unwrapped = Unwrapping.Open(packed.Kind, packed);
            await using var inner = await MemberStream.OpenAsync(Guarded(unwrapped), null, limits.MostTextBytes, cancel).ConfigureAwait(false);
            switch (inner.Kind)
            {
                case ContentKind.Sparse or ContentKind.Raw:
                    kind = MemberKind.Image;
                    inner.Copy = copyTo?.Invoke(found.Number);
                    image = await ReadImageAsync(found.Name, inner, packed.Kind == ContentKind.Gzip ? Wrapping.Gzip : Wrapping.Lz4, null, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Tar or ContentKind.Zip when found.Place.Depth < limits.MostDepth:
                    kind = MemberKind.Archive;
                    await WalkArchiveAsync(inner.Kind, inner, null, new Place(found.Name, found.Place.Depth + 1, null), cancel).ConfigureAwait(false);
                    await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Text or ContentKind.Empty:
                    await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                    break;
                default:
                    Fatal($"{found.Name} is packed more than once, which is not unpacked here.");
                    break;
            }
        }).ConfigureAwait(false);
        await packed.DrainAsync(buffer, cancel).ConfigureAwait(false);
        Members.Insert(place, new PackageMember(found.Number, found.Name, found.Place.Within, kind, packed.Position, await packed.DigestAsync().ConfigureAwait(false), image));
    }

    /// <summary>Reads an image to its end, expanding it where it is sparse.</summary>
    private async Task<MemberImage> ReadImageAsync(string name, MemberStream image, Wrapping wrapping, long? offset, CancellationToken cancel)
    {
        var most = Math.Min(limits.MostExpandedImageBytes, limits.MostExpandedBytes - expandedBytes);
        var (expanded, digest, fault) = image.Kind == ContentKind.Sparse
            ? await SparseExpansion.ReadAsync(image, most, cancel).ConfigureAwait(false)
            : (0, null, null);
        await image.DrainAsync(buffer, cancel).ConfigureAwait(false);
        if (fault is not null) Fatal($"{name} {fault}");
        var sha256 = await image.DigestAsync().ConfigureAwait(false);
        var isSparse = image.Kind == ContentKind.Sparse;
        expandedBytes += isSparse ? expanded : image.Position;
        return new MemberImage(isSparse ? ImageFormat.Sparse : ImageFormat.Raw, wrapping, image.Position, sha256,
            isSparse ? expanded : image.Position, isSparse ? digest : sha256, offset);
    }

    /// <summary>Damage inside a member ends the member, not the walk.</summary>
    private async Task DamageEndsHereAsync(string name, Func<Task> read)
    {
        try
        {
            await read().ConfigureAwait(false);
        }
        catch (Exception error) when (IsDamage(error))
        {
            Fatal($"{name} is cut off or damaged.");
        }
    }

    private static async Task<Stream> SpoolAsync(Stream whole, CancellationToken cancel)
    {
        var path = Path.Combine(Path.GetTempPath(), Path.GetRandomFileName());
        var spool = new FileStream(path, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.Delete, 1, FileOptions.Asynchronous);
        try
        {
            // Without a name it goes away with this program, however that ends.
            File.Delete(path);
            var rented = ArrayPool<byte>.Shared.Rent(BufferBytes);
            for (int count; (count = await whole.ReadAsync(rented, cancel).ConfigureAwait(false)) > 0;) await spool.WriteAsync(rented.AsMemory(0, count), cancel).ConfigureAwait(false);
            ArrayPool<byte>.Shared.Return(rented);
            spool.Position = 0;
            return spool;
        }
        catch
        {
            await spool.DisposeAsync().ConfigureAwait(false);
            throw;
        }
    }

    /// <summary>Whether one more member of that name may be looked at.</summary>
    private bool IsAllowed(string name, Place place)
    {
        if (++entries > limits.MostMembers)
        {
            Fatal($"The archive has more than {limits.MostMembers} members.");
            return false;
        }

        if (name.StartsWith('/') || name.StartsWith('\\') || name.Split('/', '\\').Contains(".."))
            Fatal($"{place.Name(name)} tries to leave the archive's folder: no publisher does that. Nothing is unpacked by its name.");
        return true;
    }

    private CountedStream Guarded(Stream unpacked) => new(unpacked, count =>
    {
        unpackedBytes += count;
        if (unpackedBytes > limits.MostUnpackedBytes || unpackedBytes > InspectionLimits.UnpackedFreely + (double)fileBytes * limits.MostUnpackedTimes)
            throw new TrapException("The file is a trap: it unpacks to more than this computer allows.");
    });

    private void Add(Found found, MemberKind kind, MemberStream member, MemberImage? image, string sha256) =>
        Members.Add(new PackageMember(found.Number, found.Name, found.Place.Within, kind, member.Position, sha256, image));

    private void Fatal(string text) => Findings.Add(new PackageFinding(FindingWeight.Fatal, text));

    private void Note(string text) => Findings.Add(new PackageFinding(FindingWeight.Note, text));

    // The archive readers' own words are for programmers; what matters at the bench is where it broke.
    private static bool IsDamage(Exception error) =>
        error is EndOfStreamException or InvalidDataException or FormatException or NotSupportedException or ArgumentException or OverflowException or InvalidOperationException;

    private static string Word(TarEntryType type) => type switch
    {
        TarEntryType.SymbolicLink or TarEntryType.HardLink => "link",
        TarEntryType.BlockDevice or TarEntryType.CharacterDevice => "device",
        TarEntryType.Fifo => "pipe",
        _ => $"entry of the kind {type}",
    };

    private sealed record Found(string Name, Place Place, int Number);
}
