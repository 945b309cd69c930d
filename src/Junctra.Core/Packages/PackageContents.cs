namespace Junctra.Core.Packages;

/// <summary>How an image's bytes are kept in its member.</summary>
public enum ImageFormat
{
    /// <summary>The partition's bytes as they are.</summary>
    Raw,
    /// <summary>Android sparse image: runs of data, fills and holes.</summary>
    Sparse,
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
    /// <summary>Belongs to no package; listed and ignored.</summary>
    Stray,
}

/// <summary>One member of an archive, as found.</summary>
/// <param name="Name">Its name in the archive, unchanged.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Offset">Where its bytes begin in the package file.</param>
/// <param name="PackedBytes">Its size in the archive.</param>
/// <param name="Sha256">Digest of its bytes, lower-case hexadecimal.</param>
/// <param name="Format">How an image is kept; null for other kinds.</param>
/// <param name="ExpandedBytes">Size of an image once expanded; equals <paramref name="PackedBytes"/> when raw.</param>
/// <param name="ExpandedSha256">Digest of the expanded image, holes read as zero; null for other kinds or when it could not be expanded.</param>
public sealed record PackageMember(
    string Name, MemberKind Kind, long Offset, long PackedBytes, string Sha256,
    ImageFormat? Format = null, long ExpandedBytes = 0, string? ExpandedSha256 = null);

/// <summary>One line of a requirements member.</summary>
/// <param name="Name">The name before the equals sign.</param>
/// <param name="Values">The allowed values, at least one.</param>
/// <param name="IsRequired">Whether the line began with <c>require</c>.</param>
public sealed record RequirementLine(string Name, IReadOnlyList<string> Values, bool IsRequired);

/// <summary>One line of a checksum list.</summary>
/// <param name="Sha256">Lower-case hexadecimal.</param>
/// <param name="FileName">The file it is the digest of, as written.</param>
public sealed record ChecksumLine(string Sha256, string FileName);

/// <summary>How much a finding matters.</summary>
public enum FindingWeight
{
    /// <summary>Worth knowing; changes nothing.</summary>
    Note,
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
/// <param name="PublishedSha256">The digest that a checksum list beside the file gives for it, or null.</param>
/// <param name="Members">The members in file order.</param>
/// <param name="Requirements">All requirement lines.</param>
/// <param name="Checksums">All lines of checksum lists inside the archive.</param>
/// <param name="Findings">What was noticed.</param>
public sealed record PackageContents(
    long SizeBytes,
    string Sha256,
    string? PublishedSha256,
    IReadOnlyList<PackageMember> Members,
    IReadOnlyList<RequirementLine> Requirements,
    IReadOnlyList<ChecksumLine> Checksums,
    IReadOnlyList<PackageFinding> Findings);
