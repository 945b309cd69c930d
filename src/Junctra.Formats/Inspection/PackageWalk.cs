using System.Buffers;
using System.Formats.Tar;
using System.IO.Compression;
using System.Security.Cryptography;
using Junctra.Core.Packages;
using Junctra.Formats.Archives;
using Junctra.Formats.Images;

namespace Junctra.Formats.Inspection;

/// <summary>
/// One walk through a package file. Goes forward only: a TAR is read entry by entry, a wrapped member is unwrapped while it
/// passes. Only a ZIP, whose list stands at its end, needs to be read from several places; where it does not lie plainly in the file
/// it is kept meanwhile in a file without a name, which goes away with this program however that ends.
/// </summary>
/// <param name="open">Opens the file from its first byte, seekable; called more than once.</param>
/// <param name="limits">What the file may ask of this computer.</param>
/// <param name="copyTo">Gives a stream that takes the image of a member, by the member's number, or null where it is not wanted.</param>
/// <param name="meter">Told how far the reading has come.</param>
/// <param name="password">Opens locked members, or null.</param>
/// <param name="withMd5">Whether MD5 is computed beside SHA-256.</param>
internal sealed class PackageWalk(Func<Stream> open, InspectionLimits limits, Func<int, Stream?>? copyTo, WalkMeter meter, string? password = null, bool withMd5 = false)
{
    private const int BufferBytes = 1 << 18;

    /// <summary>What an image is called that is no member of anything.</summary>
    private const string SingleImage = "image";
    private readonly byte[] buffer = new byte[BufferBytes];
    private WalkFindings found = new(limits, 0);

    /// <summary>Where a walk is.</summary>
    /// <param name="Within">Name of the archive member that is walked, or null for the package file itself.</param>
    /// <param name="Depth">How deep, from 1.</param>
    /// <param name="Base">Where its bytes lie plainly in the file, or null.</param>
    private sealed record Place(string? Within, int Depth, long? Base)
    {
        public string Name(string member) => Within is null ? member : $"{Within}/{member}";
    }

