using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Decision tables of M01, M07, M10 and M12.</summary>
public class OtherRuleTests
{
    private const long SystemPartition = 192L << 20;

    private static Judgement Judge(IMatchRule rule, Phone phone, Package package, ModelCatalogue? catalogue = null) =>
        rule.Judge(new MatchCase(phone, package, catalogue ?? Repo.Catalogue, MatchPolicy.Careful));

    [Fact]
    public void The_exact_model_goes() => Assert.Equal(Verdict.Go, Judge(new M01Model(), Sample.Cairn(), Sample.Package()).Verdict);

    [Theory]
    [InlineData("HX204C")]
    [InlineData("HX20")]
    [InlineData("HX2O4")]
    public void Another_code_stops_however_near_it_is(string board) =>
        Assert.Equal(Verdict.Stop, Judge(new M01Model(), Sample.Cairn(), Sample.Package(board: board, build: "none")).Verdict);

    [Fact]
    public void The_same_product_name_with_another_code_stops_and_says_so()
    {
        var hadrel = Repo.Catalogue.Makers[0];
        var twin = hadrel.Models[0] with { Code = "HX204W" };
        var catalogue = new ModelCatalogue(
            [hadrel with { Models = [.. hadrel.Models, twin] }],
            [Repo.Catalogue.KeyFamilyOf(twin)],
            [],
            Repo.Catalogue.Figures
        );
        var judgement = Judge(new M01Model(), Sample.Cairn(), Sample.Package(board: "HX204W", build: "none"), catalogue);
        Assert.Equal(Verdict.Stop, judgement.Verdict);
        Assert.Contains("Also called Cairn", judgement.Sentence);
    }

    [Fact]
    public void An_unknown_model_asks() => Assert.Equal(Verdict.Ask, Judge(new M01Model(), Sample.Phone(), Sample.Package()).Verdict);

    [Fact]
    public void A_conflict_on_the_model_is_judged_for_each_claim()
    {
        var swapped = Sample.Cairn(more: Sample.Fact(FactName.ModelCode, "HX204C", FactSource.Label));
        Assert.Equal(Verdict.Stop, Judge(new M01Model(), swapped, Sample.Package()).Verdict);
        var both = Sample.Package(board: "HX204", more: [new RequirementLine("board", ["HX204C"], true)]);
        var judgement = Judge(new M01Model(), swapped, both);
        Assert.Equal(Verdict.Ask, judgement.Verdict);
        Assert.Contains("label or box", judgement.Sentence);
    }

    [Fact]
    public void Published_digests_that_agree_go() =>
        Assert.Equal(Verdict.Go, Judge(new M07Intact(), Sample.Cairn(), Sample.Package()).Verdict);

    [Fact]
    public void Nothing_to_compare_with_is_care() =>
        Assert.Equal(Verdict.Care, Judge(new M07Intact(), Sample.Cairn(), Sample.Package(withChecksums: false)).Verdict);

    [Fact]
    public void A_wrong_digest_stops()
    {
        var package = Sample.Package();
        var contents = package.Contents with { Checksums = [new ChecksumLine(new string('f', 64), "radio.img")] };
        var judgement = Judge(new M07Intact(), Sample.Cairn(), PackageReader.Read("x", contents, Repo.Catalogue));
        Assert.Equal(Verdict.Stop, judgement.Verdict);
        Assert.Contains("radio", judgement.Sentence);
    }

    [Fact]
    public void A_listed_file_that_is_missing_stops()
    {
        var package = Sample.Package();
        var contents = package.Contents with
        {
            Checksums = [.. package.Contents.Checksums, new ChecksumLine(new string('f', 64), "modem.img")],
        };
        Assert.Equal(Verdict.Stop, Judge(new M07Intact(), Sample.Cairn(), PackageReader.Read("x", contents, Repo.Catalogue)).Verdict);
    }

    [Fact]
    public void A_published_digest_of_the_whole_file_counts_for_every_image()
    {
        var package = Sample.Package(withChecksums: false);
        var same = package.Contents with { PublishedDigest = package.Id };
        Assert.Equal(Verdict.Go, Judge(new M07Intact(), Sample.Cairn(), PackageReader.Read("x", same, Repo.Catalogue)).Verdict);
        var other = package.Contents with { PublishedDigest = new string('e', 64) };
        Assert.Equal(Verdict.Stop, Judge(new M07Intact(), Sample.Cairn(), PackageReader.Read("x", other, Repo.Catalogue)).Verdict);
    }

    [Theory]
    [InlineData(SystemPartition - 4096, Verdict.Go)]
    [InlineData(SystemPartition, Verdict.Go)]
    [InlineData(SystemPartition + 4096, Verdict.Stop)]
    public void An_image_may_be_as_large_as_its_partition_and_not_one_block_more(long bytes, Verdict expected) =>
        Assert.Equal(expected, Judge(new M10Fits(), Sample.Cairn(), Sample.Package(systemBytes: bytes)).Verdict);

    [Fact]
    public void A_size_read_from_the_phone_counts_before_the_catalogue()
    {
        var small = Sample.Cairn(more: Sample.Fact(FactName.PartitionSize("system"), "1000000"));
        Assert.Equal(Verdict.Stop, Judge(new M10Fits(), small, Sample.Package()).Verdict);
    }

    [Fact]
    public void An_image_without_a_partition_stops() =>
        Assert.Equal(Verdict.Stop, Judge(new M10Fits(), Sample.Cairn(), Sample.Package(members: Sample.Image("splash"))).Verdict);

    [Fact]
    public void An_unknown_layout_asks() => Assert.Equal(Verdict.Ask, Judge(new M10Fits(), Sample.Phone(), Sample.Package()).Verdict);

    [Theory]
    [InlineData(null, Verdict.Ask)]
    [InlineData("64", Verdict.Go)]
    [InlineData("32", Verdict.Stop)]
    public void A_stated_storage_size_must_be_the_phones(string? size, Verdict expected)
    {
        var package = Sample.Package(more: [new RequirementLine("storage-gb", ["64"], true)]);
        var phone = size is null ? Sample.Cairn() : Sample.Cairn(more: Sample.Fact(FactName.StorageSize, size));
        Assert.Equal(expected, Judge(new M10Fits(), phone, package).Verdict);
    }

    [Theory]
    [InlineData("unlocked", Verdict.Go)]
    [InlineData("locked", Verdict.Stop)]
    public void The_lock_decides_in_fastboot_mode(string state, Verdict expected) =>
        Assert.Equal(expected, Judge(new M12Lock(), Sample.Cairn(lockState: state), Sample.Package()).Verdict);

    [Fact]
    public void An_unknown_lock_asks() => Assert.Equal(Verdict.Ask, Judge(new M12Lock(), Sample.Phone(), Sample.Package()).Verdict);
}
