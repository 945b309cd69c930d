using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M10.</summary>
public class M10FitsTests
{
    private const long SystemPartition = 48L << 20;

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
}
