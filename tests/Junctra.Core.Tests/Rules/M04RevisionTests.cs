using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M04.</summary>
public class M04RevisionTests
{
    private static Judgement Judge(Phone phone, string? revision, string build = "HX204/15.26w10-7.r3") =>
        new M04Revision().Judge(
            new MatchCase(phone, Sample.Package(revision: revision, build: build), Repo.Catalogue, MatchPolicy.Careful)
        );

    [Theory]
    [InlineData("2", "HX204/14.25w40-3.r2", Verdict.Stop)]
    [InlineData("3", "HX204/15.26w10-7.r3", Verdict.Go)]
    [InlineData("4", "HX204/15.26w30-2.r4", Verdict.Care)]
    public void A_floor_read_over_the_link_decides(string revision, string build, Verdict expected) =>
        Assert.Equal(expected, Judge(Sample.Cairn("3"), revision, build).Verdict);

    [Fact]
    public void A_one_way_step_names_both_numbers()
    {
        var sentence = Judge(Sample.Cairn("3"), "4", "HX204/15.26w30-2.r4").Sentence;
        Assert.Contains("from 3 to 4", sentence);
        Assert.Contains("for ever", sentence);
    }

    [Theory]
    [InlineData(FactSource.Link, Verdict.Go)]
    [InlineData(FactSource.BootloaderScreen, Verdict.Go)]
    [InlineData(FactSource.Settings, Verdict.Ask)]
    [InlineData(FactSource.Label, Verdict.Ask)]
    [InlineData(FactSource.CustomSystem, Verdict.Ask)]
    [InlineData(FactSource.Customer, Verdict.Ask)]
    public void Only_the_bootloader_itself_tells_the_floor(FactSource source, Verdict expected)
    {
        var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204"), Sample.Fact(FactName.RollbackFloor, "3", source));
        Assert.Equal(expected, Judge(phone, "3").Verdict);
    }

    [Theory]
    [InlineData("2", Verdict.Stop)]
    [InlineData("3", Verdict.Ask)]
    [InlineData("4", Verdict.Ask)]
    public void A_lower_bound_forbids_and_never_allows(string revision, Verdict expected)
    {
        var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204"), Sample.Fact(FactName.BootloaderRevision, "3", FactSource.Label));
        Assert.Equal(expected, Judge(phone, revision, $"HX204/15.26w10-7.r{revision}").Verdict);
    }

    [Theory]
    [InlineData("2", Verdict.Stop)]
    [InlineData("3", Verdict.Ask)]
    public void A_floor_from_before_a_write_is_a_lower_bound_after_it(string revision, Verdict expected)
    {
        var phone = new Phone([Sample.Fact(FactName.ModelCode, "HX204")], earlier: [Sample.Fact(FactName.RollbackFloor, "3")]);
        Assert.Equal(expected, Judge(phone, revision, $"HX204/15.26w10-7.r{revision}").Verdict);
    }

    [Fact]
    public void A_floor_that_reads_lower_than_before_a_write_is_a_conflict()
    {
        var phone = new Phone(Sample.Cairn("2").All, earlier: [Sample.Fact(FactName.RollbackFloor, "3")]);
        Assert.Equal(Verdict.Ask, Judge(phone, "3").Verdict);
    }

    [Fact]
    public void An_unknown_floor_asks_and_says_where_to_read_it()
    {
        var judgement = Judge(Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204")), "3");
        Assert.Equal(Verdict.Ask, judgement.Verdict);
        Assert.Contains("over the link", judgement.Sentence);
        Assert.Contains("min", judgement.Sentence);
    }

    [Fact]
    public void A_package_that_does_not_say_its_revision_asks()
    {
        var package = Sample.Package(revision: null, build: "no such build");
        Assert.Equal(
            Verdict.Ask,
            new M04Revision().Judge(new MatchCase(Sample.Cairn(), package, Repo.Catalogue, MatchPolicy.Careful)).Verdict
        );
    }

    [Theory]
    [InlineData("3", "4", "4", Verdict.Ask)]
    [InlineData("3", "4", "3", Verdict.Stop)]
    public void Two_readings_of_the_floor_are_both_judged(string link, string screen, string revision, Verdict expected)
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204"),
            Sample.Fact(FactName.RollbackFloor, link),
            Sample.Fact(FactName.RollbackFloor, screen, FactSource.BootloaderScreen)
        );
        Assert.Equal(expected, Judge(phone, revision, $"HX204/15.26w10-7.r{revision}").Verdict);
    }

    [Fact]
    public void A_revision_the_phone_has_run_contradicts_a_lower_floor()
    {
        var phone = Sample.Cairn("3", more: Sample.Fact(FactName.BootloaderRevision, "5", FactSource.Settings));
        Assert.Equal(Verdict.Stop, Judge(phone, "4", "HX204/15.26w30-2.r4").Verdict);
        Assert.Equal(Verdict.Ask, Judge(phone, "5", "HX204/15.26w30-2.r5").Verdict);
    }

    [Theory]
    [InlineData("4", "HX204/15.26w10-7.r3", Verdict.Ask)]
    [InlineData("2", "HX204/15.26w10-7.r3", Verdict.Stop)]
    public void A_package_that_contradicts_itself_is_judged_at_its_worst(string line, string build, Verdict expected) =>
        Assert.Equal(expected, Judge(Sample.Cairn("3"), line, build).Verdict);
}
