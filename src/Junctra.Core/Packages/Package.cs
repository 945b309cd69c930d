using System.Collections.ObjectModel;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>Whose a package is.</summary>
public enum Provenance
{
    /// <summary>That cannot be told.</summary>
    Unknown,

    /// <summary>Its maker's, as sent out.</summary>
    Official,

    /// <summary>Its maker's, before it was sent out to everybody.</summary>
    PreRelease,

    /// <summary>Changed by somebody after the maker.</summary>
    Patched,
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
/// <param name="Role">What that partition is for; null where the catalogue does not know it.</param>
public sealed record PackageImage(string Partition, PackageMember Member, DigestState Digest, PartitionRole? Role = null)
{
    /// <summary>The image as a phone is given it.</summary>
    public MemberImage Body => Member.Image!;
}

/// <summary>Something a package says of itself, and where it says it.</summary>
/// <param name="Fact">Which fact.</param>
/// <param name="Value">The value, normalised.</param>
/// <param name="Where">The line or string it comes from.</param>
/// <param name="Place">Number of that place: what one place names is a choice, what two places name must hold together.</param>
public sealed record PackageStatement(FactName Fact, string Value, string Where, int Place = 0);

/// <summary>A package, with what its contents mean by the catalogue.</summary>
/// <param name="FileName">Name of its file, for people; nothing is decided by it.</param>
/// <param name="Contents">What is in the file.</param>
/// <param name="Kind">What kind it is.</param>
/// <param name="Build">Its build, as its maker's grammar reads it, or null.</param>
/// <param name="Images">Its images in archive order.</param>
/// <param name="Statements">What it says of itself; places may contradict each other.</param>
/// <param name="Parts">Its images by the archive of it in which they lie; one part where it has no archives in it.</param>
/// <param name="Findings">What was noticed, the worst first.</param>
public sealed record Package(
    string FileName,
    PackageContents Contents,
    PackageKind Kind,
    BuildReading? Build,
    IReadOnlyList<PackageImage> Images,
    IReadOnlyList<PackageStatement> Statements,
    IReadOnlyList<PackagePart> Parts,
    IReadOnlyList<PackageFinding> Findings
)
{
    /// <summary>The partition table that comes with it, or null.</summary>
    public PackageMember? Layout => Contents.Members.FirstOrDefault(member => member.Image?.Inside?.Table is not null);

    /// <summary>Requirements that Junctra does not know, or cannot read: nobody has met them.</summary>
    public IReadOnlyList<string> Unmet { get; init; } = [];

    /// <summary>Whether every member, images or not, agrees with a digest that came with it.</summary>
    public bool IsListed { get; init; }

    /// <summary>The build that an incremental update goes from, or null.</summary>
    public string? BaseBuild => Line("pre-build");

    /// <summary>What a backup says of the phone it was taken from, or null where this is none.</summary>
    public BackupOrigin? Backup =>
        Line("backup-serial") is { } serial ? new BackupOrigin(serial, Line("taken"), Line("system")?.ToLowerInvariant()) : null;

    /// <summary>
    /// Whose it is, as far as can be told. A list of digests that came with it proves it whole, and says nothing of that: only a digest
    /// from elsewhere which the shop trusts makes it its maker's, and any mark in it that says otherwise counts more.
    /// </summary>
    public Provenance Provenance =>
        Marks.Patched is not null ? Provenance.Patched
        : Marks.PreRelease is not null ? Provenance.PreRelease
        : Contents.IsProven ? Provenance.Official
        : Provenance.Unknown;

    /// <summary>What in it says that it is no release of its maker's.</summary>
    public PackageMarks Marks { get; init; } = PackageMarks.None;

    /// <summary>The version of the root manager that patched it, or null where that is not said.</summary>
    public string? PatchedWith =>
        Marks.Patched?.Split(' ', StringSplitOptions.RemoveEmptyEntries).LastOrDefault(word => char.IsAsciiDigit(word[0]));

    /// <summary>Whether nothing of it may be written: its bytes cannot be trusted, or it contradicts itself.</summary>
    public bool IsDamaged => Findings.Any(finding => finding.Weight >= FindingWeight.Contradiction);

    /// <summary>The value of a line by which it says what it is, or null.</summary>
    public string? Line(string name) => Contents.Requirements.FirstOrDefault(line => PackageStatements.Plain(line.Name) == name)?.Values[0];

    /// <summary>The package's name for people: its build, or its file's name.</summary>
    public string Title => Build?.Build ?? FileName;

    /// <summary>Digest of the file, by which it is told from any other.</summary>
    public string Id => Contents.Sha256;

    /// <summary>
    /// The values that the package gives for a fact of itself, each once. For model, chip, region and storage these are the values that
    /// every place allows: a set for two models whose inner archive is for one of them is for that one. Where no value is left, all of them
    /// are named, and the package contradicts itself.
    /// </summary>
    public IReadOnlyList<string> Says(FactName fact) => (Statements as StatementList ?? new StatementList(Statements)).Of(fact);

    /// <summary>What those values mean.</summary>
    public IEnumerable<T> Meanings<T>(FactOf<T> fact)
    {
        foreach (var text in Says(fact))
            if (fact.TryRead(text, out var value))
                yield return value;
    }

    /// <summary>Every bootloader revision it claims for itself, lowest first; more than one is a contradiction.</summary>
    public IReadOnlyList<Revision> Revisions => [.. Meanings(FactName.BootloaderRevision).Order()];

    /// <summary>The image for a partition, or null.</summary>
    public PackageImage? Image(string partition) => Images.FirstOrDefault(image => image.Partition == partition);
}

/// <summary>Statements, with the values of each fact at hand: every rule asks for them, of every candidate.</summary>
internal sealed class StatementList(IEnumerable<PackageStatement> statements) : ReadOnlyCollection<PackageStatement>([.. statements])
{
    private Dictionary<FactName, IReadOnlyList<string>>? values;

    /// <summary>The values of a fact, each once.</summary>
    public IReadOnlyList<string> Of(FactName fact)
    {
        values ??= this.GroupBy(said => said.Fact).ToDictionary(group => group.Key, Together);
        return values.TryGetValue(fact, out var found) ? found : [];
    }

    private static IReadOnlyList<string> Together(IGrouping<FactName, PackageStatement> said)
    {
        IReadOnlyList<string> all = [.. said.Select(one => one.Value).Distinct(StringComparer.OrdinalIgnoreCase)];
        if (all.Count == 1 || !PackageStatements.HoldTogether.Contains(said.Key))
            return all;
        IReadOnlyList<string> common =
        [
            .. all.Where(value =>
                said.GroupBy(one => one.Place).All(place => place.Any(one => one.Value.Equals(value, StringComparison.OrdinalIgnoreCase)))
            ),
        ];
        return common.Count > 0 ? common : all;
    }
}
