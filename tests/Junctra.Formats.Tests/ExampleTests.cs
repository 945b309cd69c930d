using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.MatchFiles;
using Junctra.Formats.PhoneFiles;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>The examples of the documentation are read as they stand there; what is wrong in a policy is told.</summary>
public class ExampleTests
{
    private static string PathOf(string name) => Path.Combine(Repo.Root, "docs", "examples", name);

    [Fact]
    public void The_phones_of_the_documentation_are_phones()
    {
        var tern = PhoneFileReader.Read(PathOf("tern-6-loop.yaml"), Repo.Catalogue);
        Assert.Equal("TN63E", tern.Phone[FactName.ModelCode].Value);
        Assert.Equal([5], RollbackFloor.Of(tern.Phone, Repo.Catalogue).Exact);
        var cairn = PhoneFileReader.Read(PathOf("cairn-unlocked.json"), Repo.Catalogue);
        Assert.Equal("15", cairn.Phone[FactName.OsVersion].Value);
        Assert.True(cairn.Policy.DataMayGo);
        Assert.Equal(3, RollbackFloor.Of(cairn.Phone, Repo.Catalogue).Exact.Single());
    }

    [Fact]
    public void A_policy_of_its_own_goes_before_the_phones()
    {
        var policy = PhoneFileReader.ReadPolicy(PathOf("policy-strict.yaml"), MatchPolicy.Careful with { DataMayGo = true });
        Assert.Equal(
            (RevisionSchool.Never, OriginSchool.Official, DigestSchool.Refuse, JobGoal.Update, false),
            (policy.Revision, policy.Origin, policy.Digests, policy.Goal, policy.DataMayGo)
        );
        Assert.Equal(new VersionWish(WishKind.NotAbove, "15"), policy.Wish);
    }

    [Theory]
    [InlineData("region: everywhere", "region must be one of own, group, any")]
    [InlineData("goal: party", "goal is party")]
    [InlineData("version: exactly", "version must be none, newest")]
    [InlineData("colour: red", "colour")]
    public void A_policy_that_is_wrong_is_told_with_its_line(string text, string problem)
    {
        var path = Path.Combine(Directory.CreateTempSubdirectory("junctra-policy-").FullName, "policy.yaml");
        File.WriteAllText(path, text + "\n");
        var error = Assert.Throws<CatalogueException>(() => PhoneFileReader.ReadPolicy(path, MatchPolicy.Careful));
        Assert.Contains("policy.yaml:1: ", error.Message);
        Assert.Contains(problem, error.Message);
    }

    [Fact]
    public void The_request_of_the_documentation_is_one()
    {
        var request = JsonSerializer.Deserialize<MatchRequest>(File.ReadAllText(PathOf("match-request.json")), JsonSerializerOptions.Web)!;
        List<string> mistakes = [];
        var (phone, policy, most) = request.Read(Repo.Catalogue, MatchPolicy.Careful, Sample.Noon, mistakes);
        Assert.Empty(mistakes);
        Assert.Equal(("TN63E", 20, MatchPolicy.Careful), (phone[FactName.ModelCode].Value, most, policy));
    }

    [Fact]
    public void A_build_in_a_request_tells_what_its_grammar_reads()
    {
        List<string> mistakes = [];
        var (phone, _, _) = new MatchRequest([new ClaimRequest("build", "TN63E.5.2608.WHM2", "settings")]).Read(
            Repo.Catalogue,
            MatchPolicy.Careful,
            Sample.Noon,
            mistakes
        );
        Assert.Equal(
            ("TN63E", "WHM", FactSource.Settings),
            (phone[FactName.ModelCode].Value, phone[FactName.Region].Value, phone[FactName.Region].Best!.Source)
        );
    }

    [Theory]
    [InlineData("older: sometimes", "older is sometimes")]
    [InlineData(
        "loaders:\n  - { chip: Dolan Major, highest-revision: 5 }\n  - { chip: Dolan Major, highest-revision: 6 }",
        "2 emergency loaders"
    )]
    [InlineData("loaders:\n  - { chip: Dolan Major, highest-revision: 1000 }", "highest-revision")]
    [InlineData("loaders:\n  - { chip: Dolan Major, highest-revision: 5, file: ../loader.bin }", "give its name alone")]
    public void What_a_maker_says_of_radios_and_loaders_is_checked(string text, string problem)
    {
        var folder = OtherCatalogue.Write();
        var hadrel = Path.Combine(folder, "makers", "hadrel.yaml");
        var lines = File.ReadAllText(hadrel);
        File.WriteAllText(
            hadrel,
            text.StartsWith("older", StringComparison.Ordinal)
                ? lines.Replace("older: care", text)
                : lines.Replace("loaders:\n  - { chip: Dolan Major, highest-revision: 5, file: hadrel-dolan-major.bin }", text)
        );
        Assert.Contains(problem, Assert.Throws<CatalogueException>(() => CatalogueReader.Read(folder)).Message);
        Directory.Delete(folder, true);
    }
}
