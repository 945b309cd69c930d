using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M07.</summary>
public class M07IntactTests
{
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
}
