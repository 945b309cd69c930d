namespace Junctra.Core.Packages;

/// <summary>How an image's bytes are kept in its member.</summary>
public enum ImageFormat
{
    /// <summary>The partition's bytes as they are.</summary>
    Raw,

    /// <summary>Android sparse image: runs of data, fills and holes.</summary>
    Sparse,
}

/// <summary>What an image is packed in on its own, inside its archive.</summary>
public enum Wrapping
{
    /// <summary>Nothing: the member's bytes are the image.</summary>
    None,

    /// <summary>gzip, RFC 1952.</summary>
    Gzip,

    /// <summary>LZ4 frame.</summary>
    Lz4,

    /// <summary>Zstandard, RFC 8878.</summary>
    Zstandard,

    /// <summary>xz.</summary>
    Xz,

    /// <summary>bzip2.</summary>
    Bzip2,
}

/// <summary>The form of a package file, judged by its content.</summary>
public enum FileForm
{
    /// <summary>None that is known.</summary>
    Unknown,

    /// <summary>TAR: ustar, pax, GNU or the oldest.</summary>
    Tar,

    /// <summary>ZIP.</summary>
    Zip,

    /// <summary>Packed as a whole with gzip.</summary>
    Gzip,

    /// <summary>Packed as a whole with LZ4.</summary>
    Lz4,

    /// <summary>Packed as a whole with Zstandard.</summary>
    Zstandard,

    /// <summary>Packed as a whole with xz.</summary>
    Xz,

    /// <summary>Packed as a whole with bzip2.</summary>
    Bzip2,

    /// <summary>An image and no archive.</summary>
    Image,
}

/// <summary>What a member of an archive is, judged by its content.</summary>
public enum MemberKind
{
    /// <summary>Bytes meant for a partition.</summary>
    Image,

    /// <summary>Requirement lines: <c>require board=a|b</c> and <c>key=value</c>.</summary>
    Requirements,

    /// <summary>Checksum list in the coreutils style.</summary>
    ChecksumList,

    /// <summary>What an update, a part or a backup says of itself: <c>key=value</c>.</summary>
    Metadata,

    /// <summary>An archive inside the archive; its members follow it.</summary>
    Archive,

    /// <summary>Belongs to no package; listed and ignored.</summary>
    Stray,
}

/// <summary>An image as a phone is given it: taken out of its archive and its wrapping.</summary>
/// <param name="Format">How it is kept.</param>
/// <param name="Wrapping">What it is wrapped in.</param>
/// <param name="Bytes">Its size as sent.</param>
/// <param name="Sha256">Digest of what is sent, lower-case hexadecimal.</param>
/// <param name="ExpandedBytes">Size once expanded; equals <paramref name="Bytes"/> when raw.</param>
/// <param name="ExpandedSha256">Digest once expanded, holes read as zero; null when it could not be expanded.</param>
/// <param name="Offset">Where its bytes lie as they are in the package file, or null when they must be unpacked first.</param>
/// <param name="Inside">What its beginning says, or null where it begins like nothing known.</param>
/// <param name="Others">Its other digests, only where a list publishes such.</param>
public sealed record MemberImage(
    ImageFormat Format,
    Wrapping Wrapping,
    long Bytes,
    string Sha256,
    long ExpandedBytes,
    string? ExpandedSha256,
    long? Offset,
    ImageInside? Inside = null,
    OtherDigests? Others = null
);

/// <summary>Digests besides SHA-256, lower-case hexadecimal, each only where somebody published one.</summary>
public sealed record OtherDigests(string? Md5 = null, string? Sha1 = null, string? Sha512 = null)
{
    /// <summary>The digest of the same kind as one that was published, told by its length; null where it was not computed.</summary>
    public static string? Like(string published, string sha256, OtherDigests? others) =>
        published.Length switch
        {
            ChecksumLine.Md5Digits => others?.Md5,
            ChecksumLine.Sha1Digits => others?.Sha1,
            ChecksumLine.Sha256Digits => sha256,
            ChecksumLine.Sha512Digits => others?.Sha512,
            _ => null,
        };
}

/// <summary>One member of an archive, as found.</summary>
/// <param name="Number">Its place in the order in which the file was walked, from 0; by it the member is found again.</param>
/// <param name="Name">Its name, after the names of the archives it lies in: <c>images.zip/boot.img</c>.</param>
/// <param name="Within">Name of the archive member it lies in, or null when it lies in the package file itself.</param>
/// <param name="Kind">What it is.</param>
/// <param name="PackedBytes">Its size as it lies in its archive, after the archive's own compression.</param>
/// <param name="Sha256">Digest of those bytes, lower-case hexadecimal.</param>
/// <param name="Image">The image it holds; null for other kinds.</param>
/// <param name="Others">Other digests of those bytes, only where a list publishes such.</param>
public sealed record PackageMember(
    int Number,
    string Name,
    string? Within,
    MemberKind Kind,
    long PackedBytes,
    string Sha256,
    MemberImage? Image = null,
    OtherDigests? Others = null
)
{
    /// <summary>Its path in the archive in which it lies.</summary>
    public string PathWithin => Within is null ? Name : Name[Math.Min(Name.Length, Within.Length + 1)..];
}

