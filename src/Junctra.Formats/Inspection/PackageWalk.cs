using Junctra.Core;
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
/// <param name="others">Digests that are computed beside SHA-256.</param>
internal sealed partial class PackageWalk(
    Func<Stream> open,
    InspectionLimits limits,
    Func<int, Stream?>? copyTo,
    WalkMeter meter,
    string? password = null,
    HashKinds others = HashKinds.None
)
{
    private const int BufferBytes = 1 << 18;

    /// <summary>What an image is called that is no member of anything.</summary>
    private const string SingleImage = "image";

    private static readonly NameEncoding Names = new();
    private readonly byte[] buffer = new byte[BufferBytes];
    private WalkFindings found = new(limits, 0);

    /// <summary>Where a walk is.</summary>
    /// <param name="Within">Name of the archive member that is walked, or null for the package file itself.</param>
    /// <param name="Depth">How deep, from 1.</param>
    /// <param name="Base">Where its bytes lie plainly in the file, or null.</param>
    private sealed record Place(string? Within, int Depth, long? Base)
    {
        public string Name(string member) => Within is null ? ShownText.Of(member) : $"{Within}/{ShownText.Of(member)}";
    }

    /// <summary>Walks the file; whatever is wrong with it is among the findings.</summary>
    public async Task<WalkFindings> WalkAsync(CancellationToken cancel)
    {
        await using var file = open();
        found = new WalkFindings(limits, file.Length);
        var root = new Place(null, 1, 0);
        try
        {
            await using var whole = await MemberStream
                .OpenAsync(new CountedStream(file, count => meter.Add(count)), null, limits.MaxTextBytes, cancel)
                .ConfigureAwait(false);
            found.Form = FormOf(whole);
            switch (whole.Kind)
            {
                case ContentKind.Tar or ContentKind.Zip:
                    await WalkArchiveAsync(whole.Kind, whole, open, root, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Gzip or ContentKind.Lz4 or ContentKind.Zstandard or ContentKind.Xz or ContentKind.Bzip2:
                    await WalkWrappedRootAsync(whole, root, cancel).ConfigureAwait(false);
                    break;
                case ContentKind.Sparse or ContentKind.Raw when found.Form == FileForm.Image:
                    var image = new Spot(SingleImage, root, found.NextNumber());
                    found.IsSingle = true;
                    Watch(whole);
                    whole.Copy = copyTo?.Invoke(image.Number);
                    Add(
                        image,
                        MemberKind.Image,
                        whole,
                        await ReadImageAsync("The file", whole, Wrapping.None, 0, cancel).ConfigureAwait(false),
                        await whole.DigestAsync().ConfigureAwait(false)
                    );
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
        catch (Exception error) when (IsDamage(error, cancel))
        {
            found.Fatal(
                error is InvalidDataException { Message: var reason } && IsOwnWord(reason) ? $"The file cannot be read. {reason}"
                : found.Members.Count == 0 ? "This is no archive that can be read, or it is cut off at its beginning."
                : $"The archive is cut off or damaged after {found.Members[^1].Name}."
            );
        }

        return found;
    }

    private async Task WalkWrappedRootAsync(MemberStream packed, Place root, CancellationToken cancel)
    {
        packed.DigestBeside();
        Watch(packed);
        await using var unwrapped = Unwrapping.Open(packed.Kind, packed);
        await using var inner = await MemberStream.OpenAsync(Guarded(unwrapped), null, limits.MaxTextBytes, cancel).ConfigureAwait(false);
        if (inner.Kind is ContentKind.Tar or ContentKind.Zip)
        {
            await WalkArchiveAsync(inner.Kind, inner, null, root with { Base = null }, cancel).ConfigureAwait(false);
            await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
        }
        else if (FormOf(inner) == FileForm.Image)
        {
            var at = new Spot(SingleImage, root, found.NextNumber());
            found.IsSingle = true;
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

    /// <summary>Reads an image to its end, expanding it where it is sparse.</summary>
    private async Task<MemberImage> ReadImageAsync(
        string name,
        MemberStream image,
        Wrapping wrapping,
        long? offset,
        CancellationToken cancel
    )
    {
        var beginning = new ImageBeginning();
        if (image.Kind != ContentKind.Sparse)
            image.Beginning = beginning;
        var (expanded, digest, fault) =
            image.Kind == ContentKind.Sparse
                ? await SparseExpansion.ReadAsync(image, found.ExpandedAllowed, beginning, cancel).ConfigureAwait(false)
                : (0, null, null);
        await image.DrainAsync(buffer, cancel).ConfigureAwait(false);
        if (fault is not null)
            found.Fatal($"{name} {fault}");
        var sha256 = await image.DigestAsync().ConfigureAwait(false);
        var isSparse = image.Kind == ContentKind.Sparse;
        var (inside, wrong) = fault is null ? beginning.Read(isSparse ? expanded : image.Position) : (null, null);
        if (wrong is not null)
            found.Fatal($"{name} {wrong}");
        found.Expanded(isSparse ? expanded : image.Position);
        return new MemberImage(
            isSparse ? ImageFormat.Sparse : ImageFormat.Raw,
            wrapping,
            image.Position,
            sha256,
            isSparse ? expanded : image.Position,
            isSparse ? digest : sha256,
            offset,
            inside,
            image.Others?.Digests()
        );
    }

    /// <summary>Damage inside a member ends the member, not the walk.</summary>
    private async Task DamageEndsHereAsync(string name, Func<Task> read)
    {
        try
        {
            await read().ConfigureAwait(false);
        }
        catch (Exception error) when (IsDamage(error, CancellationToken.None))
        {
            found.Fatal(
                $"{name} is cut off or damaged.{(error is InvalidDataException { Message: var reason } && IsOwnWord(reason) ? " " + reason : "")}"
            );
        }
    }

    private void Watch(MemberStream member)
    {
        if (others != HashKinds.None)
            member.Others = new OtherHashes(others);
    }

    /// <summary>Form of a file, or of what it was packed from. A raw image with nothing at its beginning to know it by is none.</summary>
    private static FileForm FormOf(MemberStream whole) =>
        whole.Kind switch
        {
            ContentKind.Tar => FileForm.Tar,
            ContentKind.Zip => FileForm.Zip,
            ContentKind.Gzip => FileForm.Gzip,
            ContentKind.Lz4 => FileForm.Lz4,
            ContentKind.Zstandard => FileForm.Zstandard,
            ContentKind.Xz => FileForm.Xz,
            ContentKind.Bzip2 => FileForm.Bzip2,
            ContentKind.Sparse => FileForm.Image,
            ContentKind.Raw when ImageBeginning.IsKnown(whole.Start) => FileForm.Image,
            _ => FileForm.Unknown,
        };

    private CountedStream Guarded(Stream unpacked) => new(unpacked, found.Unpacked);

    private void Add(Spot at, MemberKind kind, MemberStream member, MemberImage? image, string sha256) =>
        found.Members.Add(
            new PackageMember(at.Number, at.Name, at.Place.Within, kind, member.Position, sha256, image, member.Others?.Digests())
        );

    // The archive readers' own words are for programmers; what matters at the bench is where it broke, and why where that is our own
    // sentence.
    private static bool IsOwnWord(string reason) =>
        (
            reason.StartsWith("It", StringComparison.Ordinal)
            || reason.StartsWith("A ", StringComparison.Ordinal)
            || reason.StartsWith("The ", StringComparison.Ordinal)
        )
        && reason.EndsWith('.')
        && !reason.Contains('\'');

    /// <summary>
    /// Whatever a reader makes of bytes is damage of the file, but what the computer itself refuses: then nothing is known of the file.
    /// </summary>
    private static bool IsDamage(Exception error, CancellationToken cancel) =>
        error switch
        {
            TrapException => false,
            OperationCanceledException => !cancel.IsCancellationRequested && error.InnerException is not null,
            EndOfStreamException => true,
            IOException or UnauthorizedAccessException or OutOfMemoryException => false,
            _ => true,
        };

    /// <summary>Which member is at hand.</summary>
    private sealed record Spot(string Name, Place Place, int Number);
}
