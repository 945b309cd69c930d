using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;

namespace Junctra.Core.Practice;

/// <summary>What a package on the practice shelf is.</summary>
public enum ShelfKind
{
    /// <summary>A full package, of the kind that its maker sends out.</summary>
    Full,

    /// <summary>A full package that brings the phone's own layout besides.</summary>
    WithLayout,

    /// <summary>An update for the storage card.</summary>
    CardUpdate,

    /// <summary>A backup of a phone, from before it was modified.</summary>
    Backup,

    /// <summary>The image of a recovery alone.</summary>
    Recovery,

    /// <summary>The system part of a bundle, patched by a root manager.</summary>
    Patched,
}

/// <summary>A package on the practice shelf: there is no file, only what would be read in it.</summary>
/// <param name="Model">Code of the model for which it says it is.</param>
/// <param name="Build">Its build string.</param>
public sealed record ShelfPackage(string Model, string Build)
{
    /// <summary>What it is.</summary>
    public ShelfKind Kind { get; init; }

    /// <summary>Whether its publisher's digest proves it.</summary>
    public bool IsProven { get; init; } = true;

    /// <summary>Partitions that it lacks.</summary>
    public IReadOnlyList<string> Without { get; init; } = [];

    /// <summary>Of a backup, the serial of the phone from which it was taken.</summary>
    public string? Serial { get; init; }

    /// <summary>Of a patched part, by what it was patched.</summary>
    public string? PatchedBy { get; init; }

    /// <summary>What it says of itself besides, line by line: <c>version-baseband</c>.</summary>
    public IReadOnlyDictionary<string, string> Says { get; init; } = new Dictionary<string, string>();

    /// <summary>Of a card update, whether its copy lies on the phone's card as recovery wants it.</summary>
    public bool IsOnCard { get; init; }

    private const long MaxImageBytes = 400_000_000,
        LayoutBytes = 16_384;
    private const int BlockBytes = 4096;
    private const string Publisher = "practice";
    private static readonly PartitionRole[] NotOnACard = [PartitionRole.BootChain, PartitionRole.Radio],
        BackedUp = [PartitionRole.Boot, PartitionRole.System, PartitionRole.UserData],
        ChangedByRoot = [PartitionRole.Boot],
        InAPatchedPart = [PartitionRole.Boot, PartitionRole.System];

    /// <summary>The package as it would be read from a file.</summary>
    /// <exception cref="ArgumentException">Its model is not in the catalogue.</exception>
    public Package Read(ModelCatalogue catalogue)
    {
        var model = catalogue.Model(Model) ?? throw new ArgumentException($"{Model} is no model of the catalogue.");
        var members = new List<PackageMember>();
        foreach (var spec in model.Partitions.Where(IsIn))
        {
            Add(spec, spec.Role == PartitionRole.RegionPack && IsFull ? "pack-keep.tar" : null);
            if (spec.Role == PartitionRole.RegionPack && IsFull)
            {
                Add(spec, "pack-clean.tar");
                Add(model.Partitions.First(one => one.Role == PartitionRole.UserData), "pack-clean.tar");
            }
        }

        if (Kind == ShelfKind.WithLayout)
            members.Add(
                Member(
                    "layout",
                    null,
                    PartitionRole.Other,
                    LayoutBytes,
                    new ImageInside(Table: new PartitionTable(BlockBytes, [.. Layout(model)]))
                )
            );
        var id = Digest($"{Model} {Build} {Kind} {IsProven} {Serial} {PatchedBy} {string.Join(',', Without)} {string.Join(',', Says)}");
        return PackageReader.Read(
            FileName,
            new PackageContents(
                members.Sum(member => member.PackedBytes),
                id,
                IsProven ? id : null,
                members,
                [.. Lines(model)],
                [],
                [],
                Kind == ShelfKind.Recovery ? FileForm.Image : FileForm.Tar,
                PublishedBy: IsProven ? Publisher : null
            )
            {
                IsSingle = Kind == ShelfKind.Recovery,
            },
            catalogue
        );

        // Three quarters of its partition, as images are.
        void Add(PartitionSpec spec, string? within) =>
            members.Add(Member(spec.Name, within, spec.Role, Math.Min(MaxImageBytes, spec.SizeBytes / 4 * 3), null));

        PackageMember Member(string partition, string? within, PartitionRole role, long bytes, ImageInside? inside)
        {
            // What a root manager left as it was is still the maker's.
            var changed = Kind == ShelfKind.Patched && ChangedByRoot.Contains(role) ? PatchedBy : "";
            var digest = Digest(Build + partition + changed);
            return new PackageMember(
                members.Count,
                $"{(within is null ? "" : within + "/")}{partition}.img",
                within,
                MemberKind.Image,
                bytes,
                digest,
                new MemberImage(ImageFormat.Raw, Wrapping.None, bytes, digest, bytes, digest, null, inside)
            );
        }
    }

    private bool IsFull => Kind is ShelfKind.Full or ShelfKind.WithLayout;

    private string FileName =>
        Kind switch
        {
            ShelfKind.Recovery => "recovery.img",
            ShelfKind.Patched => $"{Plain}-patched.tar",
            ShelfKind.Backup => $"backup-{Serial}.tar",
            ShelfKind.CardUpdate => $"{Plain}-card.tar",
            _ => $"{Plain}.tar",
        };

    private string Plain => Build.Replace('/', '-');

    private bool IsIn(PartitionSpec spec) =>
        !Without.Contains(spec.Name)
        && Kind switch
        {
            ShelfKind.CardUpdate => spec.IsStock && !NotOnACard.Contains(spec.Role),
            ShelfKind.Backup => BackedUp.Contains(spec.Role),
            ShelfKind.Recovery => spec.Role == PartitionRole.Recovery,
            ShelfKind.Patched => InAPatchedPart.Contains(spec.Role),
            _ => spec.IsStock,
        };

    private IEnumerable<RequirementLine> Lines(PhoneModel model)
    {
        foreach (var (name, value) in Says)
            yield return new(name, [value], false);
        switch (Kind)
        {
            case ShelfKind.CardUpdate:
                yield return new("pre-device", [model.Code], false);
                yield return new("post-build", [Build], false);
                break;
            case ShelfKind.Backup:
                yield return new("backup-serial", [Serial ?? ""], false);
                yield return new("backup-model", [model.Code], false);
                yield return new("taken", ["2026-02-14"], false);
                yield return new("build", [Build], false);
                yield return new("system", ["stock"], false);
                break;
            default:
                yield return new("board", [model.Code], true);
                if (Kind != ShelfKind.Recovery)
                    yield return new("build", [Build], false);
                if (Kind == ShelfKind.Patched)
                    yield return new("patched-by", [PatchedBy ?? ""], false);
                break;
        }
    }

    // The layout that the model has: for one that was damaged.
    private static IEnumerable<TableEntry> Layout(PhoneModel model) =>
        model.Partitions.Select(spec => new TableEntry(spec.Name, spec.SizeBytes));

    private static string Digest(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
