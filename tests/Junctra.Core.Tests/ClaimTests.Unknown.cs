using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>What follows where an input is not known or not of its kind.</summary>
public partial class ClaimTests
{
    [Fact]
    public void Where_the_phone_is_not_known_nothing_is_said_of_its_ways()
    {
        var phone = Sample.Phone([.. Sample.Cairn().All.Where(fact => fact.Name != FactName.Mode)]);
        Assert.Equal((Verdict.Ask, Verdict.Ask), (Rule("M14", phone, Fitting).Verdict, Rule("M19", phone, Fitting).Verdict));
    }

    [Fact]
    public void For_every_rule_that_an_input_decides_an_unknown_one_is_never_go()
    {
        // A phone and a package for which the rule says go, and the facts of which it cannot go without.
        (string Rule, Phone Phone, Package Package, string[] Facts)[] cases =
        [
            ("M01", Sample.Cairn(), Fitting, ["model-code"]),
            ("M02", Sample.Cairn(), Fitting, ["model-code"]),
            ("M04", Sample.Cairn(), Fitting, ["rollback-floor"]),
            ("M05", Sample.Cairn(), Fitting, ["build"]),
            ("M09", Sample.Cairn(), Fitting, ["model-code"]),
            ("M10", Sample.Cairn(), Fitting, ["model-code"]),
            ("M12", Sample.Cairn(), Fitting, ["lock-state"]),
            ("M14", Sample.Cairn(), Fitting, ["mode", "model-code"]),
            ("M15", Sample.Cairn(), Fitting, ["radio-build", "model-code"]),
            ("M19", Sample.Cairn(), Fitting, ["mode"]),
            (
                "M06",
                Sample.Phone(Sample.Fact(FactName.ModelCode, "TN63E"), Sample.Fact(FactName.Region, "WHM")),
                Sample.Set("TN63E", "TN63E.5.2608.WHM2"),
                ["region"]
            ),
            (
                "M03",
                Sample.Phone(Sample.Fact(FactName.ModelCode, "TN41K"), Sample.Fact(FactName.Region, "LNT")),
                Sample.Set("TN41K", "TN41K.2.2610.LNT1"),
                ["region", "model-code"]
            ),
            (
                "M17",
                Sample.Phone(Sample.Fact(FactName.Serial, "OBF20117")),
                Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
                ["serial"]
            ),
        ];
        foreach (var (id, phone, package, facts) in cases)
        {
            Assert.True(Verdict.Go == Rule(id, phone, package).Verdict, $"{id}: {Rule(id, phone, package).Sentence}");
            foreach (var name in facts)
            {
                // The build alone: OS version and patch tell the direction too.
                var without = Sample.Phone([
                    .. phone.All.Where(fact => fact.Name.Value != name && !(name == "build" && fact.Name == FactName.OsVersion)),
                ]);
                Assert.True(
                    Rule(id, without, package).Verdict != Verdict.Go,
                    $"{id} without {name}: {Rule(id, without, package).Sentence}"
                );
            }
        }
    }

    [Fact]
    public void Sizes_of_one_partition_that_disagree_are_asked_about()
    {
        var phone = Sample.Phone([
            .. Sample.Cairn().All,
            Sample.Fact(FactName.PartitionSize("system"), "300000000"),
            Sample.Fact(FactName.PartitionSize("system"), "310000000", FactSource.BootloaderScreen),
        ]);
        var result = Rule("M10", phone, Fitting);
        Assert.Equal(Verdict.Ask, result.Verdict);
        Assert.Contains(result.FactsUsed, fact => fact.Name.IsPartitionSize);
    }

    [Fact]
    public void A_loader_goes_by_the_chip_that_was_read()
    {
        Phone With(string chip) =>
            Sample.Phone(
                Sample.Fact(FactName.ModelCode, "TN63W"),
                Sample.Fact(FactName.Mode, "emergency"),
                Sample.Fact(FactName.RollbackFloor, "5", FactSource.Logbook),
                Sample.Fact(FactName.ChipFamily, chip)
            );
        var package = Sample.Set("TN63W", "TN63W.6.2612.WHM1");
        Assert.Equal(Verdict.Go, Rule("M19", With("Dolan Major"), package).Verdict);
        Assert.Equal(Verdict.Ask, Rule("M19", With("Merak Four"), package).Verdict);
    }

