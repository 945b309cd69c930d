using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class BuildGrammarTests
{
    private static BuildGrammar Hadrel => Repo.Catalogue.Makers.Single(m => m.Name == "Hadrel").Grammar;

    [Fact]
    public void A_build_string_reads_into_its_fields()
    {
        var build = Hadrel.Read(" HX204/15.26w10-7.r3 ")!;
        Assert.Equal(("HX204", 3, "15"), (build.Model, build.Revision, build.Os));
        Assert.False(build.Fields.ContainsKey("region"));
    }

    [Theory]
    [InlineData("HX204/15.26w10-7")]
    [InlineData("HX204/15.26w10-7.r3x")]
    [InlineData("xHX204/15.26w10-7.r3")]
    [InlineData("")]
    [InlineData("TN63E.5.2608.WHM2")]
    public void What_is_no_build_of_the_maker_is_not_read(string text) => Assert.Null(Hadrel.Read(text));

    [Theory]
    [InlineData("HX204/15.26w10-7.r3", "HX204/15.26w30-2.r4", -1)]
    [InlineData("HX204/15.26w10-7.r3", "HX204/15.26w10-7.r3", 0)]
    [InlineData("HX204/15.26w10-10.r3", "HX204/15.26w10-9.r3", 1)]
    [InlineData("HX204/15.26w10-7.r3", "HX204C/15.26w10-7.r3", null)]
    public void Two_builds_of_one_model_are_ordered(string left, string right, int? expected) =>
        Assert.Equal(expected, Hadrel.Compare(Hadrel.Read(left)!, Hadrel.Read(right)!) is { } order ? Math.Sign(order) : null);

    [Fact]
    public void A_pattern_that_would_run_away_does_not()
    {
        var grammar = new BuildGrammar("x", "^(?<model>(a+)+)$", []);
        Assert.Null(grammar.Read(new string('a', 110) + "!"));
    }

    [Theory]
    [InlineData("^(?<model>a", "Not enough")]
    [InlineData("^(?<code>a)$", "model")]
    [InlineData("^(?<model>a)(?=b)", "look-around")]
    public void A_bad_pattern_says_what_is_wrong(string pattern, string word) =>
        Assert.Contains(word, Assert.ThrowsAny<ArgumentException>(() => new BuildGrammar("x", pattern, [])).Message);

    [Fact]
    public void An_order_by_an_unknown_group_is_refused() =>
        Assert.Throws<ArgumentException>(() => new BuildGrammar("x", "^(?<model>a)$", ["week"]));

    [Fact]
    public void A_typed_build_gives_its_facts_the_source_of_the_string()
    {
        var facts = CodeReading.Read("hx204/15.26w10-7.r3", Repo.Catalogue).Facts(FactSource.Label, Sample.Noon, "counter").ToList();
        Assert.All(facts, f => Assert.Equal(FactSource.Label, f.Source));
        Assert.Contains(facts, f => f.Name == FactName.ModelCode && f.Value == "HX204");
        Assert.Contains(facts, f => f.Name == FactName.BootloaderRevision && f.Value == "3");
        Assert.DoesNotContain(facts, f => f.Name == FactName.RollbackFloor);
    }

    [Theory]
    [InlineData("HX2O4", "neither a model code")]
    [InlineData("HX999/15.26w10-7.r3", "not in the catalogue")]
    public void A_code_that_is_not_known_is_not_guessed(string typed, string word)
    {
        var reading = CodeReading.Read(typed, Repo.Catalogue);
        Assert.Null(reading.Model);
        Assert.Contains(word, reading.Problem);
    }
}
