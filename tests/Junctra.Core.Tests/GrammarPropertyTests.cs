using CsCheck;
using Junctra.Core.Facts;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class GrammarPropertyTests
{
    public static TheoryData<string> Makers { get; } = new(Repo.Catalogue.Makers.Select(maker => maker.Name));

    private static BuildGrammar Of(string maker) => Repo.Catalogue.Makers.Single(m => m.Name == maker).Grammar;

    /// <summary>Values for every field of a maker's build strings.</summary>
    private static Gen<Dictionary<string, string>> AnyFields(string maker) =>
        maker switch
        {
            "Hadrel" => Gen.Select(
                Gen.OneOf("HX204", "HX204C", "HX310"),
                Gen.Int[1, 99],
                Gen.Int[0, 99],
                Gen.Int[1, 53],
                Gen.Int[0, 999],
                Gen.Int[0, 999],
                (model, os, year, week, iteration, revision) =>
                    new Dictionary<string, string>
                    {
                        ["model"] = model,
                        ["os"] = $"{os}",
                        ["year"] = $"{year:00}",
                        ["week"] = $"{week:00}",
                        ["iteration"] = $"{iteration}",
                        ["revision"] = $"{revision}",
                    }
            ),
            "Velloq" => Gen.Select(
                Gen.OneOf("TN41E", "TN63E", "TN63W"),
                Gen.Int[0, 99],
                Gen.Int[20, 30],
                Gen.Int[1, 53],
                Gen.OneOf("WHM", "KRW", "SRV"),
                Gen.Int[0, 99],
                (model, revision, year, week, region, iteration) =>
                    new Dictionary<string, string>
                    {
                        ["model"] = model,
                        ["revision"] = $"{revision}",
                        ["year"] = $"{year:00}",
                        ["week"] = $"{week:00}",
                        ["region"] = region,
                        ["iteration"] = $"{iteration}",
                    }
            ),
            "Tarnbo" => Gen.Select(
                Gen.OneOf("N", "P", "E"),
                Gen.Int[1, 99],
                Gen.Char['a', 'z'],
                Gen.Int[0, 99],
                Gen.Date[new DateTime(2000, 1, 1), new DateTime(2099, 12, 31)],
                (group, os, patch, revision, date) =>
                    new Dictionary<string, string>
                    {
                        ["model"] = "TRB62",
                        ["group"] = group,
                        ["os"] = $"{os}",
                        ["patch"] = $"{patch}",
                        ["revision"] = $"{revision:00}",
                        ["date"] = $"{date:yyyyMMdd}",
                    }
            ),
            "Obrenn" => Gen.Select(
                Gen.Int[0, 99],
                Gen.Int[0, 99],
                Gen.Int[0, 9999],
                Gen.Int[0, 99],
                Gen.OneOf("DNM", "WHM"),
                (major, minor, patch, revision, region) =>
                    new Dictionary<string, string>
                    {
                        ["model"] = "OB17",
                        ["os"] = $"{major}.{minor}.{patch}",
                        ["revision"] = $"{revision:00}",
                        ["region"] = region,
                    }
            ),
            _ => throw new InvalidOperationException($"Say what the build strings of {maker} are made of."),
        };

    [Theory]
    [MemberData(nameof(Makers))]
    public void Reading_and_putting_together_are_inverse(string maker) =>
        AnyFields(maker)
            .Sample(fields =>
            {
                var grammar = Of(maker);
                var text = grammar.Format(fields);
                var reading = grammar.Read(text)!;
                Assert.Equal(fields.OrderBy(pair => pair.Key), reading.Fields.OrderBy(pair => pair.Key));
                Assert.Equal(text, grammar.Format(reading.Fields));
                // One string, one maker.
                Assert.Equal(maker, Repo.Catalogue.ReadBuild(text)?.Maker);
            });

    [Theory]
    [MemberData(nameof(Makers))]
    public void Builds_are_ordered_both_ways_alike_or_not_comparable_both_ways(string maker) =>
        Gen.Select(AnyFields(maker), AnyFields(maker), AnyFields(maker))
            .Sample(
                (x, y, z) =>
                {
                    var grammar = Of(maker);
                    var (a, b, c) = (grammar.Read(grammar.Format(x))!, grammar.Read(grammar.Format(y))!, grammar.Read(grammar.Format(z))!);
                    Assert.Equal(0, grammar.Compare(a, a));
                    int? Sign(int? order) => order is { } known ? Math.Sign(known) : null;
                    Assert.Equal(-Sign(grammar.Compare(a, b)), Sign(grammar.Compare(b, a)));
                    Assert.Equal(grammar.Compare(a, b) is null, grammar.WhyNotComparable(a, b) is not null);
                    if (grammar.Compare(a, b) < 0 && grammar.Compare(b, c) < 0 && grammar.Compare(a, c) is { } far)
                        Assert.True(far < 0);
                }
            );

    [Theory]
    [InlineData("TN63E.5.2608.WHM2", "bootloader-revision=5 model-code=TN63E region=WHM")]
    [InlineData("TRB62-N-14c-04-20260311", "bootloader-revision=4 model-code=TRB62 os-version=14 region-group=north")]
    [InlineData("OB17_2.6.118_r04_DNM", "bootloader-revision=4 model-code=OB17 os-version=2.6.118 region=DNM")]
    [InlineData("HX204/15.26w10-7.r3", "bootloader-revision=3 model-code=HX204 os-version=15")]
    public void A_string_tells_what_its_maker_puts_into_it_and_no_more(string build, string facts) =>
        Assert.Equal(facts, string.Join(" ", Repo.Catalogue.ReadBuild(build)!.Facts.Select(fact => $"{fact.Name}={fact.Value}").Order()));

    [Theory]
    [InlineData("TN63E.5.2654.WHM2")]
    [InlineData("TRB62-X-14c-04-20260311")]
    [InlineData("TRB62-N-14c-04-20261340")]
    public void A_field_that_holds_no_value_of_its_kind_makes_it_no_build(string text) => Assert.Null(Repo.Catalogue.ReadBuild(text));

    [Fact]
    public void Iterations_of_two_regions_are_not_comparable()
    {
        var velloq = Of("Velloq");
        var (a, b) = (velloq.Read("TN63E.5.2608.WHM2")!, velloq.Read("TN63E.5.2608.KRW1")!);
        Assert.Null(velloq.Compare(a, b));
        Assert.Contains("only within one region", velloq.WhyNotComparable(a, b));
        Assert.True(velloq.Compare(a, velloq.Read("TN63E.5.2609.KRW1")!) < 0);
    }

    [Fact]
    public void Builds_of_two_makers_or_models_are_not_comparable()
    {
        Assert.Contains(
            "different models",
            Of("Velloq").WhyNotComparable(Of("Velloq").Read("TN63E.5.2608.WHM2")!, Of("Velloq").Read("TN63W.5.2608.WHM2")!)
        );
        Assert.Contains(
            "different makers",
            Of("Velloq").WhyNotComparable(Of("Velloq").Read("TN63E.5.2608.WHM2")!, Of("Hadrel").Read("HX204/15.26w10-7.r3")!)
        );
    }

    [Theory]
    [InlineData("^(?<model>(a{100}){100})$")]
    [InlineData("^(?<model>((a{50}){50}){50})$")]
    [InlineData("^(?<model>a{99999999})$")]
    public void A_pattern_that_would_grow_without_bounds_is_refused(string pattern) =>
        Assert.Contains("repeats", Assert.ThrowsAny<ArgumentException>(() => new BuildGrammar("x", pattern, [])).Message);

    [Fact]
    public void A_pattern_without_end_is_refused() =>
        Assert.Contains(
            "longer",
            Assert.Throws<ArgumentException>(() => new BuildGrammar("x", "^(?<model>" + new string('a', 500) + ")$", [])).Message
        );

    [Fact]
    public void A_format_that_forgets_a_group_is_refused() =>
        Assert.Contains(
            "every group",
            Assert.Throws<ArgumentException>(() => new BuildGrammar("x", "^(?<model>a)(?<week>[0-9])$", [], [], "{model}")).Message
        );

    [Fact]
    public void What_would_not_read_back_is_not_put_together() =>
        Assert.Throws<ArgumentException>(() =>
            Of("Hadrel")
                .Format(
                    new Dictionary<string, string>
                    {
                        ["model"] = "HX204",
                        ["os"] = "15",
                        ["year"] = "26",
                        ["week"] = "99",
                        ["iteration"] = "1",
                        ["revision"] = "3",
                    }
                )
        );
}
