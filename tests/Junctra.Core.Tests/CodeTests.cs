using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class CodeTests
{
    private static readonly ModelCatalogue Catalogue = Repo.Catalogue;
    private static readonly Gen<string> AnyCode = Gen.Char["ABHNTX0O1IL5S8B2Z34/.-"].Array[0, 9].Select(chars => new string(chars));

    [Theory]
    [InlineData("HX2O4", "HX204", 0.25)]
    [InlineData("HXZ04", "HX204", 0.25)]
    [InlineData("HX2O4C", "HX204", 1.25)]
    [InlineData("TN63F", "TN63E", 1)]
    [InlineData("", "OB17", 4)]
    [InlineData("0B17", "OB17", 0.25)]
    [InlineData("OBI7", "OB17", 0.25)]
    [InlineData("OBL7", "OB17", 0.25)]
    [InlineData("O817", "OB17", 0.25)]
    [InlineData("TN63S", "TN635", 0.25)]
    public void Lookalikes_cost_little(string left, string right, double distance) =>
        Assert.Equal(distance, Codes.Distance(left, right), 6);

    [Fact]
    public void The_distance_is_a_metric() =>
        Gen.Select(AnyCode, AnyCode, AnyCode)
            .Sample(
                (a, b, c) =>
                {
                    Assert.Equal(0, Codes.Distance(a, a));
                    Assert.Equal(Codes.Distance(a, b), Codes.Distance(b, a), 9);
                    Assert.True(Codes.Distance(a, c) <= Codes.Distance(a, b) + Codes.Distance(b, c) + 1e-9);
                    if (a != b)
                        Assert.True(Codes.Distance(a, b) > 0);
                }
            );

    [Fact]
    public void The_marks_are_the_code_and_mark_just_what_differs() =>
        Gen.Select(AnyCode, AnyCode)
            .Sample(
                (typed, code) =>
                {
                    var marks = Codes.Marks(typed, code);
                    Assert.Equal(code, string.Concat(marks.Select(mark => mark.Text)));
                    Assert.Equal(typed == code, !marks.Any(mark => mark.Differs));
                }
            );

    [Theory]
    [InlineData(" hx 204 ", "HX204")]
    [InlineData("“HX204”", "HX204")]
    [InlineData("HX​204", "HX204")]
    [InlineData("ＨＸ２０４", "HX204")]
    [InlineData("trb62–n", "TRB62-N")]
    [InlineData(null, "")]
    public void Pasted_codes_are_brought_into_one_form(string? typed, string code) => Assert.Equal(code, Codes.Normalise(typed));

    [Fact]
    public void Half_a_character_is_left_out() => Assert.Equal("HX", Codes.Normalise("\ud800HX"));

    [Fact]
    public void Normalising_twice_changes_nothing_more() =>
        Gen.String.Sample(text => Assert.Equal(Codes.Normalise(text), Codes.Normalise(Codes.Normalise(text))));

    [Theory]
    [InlineData("HX2O4", "HX204")]
    [InlineData("TN63", "TN63E")]
    [InlineData("WHN", "WHM")]
    [InlineData("0B17", "OB17")]
    [InlineData("HX2O4/15.26w10-7.r3", "HX204/15.26w10-7.r3")]
    [InlineData("TN63E.S.26O8.WHM2", "TN63E.5.2608.WHM2")]
    public void What_is_close_is_offered_and_never_applied(string typed, string near)
    {
        var reading = CodeReading.Read(typed, Catalogue);
        Assert.False(reading.IsAnything);
        Assert.Contains(near, reading.Near.Select(code => code.Code));
        Assert.Contains("only you can say", reading.Problem);
        Assert.Empty(reading.Facts(FactSource.Label, Sample.Noon, "counter"));
    }

    [Fact]
    public void No_typed_code_is_ever_taken_for_another_one() =>
        Gen.Select(Gen.OneOf(Catalogue.Models.Select(model => model.Code).ToArray()), Gen.Int[0, 9], Gen.Char["ABHNTX0O1IL5S8B2Z34"])
            .Sample(
                (code, at, c) =>
                {
                    var typed = code[..(at % code.Length)] + c + code[(at % code.Length + 1)..];
                    var reading = CodeReading.Read(typed, Catalogue);
                    Assert.Equal(Catalogue.Model(typed)?.Code, reading.Model?.Code);
                }
            );

    [Theory]
    [InlineData("XYZZY")]
    [InlineData("Q")]
    [InlineData("a sentence about nothing in particular")]
    public void What_is_close_to_nothing_offers_nothing(string typed) => Assert.Empty(CodeReading.Read(typed, Catalogue).Near);

    [Fact]
    public void A_whole_label_is_read_by_its_words()
    {
        var reading = CodeReading.Read("Model: TN63E  Region: WHM\nSW TN63E.5.2608.WHM2 (S/N TNA11)", Catalogue);
        Assert.Equal(("TN63E", "WHM", 5), (reading.Model!.Code, reading.Region!.Code, reading.Build!.Revision));
        var facts = reading.Facts(FactSource.Label, Sample.Noon, "counter").ToList();
        Assert.Single(facts, fact => fact.Name == FactName.Region);
        Assert.All(facts, fact => Assert.Equal(FactSource.Label, fact.Source));
    }

    [Fact]
    public void A_label_that_contradicts_itself_is_not_read()
    {
        var reading = CodeReading.Read("TN63E WHM SRV", Catalogue);
        Assert.False(reading.IsAnything);
        Assert.Contains("WHM and SRV", reading.Problem);
    }

    [Fact]
    public void A_region_alone_is_a_region() => Assert.Equal("KRW", CodeReading.Read("krw", Catalogue).Region!.Code);

    [Theory]
    [InlineData("Tern 6", "Tern 6")]
    [InlineData("tern6", "Tern 6")]
    [InlineData("cairn", "Cairn")]
    public void A_product_name_is_kept_as_that_and_no_model_follows(string typed, string product)
    {
        var reading = CodeReading.Read(typed, Catalogue);
        Assert.Null(reading.Problem);
        Assert.Null(reading.Model);
        Assert.Equal(FactName.ProductName, Assert.Single(reading.Facts(FactSource.Customer, Sample.Noon, "counter")).Name);
        Assert.Equal(product, reading.ProductName);
    }

    [Fact]
    public void A_text_without_end_is_refused() => Assert.Contains("400", CodeReading.Read(new string('x', 401), Catalogue).Problem);

    [Fact]
    public void Codes_of_many_lookalikes_do_not_run_away() => Assert.Empty(CodeReading.Read(new string('0', 60), Catalogue).Near);

    [Fact]
    public void A_name_that_covers_variants_asks_for_the_fact_that_tells_them_apart()
    {
        var question = VariantQuestion.For(
            Sample.Phone(
                Sample.Fact(FactName.ProductName, "Tern 6", FactSource.Customer),
                Sample.Fact(FactName.Mode, "off", FactSource.Customer)
            ),
            Catalogue
        )!;
        Assert.Equal(["TN63E", "TN63W"], question.Variants.Select(variant => variant.Model.Code));
        Assert.Equal(FactName.ModelCode, question.Fact);
        Assert.Contains("label", question.Place!.Where);
        Assert.Contains("chip family: Merak Four (TN63E), Dolan Major (TN63W)", question.Differences);
    }

    [Fact]
    public void A_fact_that_is_known_rules_variants_out_and_the_code_is_still_asked_for()
    {
        var question = VariantQuestion.For(
            Sample.Phone(
                Sample.Fact(FactName.ProductName, "Tern 4", FactSource.Customer),
                Sample.Fact(FactName.ChipFamily, "Dolan Minor", FactSource.Settings)
            ),
            Catalogue
        )!;
        Assert.Equal("TN41S", Assert.Single(question.Variants).Model.Code);
        Assert.Null(
            VariantQuestion.For(
                Sample.Phone(Sample.Fact(FactName.ProductName, "Tern 4"), Sample.Fact(FactName.ModelCode, "TN41S")),
                Catalogue
            )
        );
    }
}
