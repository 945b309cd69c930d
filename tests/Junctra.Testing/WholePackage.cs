using Junctra.Core.Catalogue;
using Junctra.Core.Packages;

namespace Junctra.Testing;

/// <summary>Packages for any model of the catalogue, of the kind that its maker sends out, or of another.</summary>
public static class WholePackage
{
    /// <summary>A build string of a model, of a revision.</summary>
    public static string BuildOf(PhoneModel model, int revision) =>
        model.Code[..2] switch
        {
            "TN" => $"{model.Code}.{revision}.2608.WHM1",
            "TR" => $"{model.Code}-N-14c-{revision:00}-20260311",
            "HX" => $"{model.Code}/15.26w10-7.r{revision}",
            _ => $"{model.Code}_2.6.118_r{revision:00}_DNM",
        };

    /// <summary>Every image of the stock list, with both region packs where the model has one.</summary>
    /// <param name="model">The model.</param>
    /// <param name="revision">The bootloader revision that it brings.</param>
    /// <param name="layout">Sizes of a partition table that comes with it; null for none.</param>
    /// <param name="hasCleanPack">Whether the clean pack is in it.</param>
    /// <param name="storage">A line that says for which storage it is, or null.</param>
    /// <param name="loose">Whether what lies inside the large partition comes image by image.</param>
    public static Package Of(
        PhoneModel model,
        int revision = 3,
        IEnumerable<TableEntry>? layout = null,
        bool hasCleanPack = true,
        string? storage = null,
        bool loose = false
    )
    {
        List<PackageMember> members = [];
        foreach (var spec in model.Partitions.Where(spec => spec.IsStock))
        {
            if (loose && spec == model.Large)
            {
                members.AddRange(model.DynamicPartitions.Select(name => Member(name, null)));
                continue;
            }

            members.Add(Member(spec.Name, spec.Role == PartitionRole.RegionPack ? "pack-keep.tar" : null));
            if (spec.Role == PartitionRole.RegionPack && hasCleanPack)
            {
                members.Add(Member(spec.Name, "pack-clean.tar"));
                members.Add(Member(model.Partitions.First(one => one.Role == PartitionRole.UserData).Name, "pack-clean.tar"));
            }
        }

        if (layout is not null)
            members.Add(
                Member("layout", null) with
                {
                    Image = Member("layout", null).Image! with { Inside = new ImageInside(Table: new PartitionTable(4096, [.. layout])) },
                }
            );
        List<RequirementLine> lines = [new("board", [model.Code], true), new("build", [BuildOf(model, revision)], false)];
        if (storage is not null)
            lines.Add(new("storage-gb", [storage], true));
        return Read(model, lines, members, (layout is null ? "" : string.Join(',', layout) + storage) + (loose ? "loose" : ""));
    }

    /// <summary>A card update for a model, full.</summary>
    public static Package CardUpdate(PhoneModel model) =>
        Read(
            model,
            [new("pre-device", [model.Code], false), new("post-build", [BuildOf(model, 3)], false)],
            [
                .. model
                    .Partitions.Where(spec => spec is { IsStock: true, Role: not (PartitionRole.BootChain or PartitionRole.Radio) })
                    .Select(spec => Member(spec.Name, null)),
            ],
            "card"
        );

    /// <summary>A backup of a phone of a model.</summary>
    public static Package Backup(PhoneModel model, string serial, string? system = "stock", bool hasData = true) =>
        Read(
            model,
            [
                new("backup-serial", [serial], false),
                new("backup-model", [model.Code], false),
                new("taken", ["2026-02-14"], false),
                new("build", [BuildOf(model, 3)], false),
                .. system is null ? Array.Empty<RequirementLine>() : [new("system", [system], false)],
            ],
            [
                .. model
                    .Partitions.Where(spec =>
                        spec.Role is PartitionRole.Boot or PartitionRole.System || hasData && spec.Role == PartitionRole.UserData
                    )
                    .Select(spec => Member(spec.Name, null)),
            ],
            $"backup {serial} {system} {hasData}"
        );

    /// <summary>The image of a recovery alone.</summary>
    public static Package Recovery(PhoneModel model)
    {
        var member = Member("recovery", null);
        var id = Sample.Digest("recovery of " + model.Code);
        return PackageReader.Read(
            "recovery.img",
            new PackageContents(
                member.Image!.Bytes,
                id,
                id,
                [member],
                [new("board", [model.Code], true)],
                [],
                [],
                FileForm.Image,
                PublishedBy: Sample.Mirror
            )
            {
                IsSingle = true,
            },
            Repo.Catalogue
        );
    }

    private static PackageMember Member(string partition, string? within) =>
        Sample.Image(partition, 64 << 10, name: (within is null ? "" : within + "/") + partition + ".img") with
        {
            Within = within,
        };

    private static Package Read(PhoneModel model, IReadOnlyList<RequirementLine> lines, IReadOnlyList<PackageMember> members, string seed)
    {
        var id = Sample.Digest(model.Code + seed + string.Join(',', lines.Select(line => line.Values[0])));
        return PackageReader.Read(
            $"{BuildOf(model, 3).Replace('/', '-')}.tar",
            new PackageContents(5_000, id, id, members, lines, [], [], FileForm.Tar, PublishedBy: Sample.Mirror),
            Repo.Catalogue
        );
    }
}
