using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>What members mean: which partition, which digest, which are strays.</summary>
public class PackageReaderTests
{
    private static Package Read(IEnumerable<PackageMember> members, params ChecksumLine[] lines) =>
        PackageReader.Read(
            "set.tar",
            new PackageContents(1, new string('a', 64), null, [.. members], [new RequirementLine("board", ["HX204"], true)], lines, []),
            Repo.Catalogue
        );

    private static PackageMember Archive(string name) => new(9000, name, null, MemberKind.Archive, 10, Sample.Digest(name));

    private static PackageMember Within(string archive, string partition)
    {
        var image = Sample.Image(partition);
        return image with { Name = $"{archive}/{image.Name}", Within = archive };
    }

    private static PackageMember Wrapped(string partition) =>
        Sample.Image(partition) with
        {
            Name = partition + ".img.lz4",
            Sha256 = Sample.Digest("packed " + partition),
            Image = Sample.Image(partition).Image! with { Wrapping = Wrapping.Lz4, Offset = null },
        };

    private static ChecksumLine Line(string of, string name, string? within = null) => new(Sample.Digest(of), name, within);

    [Theory]
    [InlineData("boot.img", "boot")]
    [InlineData("folder/BOOT.img.lz4", "boot")]
    [InlineData("images.zip/system.img", "system")]
    [InlineData("bootloader-hx204-r3.img", "bootloader")]
    [InlineData("radio-HX204-26w10.img", "radio")]
    [InlineData("radio-hx204.img", "radio")]
    [InlineData("radio-hx204c-26w10.img", "radio-hx204c-26w10")]
    [InlineData("bootloader-old.img", "bootloader-old")]
    [InlineData("system-hx204-other.img", "system-hx204-other")]
    [InlineData("system_other.img", "system_other")]
    public void Only_boot_chain_and_radio_may_have_longer_names(string member, string partition) =>
        Assert.Equal(partition, PackageReader.PartitionOf(member, ["HX204"], Repo.Catalogue));

    [Fact]
    public void What_is_for_no_partition_is_a_stray_unless_it_calls_itself_an_image()
    {
        var manual = Sample.Image("manual", name: "manual.pdf");
        var package = Read([Sample.Image("boot"), manual, Sample.Image("kitchen")]);
        Assert.Equal(["boot", "kitchen"], package.Images.Select(image => image.Partition));
        Assert.Contains(package.Findings, finding => finding.Text.Contains("manual.pdf"));
    }

    [Fact]
    public void A_digest_of_the_inner_archive_covers_what_lies_in_it()
    {
        var package = Read([Archive("images.zip"), Within("images.zip", "boot")], Line("images.zip", "images.zip"));
        Assert.Equal(DigestState.Matches, package.Images.Single().Digest);
        Assert.Equal(DigestState.NothingToCompare, Read([Archive("images.zip"), Within("images.zip", "boot")]).Images.Single().Digest);
    }

    [Fact]
    public void An_inner_archive_that_is_not_what_was_sent_out_is_fatal()
    {
        var package = Read([Archive("images.zip"), Within("images.zip", "boot")], Line("another", "images.zip"));
        Assert.Equal(DigestState.Differs, package.Images.Single().Digest);
        Assert.Contains(package.Findings, finding =>
            finding.Weight == FindingWeight.Fatal && finding.Text.StartsWith("images.zip is not what", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_list_means_the_files_of_its_own_archive_first()
    {
        PackageMember[] members =
        [
            Sample.Image("boot"),
            Archive("images.zip"),
            Within("images.zip", "boot") with
            {
                Sha256 = Sample.Digest("other"),
                Number = 77,
            },
        ];
        Assert.Equal(
            [DigestState.Matches, DigestState.NothingToCompare],
            Read(members, Line("boot", "boot.img")).Images.Select(image => image.Digest)
        );
        Assert.Equal(
            [DigestState.NothingToCompare, DigestState.Matches],
            Read(members, Line("other", "boot.img", "images.zip")).Images.Select(image => image.Digest)
        );
    }

    [Fact]
    public void A_list_may_name_an_image_as_it_was_before_it_was_wrapped()
    {
        Assert.Equal(DigestState.Matches, Read([Wrapped("system")], Line("system", "system.img")).Images.Single().Digest);
        Assert.Equal(DigestState.Matches, Read([Wrapped("system")], Line("packed system", "system.img.lz4")).Images.Single().Digest);
        Assert.Equal(DigestState.Differs, Read([Wrapped("system")], Line("system", "system.img.lz4")).Images.Single().Digest);
        Assert.Equal(DigestState.Differs, Read([Wrapped("system")], Line("packed system", "system.img")).Images.Single().Digest);
    }

    [Fact]
    public void A_changed_requirement_text_is_as_fatal_as_a_changed_image()
    {
        var text = new PackageMember(1, "requirements.txt", null, MemberKind.Requirements, 10, Sample.Digest("now"));
        Assert.Contains(Read([text, Sample.Image("boot")], Line("then", "requirements.txt")).Findings, finding =>
            finding.Weight == FindingWeight.Fatal
        );
        var stray = text with { Kind = MemberKind.Stray, Name = "thanks.txt" };
        Assert.DoesNotContain(Read([stray, Sample.Image("boot")], Line("then", "thanks.txt")).Findings, finding =>
            finding.Weight == FindingWeight.Fatal
        );
    }

    [Fact]
    public void A_package_says_its_region_chip_and_patch()
    {
        var package = Sample.Package(
            more:
            [
                new RequirementLine("chip", ["Dolan Major"], true),
                new RequirementLine("security-patch", ["2026-08-05"], false),
                new RequirementLine("region", ["whm"], false),
            ]
        );
        Assert.Equal(["Dolan Major"], package.Says(FactName.ChipFamily));
        Assert.Equal(["2026-08"], package.Says(FactName.SecurityPatch));
        Assert.Equal(["WHM"], package.Says(FactName.Region));
    }
}