/// <summary>One line of a text by which a package, or a part of it, says what it is.</summary>
/// <param name="Name">The name before the equals sign.</param>
/// <param name="Values">The allowed values, at least one.</param>
/// <param name="IsRequired">Whether the line began with <c>require</c>.</param>
/// <param name="Within">Name of the archive member in which the text lies, or null.</param>
public sealed record RequirementLine(string Name, IReadOnlyList<string> Values, bool IsRequired, string? Within = null);

/// <summary>One line of a checksum list.</summary>
/// <param name="Digest">Lower-case hexadecimal: a SHA-256, or, by its length, an MD5, a SHA-1 or a SHA-512.</param>
/// <param name="FileName">The file it is the digest of, as written; empty where the list holds a digest alone, and is named after its
/// file.</param>
/// <param name="Within">Name of the archive member in which the list lies, or null.</param>
/// <param name="Folder">The folder of that archive in which the list lies; empty at its top.</param>
public sealed record ChecksumLine(string Digest, string FileName, string? Within = null, string Folder = "")
{
    /// <summary>Number of hexadecimal digits of an MD5.</summary>
    public const int Md5Digits = 32;

    /// <summary>Number of hexadecimal digits of a SHA-1.</summary>
    public const int Sha1Digits = 40;

    /// <summary>Number of hexadecimal digits of a SHA-256.</summary>
    public const int Sha256Digits = 64;

    /// <summary>Number of hexadecimal digits of a SHA-512.</summary>
    public const int Sha512Digits = 128;

    /// <summary>Whether so many digits are a digest of a kind that is known.</summary>
    public static bool IsLength(int digits) => digits is Md5Digits or Sha1Digits or Sha256Digits or Sha512Digits;

    /// <summary>Whether a digest tells damage but no ill will: files of one MD5 or SHA-1 can be made.</summary>
    public static bool IsWeak(string digest) => digest.Length < Sha256Digits;
}

/// <summary>How much a finding matters.</summary>
public enum FindingWeight
{
    /// <summary>Worth knowing; changes nothing.</summary>
    Note,

    /// <summary>Something in it must be cleared up first; until then nothing of the file is written.</summary>
    Doubt,

    /// <summary>Two places of it cannot both be right; nothing of the file is written.</summary>
    Contradiction,

    /// <summary>The bytes cannot be trusted; nothing of the file is written.</summary>
    Fatal,
}

/// <summary>Something noticed while a package was read.</summary>
/// <param name="Weight">How much it matters.</param>
/// <param name="Text">One sentence for the technician.</param>
public sealed record PackageFinding(FindingWeight Weight, string Text);

/// <summary>What one streaming pass over a file found. Knows nothing of models: <see cref="PackageReader"/> gives it meaning.</summary>
/// <param name="SizeBytes">Size of the file.</param>
/// <param name="Sha256">Digest of the whole file, lower-case hexadecimal.</param>
/// <param name="PublishedDigest">The digest that a checksum list beside the file gives for it, or null.</param>
/// <param name="Members">The members in file order.</param>
/// <param name="Requirements">All lines by which it says what it is: requirements, and metadata of updates, parts and backups.</param>
/// <param name="Checksums">All lines of checksum lists inside the archive.</param>
/// <param name="Findings">What was noticed.</param>
/// <param name="Form">The form of the file itself.</param>
/// <param name="Others">Other digests of the whole file, only where such are published.</param>
/// <param name="IsLocked">Whether members are locked with a password that was not given, or not the right one.</param>
/// <param name="PublishedBy">Who gave the published digest and is trusted by the shop: a mirror, or a list that the lead took in. Null for
/// a list that merely lies beside the file: that proves the file whole, not whose it is.</param>
public sealed record PackageContents(
    long SizeBytes,
    string Sha256,
    string? PublishedDigest,
    IReadOnlyList<PackageMember> Members,
    IReadOnlyList<RequirementLine> Requirements,
    IReadOnlyList<ChecksumLine> Checksums,
    IReadOnlyList<PackageFinding> Findings,
    FileForm Form = FileForm.Unknown,
    OtherDigests? Others = null,
    bool IsLocked = false,
    string? PublishedBy = null
)
{
    /// <summary>Whether the file is what its publisher sent out; null where nothing is published for it.</summary>
    public bool? IsAsPublished => PublishedDigest is null ? null : PublishedDigest == OtherDigests.Like(PublishedDigest, Sha256, Others);

    /// <summary>Whether a digest from elsewhere, which the shop trusts, says that this is its publisher's file.</summary>
    public bool IsProven =>
        PublishedBy is not null && PublishedDigest is not null && !ChecksumLine.IsWeak(PublishedDigest) && IsAsPublished == true;

    /// <summary>Whether the file is one image and no archive: then its name alone says for which partition it is.</summary>
    public bool IsSingle { get; init; }
}