    /// <summary>Walks the file; whatever is wrong with it is among the findings.</summary>
    public async Task<WalkFindings> WalkAsync(CancellationToken cancel)
    {
        await using var file = open();
        found = new WalkFindings(limits, file.Length);
        var root = new Place(null, 1, 0);
        try
        {
            await using var whole = await MemberStream.OpenAsync(new CountedStream(file, count => meter.Add(count)), null, limits.MostTextBytes, cancel).ConfigureAwait(false);
            found.Form = FormOf(whole);
            switch (whole.Kind)
            {
                case ContentKind.Tar or ContentKind.Zip:
                    await WalkArchiveAsync(whole.Kind, whole, open, root, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Gzip or ContentKind.Lz4 or ContentKind.Zstandard:
                    await WalkWrappedRootAsync(whole, root, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Sparse or ContentKind.Raw when found.Form == FileForm.Image:
                    var image = new Spot(SingleImage, root, found.NextNumber());
                    Watch(whole);
                    whole.Copy = copyTo?.Invoke(image.Number);
                    Add(image, MemberKind.Image, whole, await ReadImageAsync("The file", whole, Wrapping.None, 0, cancel).ConfigureAwait(false), await whole.DigestAsync().ConfigureAwait(false));
                    break;
                case ContentKind.Foreign:
                    found.Fatal($"The file is packed with {Content.ForeignName(whole.Start)}, which is not unpacked here.");
                    break;
                default:
                    found.Fatal("This is no archive that can be read.");
                    break;
            }
        }
        catch (TrapException error)
        {
            found.Fatal(error.Message);
        }
        catch (Exception error) when (IsDamage(error))
        {
            found.Fatal(found.Members.Count == 0 ? "This is no archive that can be read, or it is cut off at its beginning." : $"The archive is cut off or damaged after {found.Members[^1].Name}.");
        }

        return found;
    }

    private async Task WalkWrappedRootAsync(MemberStream packed, Place root, CancellationToken cancel)
    {
        packed.DigestBeside();
        Watch(packed);
        await using var unwrapped = Unwrapping.Open(packed.Kind, packed);
        await using var inner = await MemberStream.OpenAsync(Guarded(unwrapped), null, limits.MostTextBytes, cancel).ConfigureAwait(false);
        if (inner.Kind is ContentKind.Tar or ContentKind.Zip)
        {
            await WalkArchiveAsync(inner.Kind, inner, null, root with { Base = null }, cancel).ConfigureAwait(false);
            await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
        }
        else if (FormOf(inner) == FileForm.Image)
        {
            var at = new Spot(SingleImage, root, found.NextNumber());
            inner.Copy = copyTo?.Invoke(at.Number);
            var image = await ReadImageAsync("The file", inner, Content.WrappingOf(packed.Kind)!.Value, null, cancel).ConfigureAwait(false);
            await packed.DrainAsync(buffer, cancel).ConfigureAwait(false);
            Add(at, MemberKind.Image, packed, image, await packed.DigestAsync().ConfigureAwait(false));
        }
        else
        {
            found.Fatal("The file is one compressed member and no archive: nothing in it says which phone it is for.");
        }
    }

    private Task WalkArchiveAsync(ContentKind kind, Stream whole, Func<Stream>? reopen, Place place, CancellationToken cancel) =>
        kind == ContentKind.Tar ? WalkTarAsync(whole, place, cancel) : WalkZipAsync(whole, reopen, place, cancel);

    private async Task WalkTarAsync(Stream whole, Place place, CancellationToken cancel)
    {
        var input = new TarGuard(whole);
        await using var tar = new TarReader(input, leaveOpen: true);
        var before = found.Numbered;
        var names = new HashSet<string>(StringComparer.Ordinal);
        while (await tar.GetNextEntryAsync(copyData: false, cancel).ConfigureAwait(false) is { } entry)
        {
            if (entry.EntryType is TarEntryType.Directory or TarEntryType.GlobalExtendedAttributes) continue;
            if (!found.MayEnter(entry.Name, place.Name(entry.Name))) return;
            if (!names.Add(entry.Name)) found.Fatal($"{place.Name(entry.Name)} is there twice: which one is meant cannot be known.");
            if (entry.EntryType is not (TarEntryType.RegularFile or TarEntryType.V7RegularFile or TarEntryType.ContiguousFile))
                found.Note($"{place.Name(entry.Name)} is a {Word(entry.EntryType)}; it is ignored.");
            else if (entry.DataStream is null || entry.Length == 0)
                found.Note($"{place.Name(entry.Name)} is empty; it is ignored.");
            else
                await ReadMemberAsync(entry.Name, entry.DataStream, entry.Length, place, place.Base + input.Position, cancel).ConfigureAwait(false);
        }

        if (found.Numbered == before) found.Fatal(place.Within is null ? "The archive holds no file." : $"{place.Within} is an archive that holds no file.");
        // What follows the archive's end is part of the file's digest, and nothing else.
        while (await input.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
    }

    private async Task WalkZipAsync(Stream whole, Func<Stream>? reopen, Place place, CancellationToken cancel)
    {
        await using var seekable = reopen?.Invoke() ?? await SpoolAsync(whole, cancel).ConfigureAwait(false);
        await ZipGuard.CheckAsync(seekable, limits.MostMembers, cancel).ConfigureAwait(false);
        await using var locked = new LockedZip(seekable, password);
        await using var zip = await ZipArchive.CreateAsync(seekable, ZipArchiveMode.Read, leaveOpen: true, entryNameEncoding: null, cancel).ConfigureAwait(false);
        long packed = 0;
        var before = found.Numbered;
        var names = new HashSet<string>(StringComparer.Ordinal);
        var number = -1;
        foreach (var entry in zip.Entries)
        {
            number++;
            if (entry.FullName.EndsWith('/')) continue;
            if (!found.MayEnter(entry.FullName, place.Name(entry.FullName))) return;
            packed += entry.CompressedLength;
            if (packed > seekable.Length)
            {
                found.Fatal($"{place.Within ?? "The archive"} is a trap: its members overlap, and claim more bytes than it has.");
                return;
            }

            var name = place.Name(entry.FullName);
            if (!names.Add(entry.FullName)) found.Fatal($"{place.Name(entry.FullName)} is there twice: which one is meant cannot be known.");
            if (entry.IsEncrypted && password is null) Locked($"{name} is locked with a password.");
            else if ((entry.ExternalAttributes >> 16 & 0xF000) == 0xA000) found.Note($"{name} is a link; it is ignored.");
            else if (entry.Length == 0) found.Note($"{name} is empty; it is ignored.");
            else await ReadZipEntryAsync(entry, entry.IsEncrypted ? () => locked.OpenAsync(number, entry, cancel) : () => new ValueTask<Stream>(entry.OpenAsync(cancel)), name, place, cancel).ConfigureAwait(false);
            if (reopen is not null && place.Within is null) meter.Add(entry.CompressedLength);
        }

        if (found.Numbered == before) found.Fatal(place.Within is null ? "The archive holds no file." : $"{place.Within} is an archive that holds no file.");
    }

    private async Task ReadZipEntryAsync(ZipArchiveEntry entry, Func<ValueTask<Stream>> openEntry, string name, Place place, CancellationToken cancel)
    {
        try
        {
            await using var data = await openEntry().ConfigureAwait(false);
            var member = new CheckedMember(Guarded(data), entry.Length, entry is { IsEncrypted: true, Crc32: 0 } ? null : entry.Crc32);
            await ReadMemberAsync(entry.FullName, member, entry.Length, place, null, cancel).ConfigureAwait(false);
            // The checksum is compared at the end, which nobody may have read to.
            while (await member.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
        }
        catch (Exception error) when (entry.IsEncrypted && (LockedZip.IsRefusal(error) || IsDamage(error)))
        {
            Locked($"{name} is locked, and the password given does not open it.");
        }
        catch (Exception error) when (IsDamage(error))
        {
            found.Fatal($"{name} is damaged. {(error is InvalidDataException && error.Message.StartsWith("It", StringComparison.Ordinal) ? error.Message : "Its bytes cannot be unpacked.")}");
        }
    }

    /// <summary>Takes one member in, whatever it is.</summary>
    private async Task ReadMemberAsync(string entryName, Stream data, long length, Place place, long? offset, CancellationToken cancel)
    {
        var at = new Spot(place.Name(entryName), place, found.NextNumber());
        await using var member = await MemberStream.OpenAsync(data, length, limits.MostTextBytes, cancel).ConfigureAwait(false);
        Watch(member);
        switch (member.Kind)
        {
            case ContentKind.Tar or ContentKind.Zip:
                await ReadInnerArchiveAsync(at, member, length, offset, cancel).ConfigureAwait(false);
                break;
            case ContentKind.Gzip or ContentKind.Lz4 or ContentKind.Zstandard:
                await ReadWrappedAsync(at, member, cancel).ConfigureAwait(false);
                break;
            case ContentKind.Sparse or ContentKind.Raw:
                member.Copy = copyTo?.Invoke(at.Number);
                var image = await ReadImageAsync(at.Name, member, Wrapping.None, offset, cancel).ConfigureAwait(false);
                Add(at, MemberKind.Image, member, image, image.Sha256);
                break;
            case ContentKind.Foreign:
                await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
                found.Fatal($"{at.Name} is packed with {Content.ForeignName(member.Start)}, which is not unpacked here.");
                Add(at, MemberKind.Stray, member, null, await member.DigestAsync().ConfigureAwait(false));
                break;
            default:
                await ReadTextAsync(at, member, cancel).ConfigureAwait(false);
                break;
        }
    }

    private async Task ReadTextAsync(Spot at, MemberStream member, CancellationToken cancel)
    {
        await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
        var kind = found.TakeText(Content.AsText(member.Start) ?? "", at.Place.Within);
        Add(at, kind, member, null, await member.DigestAsync().ConfigureAwait(false));
    }

    private async Task ReadInnerArchiveAsync(Spot at, MemberStream member, long length, long? offset, CancellationToken cancel)
    {
        if (at.Place.Depth >= limits.MostDepth)
        {
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
            found.Fatal($"{at.Name} is an archive, {at.Place.Depth + 1} deep; archives are followed {limits.MostDepth} deep.");
            Add(at, MemberKind.Archive, member, null, await member.DigestAsync().ConfigureAwait(false));
            return;
        }

        var inside = new Place(at.Name, at.Place.Depth + 1, offset);
        var place = found.Members.Count;
        if (offset is { } begins)
        {
            // It lies plainly in the file: it is walked by a reading of its own while this one digests it.
            Stream Reopen() => new SlicedStream(open(), begins, length, leaveOpen: false);
            var walking = Task.Run(async () =>
            {
                await using var slice = Reopen();
                await DamageEndsHereAsync(at.Name, () => WalkArchiveAsync(member.Kind, slice, Reopen, inside, cancel)).ConfigureAwait(false);
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
            await DamageEndsHereAsync(at.Name, () => WalkArchiveAsync(member.Kind, member, null, inside, cancel)).ConfigureAwait(false);
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
        }

        found.Members.Insert(place, new PackageMember(at.Number, at.Name, at.Place.Within, MemberKind.Archive, member.Position, await member.DigestAsync().ConfigureAwait(false), Md5: member.Md5Digest()));
    }

    private async Task ReadWrappedAsync(Spot at, MemberStream packed, CancellationToken cancel)
    {
        packed.DigestBeside();
        MemberImage? image = null;
        var kind = MemberKind.Stray;
        var place = found.Members.Count;
        await DamageEndsHereAsync(at.Name, async () =>
        {
            await using var unwrapped = Unwrapping.Open(packed.Kind, packed);
            await using var inner = await MemberStream.OpenAsync(Guarded(unwrapped), null, limits.MostTextBytes, cancel).ConfigureAwait(false);
            Watch(inner);
            switch (inner.Kind)
            {
                case ContentKind.Sparse or ContentKind.Raw:
                    kind = MemberKind.Image;
                    inner.Copy = copyTo?.Invoke(at.Number);
                    image = await ReadImageAsync(at.Name, inner, Content.WrappingOf(packed.Kind)!.Value, null, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Tar or ContentKind.Zip when at.Place.Depth < limits.MostDepth:
                    kind = MemberKind.Archive;
                    await WalkArchiveAsync(inner.Kind, inner, null, new Place(at.Name, at.Place.Depth + 1, null), cancel).ConfigureAwait(false);
                    await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Text or ContentKind.Empty:
                    await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                    break;
                default:
                    found.Fatal($"{at.Name} is packed more than once, which is not unpacked here.");
                    break;
            }
        }).ConfigureAwait(false);
        await packed.DrainAsync(buffer, cancel).ConfigureAwait(false);
        found.Members.Insert(place, new PackageMember(at.Number, at.Name, at.Place.Within, kind, packed.Position, await packed.DigestAsync().ConfigureAwait(false), image, packed.Md5Digest()));
    }

    /// <summary>Reads an image to its end, expanding it where it is sparse.</summary>
    private async Task<MemberImage> ReadImageAsync(string name, MemberStream image, Wrapping wrapping, long? offset, CancellationToken cancel)
    {
        var beginning = new ImageBeginning();
        if (image.Kind != ContentKind.Sparse) image.Beginning = beginning;
        var (expanded, digest, fault) = image.Kind == ContentKind.Sparse
            ? await SparseExpansion.ReadAsync(image, found.ExpandedAllowed, beginning, cancel).ConfigureAwait(false)
            : (0, null, null);
        await image.DrainAsync(buffer, cancel).ConfigureAwait(false);
        if (fault is not null) found.Fatal($"{name} {fault}");
        var sha256 = await image.DigestAsync().ConfigureAwait(false);
        var isSparse = image.Kind == ContentKind.Sparse;
        var (inside, wrong) = fault is null ? beginning.Read(isSparse ? expanded : image.Position) : (null, null);
        if (wrong is not null) found.Fatal($"{name} {wrong}");
        found.Expanded(isSparse ? expanded : image.Position);
        return new MemberImage(isSparse ? ImageFormat.Sparse : ImageFormat.Raw, wrapping, image.Position, sha256,
            isSparse ? expanded : image.Position, isSparse ? digest : sha256, offset, inside, image.Md5Digest());
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
            found.Fatal($"{name} is cut off or damaged.");
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

    private void Locked(string text)
    {
        found.IsLocked = true;
        found.Fatal(text);
    }

    private void Watch(MemberStream member)
    {
        if (withMd5) member.Md5 = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
    }

    /// <summary>Form of a file, or of what it was packed from. A raw image with nothing at its beginning to know it by is none.</summary>
    private static FileForm FormOf(MemberStream whole) => whole.Kind switch
    {
        ContentKind.Tar => FileForm.Tar,
        ContentKind.Zip => FileForm.Zip,
        ContentKind.Gzip => FileForm.Gzip,
        ContentKind.Lz4 => FileForm.Lz4,
        ContentKind.Zstandard => FileForm.Zstandard,
        ContentKind.Sparse => FileForm.Image,
        ContentKind.Raw when ImageBeginning.IsKnown(whole.Start) => FileForm.Image,
        _ => FileForm.Unknown,
    };

    private CountedStream Guarded(Stream unpacked) => new(unpacked, found.Unpacked);

    private void Add(Spot at, MemberKind kind, MemberStream member, MemberImage? image, string sha256) =>
        found.Members.Add(new PackageMember(at.Number, at.Name, at.Place.Within, kind, member.Position, sha256, image, member.Md5Digest()));

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

    /// <summary>Which member is at hand.</summary>
    private sealed record Spot(string Name, Place Place, int Number);
}