    [Theory]
    [InlineData("mode", "fastbot")]
    [InlineData("mode", "yes")]
    [InlineData("battery-percent", "yes")]
    [InlineData("storage-gb", "0")]
    [InlineData("os-version", "newest")]
    [InlineData("carrier-locked", "true")]
    public void What_is_no_value_of_a_fact_is_none(string name, string value) => Assert.Null(FactName.Parse(name)!.Value.Normalise(value));

    [Fact]
    public void A_reading_of_the_build_also_tells_region_and_model_and_what_is_said_to_open_a_package_opens_it()
    {
        var random = new Random(29);
        FactName[] names =
        [
            FactName.ModelCode,
            FactName.Region,
            FactName.RollbackFloor,
            FactName.Build,
            FactName.LockState,
            FactName.Mode,
            FactName.Recovery,
            FactName.Serial,
        ];
        (string Model, string Build, string Lines)[] packages =
        [
            ("TN63E", "TN63E.5.2608.WHM2", "version-baseband=TN63E-R-2608-N"),
            ("TN41E", "TN41E.2.2610.WHM1", "version-baseband=TN41E-R-2610-N"),
            ("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
        ];
        string[][] values =
        [
            ["TN63E", "TN41E", "OB17"],
            ["WHM", "DNM"],
            ["2", "5"],
            ["TN63E.5.2606.WHM1", "OB17_2.6.112_r04_DNM"],
            ["unlocked", "locked"],
            ["system", "no-command", "off"],
            ["stock", "custom"],
            ["OBF20117"],
        ];
        var opened = 0;
        for (var i = 0; i < 400; i++)
        {
            var (model, build, lines) = packages[i % packages.Length];
            var phone = Sample.Phone([
                .. names
                    .Select((name, n) => (name, n))
                    .Where(_ => random.Next(3) > 0)
                    .Select(pair =>
                        Sample.Fact(pair.name, values[pair.n][random.Next(values[pair.n].Length)], FactSource.BootloaderScreen)
                    ),
            ]);
            var package = Sample.Set(model, build, lines);
            var miss = NearMisses.Of(phone, package, Repo.Catalogue, MatchPolicy.Careful);
            if (miss.Changes.Count == 0)
                continue;
            opened++;
            // By readings alone, as a person would note them, not by the finder's own means.
            var read = miss.Changes.Where(change => change.Fact is not null).ToList();
            var facts = phone.All.Where(fact => read.All(change => change.Fact != fact.Name)).ToList();
            foreach (var change in read)
            {
                facts.Add(Sample.Fact(change.Fact!.Value, change.Value!, FactSource.Link, 5));
                if (change.Fact == FactName.Build && Repo.Catalogue.ReadBuild(change.Value!) is { } told)
                    facts.AddRange(
                        told.Facts.Select(fact => new Fact(
                            fact.Name,
                            fact.Value,
                            FactSource.Link,
                            Sample.Noon.AddMinutes(5),
                            "bench",
                            change.Value
                        ))
                    );
            }

            var policy = miss
                .Changes.Where(change => change.School is not null)
                .Aggregate(MatchPolicy.Careful, (now, change) =>
                    Schools.All.First(question => question.Choices.Contains(change.School)).Apply(now, change.School!)
                );
            if (miss.Changes.Any(change => change.Fact is null && change.School is null))
                continue;
            Assert.True(
                Matcher.Match(Sample.Phone([.. facts]), package, Repo.Catalogue, policy).MayBeChosen,
                string.Join(" ", miss.Changes.Select(change => change.Sentence))
            );
        }

        Assert.True(opened > 50, $"{opened} near misses");
    }

    [Fact]
    public void Near_misses_are_said_in_English() =>
        Assert.All(
            NearMisses.ChangesFor(
                Sample.Phone(Sample.Fact(FactName.ModelCode, "OB17")),
                Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
                Repo.Catalogue,
                MatchPolicy.Careful
            ),
            change => Assert.DoesNotContain("Read the reaches", change.Sentence)
        );
}
