using System.Formats.Tar;
using System.IO.Compression;
using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>Writes the images of a verified package as a plain archive with a list of their digests.</summary>
public static class PackageRepacker
{
    /// <summary>Writes an archive.</summary>
    /// <param name="package">The package; nothing may speak against it.</param>
    /// <param name="open">Opens an image as a phone is given it, seekable from its first byte.</param>
    /// <param name="form">TAR or ZIP.</param>
    /// <param name="output">Takes the archive; need not be seekable.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="InvalidOperationException">The package is damaged.</exception>
    public static async Task WriteAsync(
        Package package,
        Func<PackageImage, Stream> open,
        FileForm form,
        Stream output,
        CancellationToken cancel = default
    )
    {
        if (package.IsDamaged)
            throw new InvalidOperationException("A damaged package is not packed anew.");
        // That a pack erases must be seen from what it holds, or somebody would take it for the other one.
        if (
            package.Parts.Any(part =>
                part.Kind == PartKind.CleanPack && !part.Images.Any(image => image.Role == Core.Catalogue.PartitionRole.UserData)
            )
        )
            throw new InvalidOperationException(
                "Only a line of text says that the clean pack erases the data; packed anew it could not be told from the other."
            );
        var texts = new List<(string Name, byte[] Bytes)>
        {
            ("requirements.txt", Encoding.UTF8.GetBytes(Says(package))),
            ("SHA256SUMS", Encoding.UTF8.GetBytes(ChecksumText.Write(PackageManifest.ChecksumsOf(package)))),
        };
        if (form == FileForm.Zip)
            await ZipAsync(package, texts, open, output, cancel).ConfigureAwait(false);
        else
            await TarAsync(package, texts, open, output, cancel).ConfigureAwait(false);
    }

    /// <summary>What the package says of itself, once each; parts are told apart by their folders instead.</summary>
    private static string Says(Package package)
    {
        var lines = package
            .Contents.Requirements.Where(line => line.Name is not ("part" or "data"))
            .Select(line => line with { Within = null })
            .DistinctBy(line => (line.Name, string.Join('|', line.Values)))
            .ToList();
        return RequirementText.Write(lines);
    }

    private static async Task TarAsync(
        Package package,
        List<(string Name, byte[] Bytes)> texts,
        Func<PackageImage, Stream> open,
        Stream output,
        CancellationToken cancel
    )
    {
        await using var tar = new TarWriter(output, TarEntryFormat.Pax, leaveOpen: true);
        foreach (var (name, bytes) in texts)
            await EntryAsync(name, new MemoryStream(bytes)).ConfigureAwait(false);
        foreach (var image in package.Images)
            await EntryAsync(PackageManifest.RepackedName(package, image), open(image)).ConfigureAwait(false);

        async Task EntryAsync(string name, Stream data)
        {
            await using (data.ConfigureAwait(false))
            {
                await tar.WriteEntryAsync(
                        new PaxTarEntry(TarEntryType.RegularFile, name)
                        {
                            DataStream = data,
                            ModificationTime = DateTimeOffset.UnixEpoch,
                            Mode = UnixFileMode.UserRead | UnixFileMode.GroupRead | UnixFileMode.OtherRead,
                        },
                        cancel
                    )
                    .ConfigureAwait(false);
            }
        }
    }

    private static async Task ZipAsync(
        Package package,
        List<(string Name, byte[] Bytes)> texts,
        Func<PackageImage, Stream> open,
        Stream output,
        CancellationToken cancel
    )
    {
        await using var zip = await ZipArchive
            .CreateAsync(output, ZipArchiveMode.Create, leaveOpen: true, entryNameEncoding: null, cancel)
            .ConfigureAwait(false);
        foreach (var (name, bytes) in texts)
            await EntryAsync(name, new MemoryStream(bytes)).ConfigureAwait(false);
        foreach (var image in package.Images)
            await EntryAsync(PackageManifest.RepackedName(package, image), open(image)).ConfigureAwait(false);

        async Task EntryAsync(string name, Stream data)
        {
            await using (data.ConfigureAwait(false))
            {
                var entry = zip.CreateEntry(name, CompressionLevel.Fastest);
                entry.LastWriteTime = new DateTimeOffset(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);
                await using var to = await entry.OpenAsync(cancel).ConfigureAwait(false);
                await data.CopyToAsync(to, cancel).ConfigureAwait(false);
            }
        }
    }
}
