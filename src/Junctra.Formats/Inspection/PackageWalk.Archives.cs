using System.Buffers;
using System.Formats.Tar;
using System.IO.Compression;
using Junctra.Formats.Archives;

namespace Junctra.Formats.Inspection;

/// <content>The walk through archives: TAR entry by entry, ZIP by the list at its end.</content>
internal sealed partial class PackageWalk
{
    private async Task WalkTarAsync(Stream whole, Place place, CancellationToken cancel)
    {
        var input = new TarFeed(whole);
        await using var tar = new TarReader(input, leaveOpen: true);
        var before = found.Numbered;
        var names = new HashSet<string>(StringComparer.Ordinal);
        while (await tar.GetNextEntryAsync(copyData: false, cancel).ConfigureAwait(false) is { } entry)
        {
            if (entry.EntryType is TarEntryType.Directory or TarEntryType.GlobalExtendedAttributes)
                continue;
            if (!found.MayEnter(entry.Name, place.Name(entry.Name)))
                return;
            if (!names.Add(entry.Name))
                found.Fatal($"{place.Name(entry.Name)} is there twice: which one is meant cannot be known.");
            if (entry.EntryType is not (TarEntryType.RegularFile or TarEntryType.V7RegularFile or TarEntryType.ContiguousFile))
                found.Note($"{place.Name(entry.Name)} is a {Word(entry.EntryType)}; it is ignored.");
            else if (entry.DataStream is null || entry.Length == 0)
                Empty(place.Name(entry.Name));
            else
                await ReadMemberAsync(
                        entry.Name,
                        entry.DataStream,
                        entry.Length,
                        place,
                        input.HasHoles ? null : place.Base + input.RawPosition,
                        cancel
                    )
                    .ConfigureAwait(false);
        }

        if (found.Numbered == before)
            found.Fatal(place.Within is null ? "The archive holds no file." : $"{place.Within} is an archive that holds no file.");
        // Only zeros fill up the last record: what else follows would vanish, and with it whatever a spoilt header has cut off.
        for (int count; (count = await whole.ReadAsync(buffer, cancel).ConfigureAwait(false)) > 0; )
        {
            if (buffer.AsSpan(0, count).IndexOfAnyExcept((byte)0) < 0)
                continue;
            found.Fatal($"{place.Within ?? "The archive"} goes on after its end: what follows would not be seen.");
            return;
        }
    }

    private void Empty(string name)
    {
        if (Content.NamedAs(name) == ContentKind.Raw)
            found.Fatal($"{name} is named as an image and is empty.");
        else
            found.Note($"{name} is empty; it is ignored.");
    }

    private async Task WalkZipAsync(Stream whole, Func<Stream>? reopen, Place place, CancellationToken cancel)
    {
        await using var seekable = reopen?.Invoke() ?? await SpoolAsync(whole, cancel).ConfigureAwait(false);
        await ZipGuard.CheckAsync(seekable, limits.MaxMembers, cancel).ConfigureAwait(false);
        await using var other = new OtherZip(seekable, password);
        await using var zip = await ZipArchive
            .CreateAsync(seekable, ZipArchiveMode.Read, leaveOpen: true, entryNameEncoding: Names, cancel)
            .ConfigureAwait(false);
        long packed = 0;
        var before = found.Numbered;
        var names = new HashSet<string>(StringComparer.Ordinal);
        var number = -1;
        foreach (var entry in zip.Entries)
        {
            number++;
            if (entry.FullName.EndsWith('/'))
                continue;
            if (!found.MayEnter(entry.FullName, place.Name(entry.FullName)))
                return;
            packed += entry.CompressedLength;
            if (packed > seekable.Length)
            {
                found.Fatal($"{place.Within ?? "The archive"} is a trap: its members overlap, and claim more bytes than it has.");
                return;
            }

            var name = place.Name(entry.FullName);
            if (!names.Add(entry.FullName))
                found.Fatal($"{place.Name(entry.FullName)} is there twice: which one is meant cannot be known.");
            if (entry.IsEncrypted && password is null)
                Locked($"{name} is locked with a password.");
            else if ((entry.ExternalAttributes >> 16 & 0xF000) == 0xA000)
                found.Note($"{name} is a link; it is ignored.");
            else if (entry.Length == 0)
                Empty(name);
            else
                await ReadZipEntryAsync(entry, () => OpenEntryAsync(entry, number, other, cancel), name, place, cancel)
                    .ConfigureAwait(false);
            if (reopen is not null && place.Within is null)
                meter.Add(entry.CompressedLength);
        }

        if (found.Numbered == before)
            found.Fatal(place.Within is null ? "The archive holds no file." : $"{place.Within} is an archive that holds no file.");
    }

    private static async ValueTask<Stream> OpenEntryAsync(ZipArchiveEntry entry, int number, OtherZip other, CancellationToken cancel)
    {
        if (entry.IsEncrypted)
            return await other.OpenAsync(number, entry, cancel).ConfigureAwait(false);
        try
        {
            return await entry.OpenAsync(cancel).ConfigureAwait(false);
        }
        catch (InvalidDataException)
        {
            // Packed in a way that the plain reader does not know, or broken: the other one says which.
            return await other.OpenAsync(number, entry, cancel).ConfigureAwait(false);
        }
    }

    private async Task ReadZipEntryAsync(
        ZipArchiveEntry entry,
        Func<ValueTask<Stream>> openEntry,
        string name,
        Place place,
        CancellationToken cancel
    )
    {
        try
        {
            await using var data = await openEntry().ConfigureAwait(false);
            var member = new CheckedMember(Guarded(data), entry.Length, entry is { IsEncrypted: true, Crc32: 0 } ? null : entry.Crc32);
            await ReadMemberAsync(entry.FullName, member, entry.Length, place, null, cancel).ConfigureAwait(false);
            // The checksum is compared at the end, which nobody may have read to.
            while (await member.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
        }
        catch (Exception error) when (entry.IsEncrypted && (OtherZip.IsRefusal(error) || IsDamage(error, cancel)))
        {
            Locked($"{name} is locked, and the password given does not open it.");
        }
        catch (Exception error) when (IsDamage(error, cancel))
        {
            found.Fatal(
                $"{name} is damaged. {(error is InvalidDataException && error.Message.StartsWith("It", StringComparison.Ordinal) ? error.Message : "Its bytes cannot be unpacked.")}"
            );
        }
    }

    private static async Task<Stream> SpoolAsync(Stream whole, CancellationToken cancel)
    {
        var path = Path.Combine(Path.GetTempPath(), $"junctra-walk-{Environment.ProcessId}-{Path.GetRandomFileName()}");
        var spool = new FileStream(path, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.Delete, 1, FileOptions.Asynchronous);
        try
        {
            // Without a name it goes away with this program, however that ends.
            File.Delete(path);
            var rented = ArrayPool<byte>.Shared.Rent(BufferBytes);
            for (int count; (count = await whole.ReadAsync(rented, cancel).ConfigureAwait(false)) > 0; )
                await spool.WriteAsync(rented.AsMemory(0, count), cancel).ConfigureAwait(false);
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

    private static string Word(TarEntryType type) =>
        type switch
        {
            TarEntryType.SymbolicLink or TarEntryType.HardLink => "link",
            TarEntryType.BlockDevice or TarEntryType.CharacterDevice => "device",
            TarEntryType.Fifo => "pipe",
            _ => $"entry of the kind {type}",
        };
}
