using Junctra.Core.Phones;

namespace Junctra.Core.Packages;

/// <summary>The kinds of package Junctra can tell apart.</summary>
public enum PackageKind
{
    /// <summary>Nothing known; never written.</summary>
    Unknown,
    /// <summary>Boot chain, radio and images with requirement lines, written in fastboot mode.</summary>
    FactorySet,
}

/// <summary>Whether an image's bytes agree with a digest that somebody published.</summary>
public enum DigestState
{
    /// <summary>A published or embedded digest is the same.</summary>
    Matches,
    /// <summary>There is no digest to compare with.</summary>
    NothingToCompare,
    /// <summary>A published or embedded digest is another.</summary>
    Differs,
}

/// <summary>One image of a package.</summary>
/// <param name="Partition">The partition it is for, from its file name.</param>
/// <param name="Member">Its bytes in the archive.</param>
/// <param name="Digest">Whether they are what the publisher sent out.</param>
public sealed record PackageImage(string Partition, PackageMember Member, DigestState Digest)
{
    /// <summary>The image as a phone is given it.</summary>
    public MemberImage Body => Member.Image!;
}

/// <summary>Something a package says of itself, and where it says it.</summary>
/// <param name="Fact">Which fact.</param>
/// <param name="Value">The value, normalised.</param>
/// <param name="Where">The line or string it comes from.</param>
public sealed record PackageStatement(FactName Fact, string Value, string Where);

/// <summary>A package, with what its contents mean by the catalogue.</summary>
/// <param name="FileName">Name of its file, for people; nothing is decided by it.</param>
/// <param name="Contents">What is in the file.</param>
/// <param name="Kind">What kind it is.</param>
/// <param name="Build">Its build, as its maker's grammar reads it, or null.</param>
/// <param name="Images">Its images in archive order.</param>
/// <param name="Statements">What it says of itself; places may contradict each other.</param>
/// <param name="Findings">What was noticed, the worst first.</param>
public sealed record Package(
    string FileName,
    PackageContents Contents,
    PackageKind Kind,
    BuildReading? Build,
    IReadOnlyList<PackageImage> Images,
    IReadOnlyList<PackageStatement> Statements,
    IReadOnlyList<PackageFinding> Findings)
{
    /// <summary>The package's name for people: its build, or its file's name.</summary>
    public string Title => Build?.Build ?? FileName;

    /// <summary>Digest of the file, by which it is told from any other.</summary>
    public string Id => Contents.Sha256;

    /// <summary>Every value the package gives for a fact of itself, once.</summary>
    public IReadOnlyList<string> Says(FactName fact) =>
        [.. Statements.Where(s => s.Fact == fact).Select(s => s.Value).Distinct(StringComparer.OrdinalIgnoreCase)];

    /// <summary>Every bootloader revision it claims for itself, lowest first; more than one is a contradiction.</summary>
    public IReadOnlyList<int> Revisions => [.. Says(FactName.BootloaderRevision).Select(int.Parse).Order()];

    /// <summary>The image for a partition, or null.</summary>
    public PackageImage? Image(string partition) => Images.FirstOrDefault(image => image.Partition == partition);
}
