using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Testing;

/// <summary>Phones and packages in a few words.</summary>
public static class Sample
{
    /// <summary>Somebody whose digests the shop trusts.</summary>
    public const string Mirror = "Breakwater";

    public static DateTimeOffset Noon { get; } = new(2026, 9, 3, 12, 0, 0, TimeSpan.Zero);

    public static Fact Fact(FactName name, string value, FactSource source = FactSource.Link, int minute = 0) =>
        new(name, value, source, Noon.AddMinutes(minute), "bench");

    public static Phone Phone(params Fact[] facts) => new(facts);

    /// <summary>An HX204 as the link reads it: unlocked, floor and revision 3, an older build of its maker, battery 71 %.</summary>
    public static Phone Cairn(string floor = "3", string lockState = "unlocked", params Fact[] more) =>
        new([
            Fact(FactName.ModelCode, "HX204"),
            Fact(FactName.Serial, "HXA70431"),
            Fact(FactName.LockState, lockState),
            Fact(FactName.RollbackFloor, floor),
            Fact(FactName.BootloaderRevision, floor),
            Fact(FactName.BatteryPercent, "71"),
            Fact(FactName.RadioBuild, "HX204-R-26w02"),
            Fact(FactName.Build, "HX204/14.25w30-1.r2"),
            Fact(FactName.OsVersion, "14"),
            Fact(FactName.Mode, "fastboot"),
            .. more,
        ]);

    /// <summary>A whole HX204 factory set; every partition of the stock list, all digests published, with and without the file.</summary>
    public static Package Package(
        string board = "HX204",
        string? revision = "3",
        string build = "HX204/15.26w10-7.r3",
        long systemBytes = 25 << 20,
        bool withChecksums = true,
        string? leaveOut = null,
        IEnumerable<RequirementLine>? more = null,
        ModelCatalogue? catalogue = null,
        params PackageMember[] members
    )
    {
        PackageMember[] all =
        [
            Image("bootloader"),
            Image("radio"),
            Image("boot"),
            Image("overlay"),
            Image("verify", 64 << 10),
            Image("recovery"),
            Image("system", systemBytes),
            .. members,
        ];
        all = [.. all.Where(m => m.Name != leaveOut + ".img")];
        var lines = new List<RequirementLine> { new("board", [board], true) };
        if (revision is not null)
            lines.Add(new RequirementLine("version-bootloader", [revision], true));
        lines.Add(new RequirementLine("version-baseband", [$"{board}-R-26w06"], true));
        lines.Add(new RequirementLine("build", [build], false));
        lines.AddRange(more ?? []);
        var id = new string('a', 64);
        var contents = new PackageContents(
            5_000_000,
            id,
            withChecksums ? id : null,
            all,
            lines,
            withChecksums ? [.. all.Select(m => new ChecksumLine(m.Sha256, m.Name))] : [],
            [],
            PublishedBy: withChecksums ? Mirror : null
        );
        return PackageReader.Read("set.tar", contents, catalogue ?? Repo.Catalogue);
    }

    /// <summary>
    /// A package for a model of the catalogue, with an image for every partition of its stock list; a region pack lies in an archive of its
    /// own, which keeps the data.
    /// </summary>
    /// <param name="model">The model that it names; nothing where it is empty.</param>
    /// <param name="build">Its build line.</param>
    /// <param name="lines">More lines of the form <c>key=value</c>, separated by blanks; a tilde in a value is a blank.</param>
    /// <param name="published">Whether a digest of the file was published.</param>
    /// <param name="only">The partitions that it has images for; those of the stock list where it is left out.</param>
    /// <param name="catalogue">The catalogue that reads it.</param>
    public static Package Set(
        string model,
        string build,
        string lines = "",
        bool published = true,
        IEnumerable<string>? only = null,
        ModelCatalogue? catalogue = null
    )
    {
        var known = catalogue ?? Repo.Catalogue;
        var names = only
            ?? known.Model(model)?.Partitions.Where(partition => partition.IsStock).Select(partition => partition.Name)
            ?? ["boot", "system"];
        List<RequirementLine> said =
        [
            new("build", [build], false),
            .. lines
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(line => new RequirementLine(line.Split('=')[0], [line.Split('=', 2)[1].Replace('~', ' ')], false)),
        ];
        if (model.Length > 0)
            said.Add(new("board", [model], true));
        var id = Digest(model + build + published + lines + string.Join(',', names));
        return PackageReader.Read(
            $"{build}.tar",
            new PackageContents(
                5_000,
                id,
                published ? id : null,
                [.. names.Select(name => Image(name, 64 << 10) with { Within = name == "regionpack" ? "pack.tar" : null })],
                said,
                [],
                [],
                PublishedBy: published ? Mirror : null
            ),
            known
        );
    }

    /// <summary>A four-part bundle: each image in the archive of its part, the region pack keeping the data or not.</summary>
    public static Package Bundle(string build, bool keepPack)
    {
        PackageMember In(string part, string partition) =>
            Image(partition, 64 << 10) with
            {
                Within = part,
                Image = Image(partition, 64 << 10).Image! with { ExpandedSha256 = Digest(build + partition) },
            };
        List<PackageMember> members =
        [
            In("chain.tar", "bootchain"),
            In("chain.tar", "boot"),
            In("system.tar", "system"),
            In("system.tar", "recovery"),
            In("radio.tar", "radio"),
            In("pack.tar", "regionpack"),
        ];
        if (!keepPack)
            members.Add(In("pack.tar", "userdata"));
        var id = Digest(build + keepPack);
        return PackageReader.Read(
            $"{build}.zip",
            new PackageContents(
                9_000,
                id,
                id,
                members,
                [new("board", ["TN63E"], true), new("build", [build], false)],
                [],
                [],
                PublishedBy: Mirror
            ),
            Repo.Catalogue
        );
    }

    /// <summary>A part whose boot image was changed; its system is that of the bundle.</summary>
    public static Package Patched(string build, string? by)
    {
        PackageMember Changed(string partition, string seed) =>
            Image(partition, 64 << 10) with
            {
                Image = Image(partition, 64 << 10).Image! with { ExpandedSha256 = Digest(seed) },
            };
        List<RequirementLine> lines =
        [
            new("board", ["TN63E"], true),
            new("build", [build], false),
            new("patched-by", [by ?? "somebody"], false),
        ];
        return PackageReader.Read(
            "patched.tar",
            new PackageContents(
                4_000,
                Digest("patched" + build + by),
                null,
                [Changed("system", build + "system"), Changed("boot", "changed" + by)],
                lines,
                [],
                []
            ),
            Repo.Catalogue
        );
    }

    public static PackageMember Image(
        string partition,
        long bytes = 1 << 20,
        long? expanded = null,
        string? name = null,
        long? offset = 512
    )
    {
        var digest = Digest(partition);
        return new PackageMember(
            Number(name ?? partition),
            name ?? partition + ".img",
            null,
            MemberKind.Image,
            bytes,
            digest,
            new MemberImage(
                expanded is null ? ImageFormat.Raw : ImageFormat.Sparse,
                Wrapping.None,
                bytes,
                digest,
                expanded ?? bytes,
                new string('0', 64),
                offset
            )
        );
    }

    public static string Digest(string text) =>
        Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(text)));

    // Members are told apart by their number.
    private static int Number(string name) => name.Aggregate(17, (sum, c) => unchecked(sum * 31 + c)) & 0xFFFFFF;
}
