using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Decision tables of M13, M15, M16, M18 and M19, and of M08 and M09 by what the phone is written for.</summary>
public class LaterRuleTests
{
    private static readonly ModelCatalogue Catalogue = Repo.Catalogue;

    private static readonly Package Rest = Sample.Bundle("TN63E.5.2608.WHM2", keepPack: true);

    private static Phone Of(params (FactName Name, string? Value)[] facts) =>
        Sample.Phone([.. facts.Where(fact => fact.Value is not null).Select(fact => Sample.Fact(fact.Name, fact.Value!))]);

    private static Judgement Judge(
        IMatchRule rule,
        Phone phone,
        Package package,
        MatchPolicy? policy = null,
        ModelCatalogue? catalogue = null,
        params Package[] library
    ) =>
        rule.Judge(
            new MatchCase(
                phone,
                package,
                catalogue ?? Catalogue,
                policy ?? MatchPolicy.Careful,
                new Surroundings([package, .. library], catalogue ?? Catalogue)
            )
        );

    // M13: the goal, the manager that patched it (empty: not said), the one on the phone, whether the rest of its build is there, and
    // whether that has a keep-data pack.
    [Theory]
    [InlineData(JobGoal.Stock, "root manager 8.1", "8.2", true, true, Verdict.Go)]
    [InlineData(JobGoal.KeepRoot, "root manager 8.2", "8.2", true, true, Verdict.Go)]
    [InlineData(JobGoal.KeepRoot, "root manager 8.1", "8.2", true, true, Verdict.Stop)]
    [InlineData(JobGoal.KeepRoot, "root manager 8.3", "8.2", true, true, Verdict.Stop)]
    [InlineData(JobGoal.KeepRoot, "root manager 8.2", null, true, true, Verdict.Ask)]
    [InlineData(JobGoal.KeepRoot, "somebody", "8.2", true, true, Verdict.Stop)]
    [InlineData(JobGoal.KeepRoot, "root manager 8.2", "8.2", false, true, Verdict.Stop)]
    [InlineData(JobGoal.KeepRoot, "root manager 8.2", "8.2", true, false, Verdict.Stop)]
    public void A_patched_part_comes_from_the_same_build_and_the_phones_own_manager(
        JobGoal goal,
        string by,
        string? manager,
        bool hasRest,
        bool keepPack,
        Verdict expected
    )
    {
        Package[] library = hasRest
            ? [keepPack ? Rest : Sample.Bundle("TN63E.5.2608.WHM2", keepPack: false)]
            : [Sample.Bundle("TN63E.5.2609.WHM1", keepPack: true)];
        Assert.Equal(
            expected,
            Judge(
                new M13KeepRoot(),
                Of((FactName.RootManager, manager)),
                Sample.Patched("TN63E.5.2608.WHM2", by),
                new MatchPolicy { Goal = goal },
                null,
                library
            ).Verdict
        );
    }

    [Fact]
    public void A_part_that_shares_no_image_with_its_build_has_no_lineage()
    {
        var changed = Sample.Patched("TN63E.5.2608.WHM2", "root manager 8.2");
        var all = PackageReader.Read(
            "other.tar",
            changed.Contents with
            {
                Sha256 = Sample.Digest("other"),
                Members = [changed.Contents.Members[1]],
            },
            Catalogue
        );
        Assert.Equal(
            Verdict.Stop,
            Judge(
                new M13KeepRoot(),
                Of((FactName.RootManager, "8.2")),
                all,
                new MatchPolicy { Goal = JobGoal.KeepRoot },
                null,
                Rest
            ).Verdict
        );
    }

    [Fact]
    public void An_unpatched_bundle_takes_root_and_says_so()
    {
        var judgement = Judge(new M13KeepRoot(), Of((FactName.RootManager, "8.2")), Rest, new MatchPolicy { Goal = JobGoal.KeepRoot });
        Assert.Equal(Verdict.Care, judgement.Verdict);
        Assert.Equal([ConsequenceKind.RootLost], judgement.Consequences.Select(consequence => consequence.Kind));
    }

    // M08 and M09 of a patched part, by the goal.
    [Theory]
    [InlineData(JobGoal.Stock, Verdict.Stop, Verdict.Stop)]
    [InlineData(JobGoal.Update, Verdict.Stop, Verdict.Stop)]
    [InlineData(JobGoal.KeepRoot, Verdict.Care, Verdict.Go)]
    [InlineData(JobGoal.Recovery, Verdict.Stop, Verdict.Stop)]
    public void A_patched_part_is_only_for_an_update_that_keeps_root(JobGoal goal, Verdict origin, Verdict complete)
    {
        var (part, policy) = (Sample.Patched("TN63E.5.2608.WHM2", "root manager 8.2"), new MatchPolicy { Goal = goal });
        Assert.Equal(origin, Judge(new M08Provenance(), Of((FactName.ModelCode, "TN63E")), part, policy, null, Rest).Verdict);
        Assert.Equal(complete, Judge(new M09Complete(), Of((FactName.ModelCode, "TN63E")), part, policy, null, Rest).Verdict);
        if (goal == JobGoal.KeepRoot)
            Assert.Equal(Verdict.Stop, Judge(new M09Complete(), Of((FactName.ModelCode, "TN63E")), part, policy).Verdict);
    }

    // M09 by kind and goal.
    [Theory]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM", null, JobGoal.Stock, Verdict.Go)]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM", "boot", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM pre-build=OB17_2.6.112_r04_DNM", "", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM pre-build=OB17_2.6.112_r04_DNM", "", JobGoal.Update, Verdict.Go)]
    [InlineData("OB17", "backup-serial=A taken=2026-02-14 system=stock", "boot system", JobGoal.Stock, Verdict.Go)]
    [InlineData("OB17", "backup-serial=A taken=2026-02-14 system=stock", "boot", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "backup-serial=A taken=2026-02-14 system=stock", "boot system", JobGoal.Update, Verdict.Stop)]
    [InlineData("OB17", "", "recovery", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "", "recovery", JobGoal.Recovery, Verdict.Go)]
    [InlineData("OB17", "", "boot", JobGoal.Recovery, Verdict.Stop)]
    [InlineData("TN63E", "", "system boot", JobGoal.Stock, Verdict.Stop)]
    public void What_is_needed_depends_on_what_it_is_for(string model, string lines, string? only, JobGoal goal, Verdict expected)
    {
        var package = Sample.Set(
            model,
            model == "OB17" ? "OB17_2.6.118_r04_DNM" : "TN63E.5.2608.WHM2",
            lines,
            only: only?.Split(' ', StringSplitOptions.RemoveEmptyEntries)
        );
        Assert.Equal(expected, Judge(new M09Complete(), Of((FactName.ModelCode, model)), package, new MatchPolicy { Goal = goal }).Verdict);
    }

    [Theory]
    [InlineData(false, Verdict.Care)]
    [InlineData(true, Verdict.Go)]
    public void A_bundle_with_the_clean_pack_alone_costs_the_data(bool mayGo, Verdict expected)
    {
        var judgement = Judge(
            new M09Complete(),
            Of((FactName.ModelCode, "TN63E")),
            Sample.Bundle("TN63E.5.2608.WHM2", keepPack: false),
            new MatchPolicy(DataMayGo: mayGo)
        );
        Assert.Equal((expected, !mayGo), (judgement.Verdict, judgement.NeedsCleanWrite));
    }

    // M15: the model (by its maker: older ones taken with care, allowed, refused), the package's radio, the phone's, the phone's region.
    [Theory]
    [InlineData("HX204", "HX204-R-26w06", "HX204-R-26w05", null, Verdict.Go)]
    [InlineData("HX204", "HX204-R-26w06", "HX204-R-26w06", null, Verdict.Go)]
    [InlineData("HX204", "HX204-R-26w06", "HX204-R-26w07", null, Verdict.Care)]
    [InlineData("HX204", "HX204-R-26w06", null, null, Verdict.Ask)]
    [InlineData("HX204", null, "HX204-R-26w06", null, Verdict.Ask)]
    [InlineData("HX204", "HX204-R-26w06", "gibberish", null, Verdict.Care)]
    [InlineData("TN63E", "TN63E-R-2608-N", "TN63E-R-2640-N", "WHM", Verdict.Go)]
    [InlineData("TN63E", "TN63E-R-2608-N", null, "KRW", Verdict.Go)]
    [InlineData("TN63E", "TN63E-R-2608-N", null, null, Verdict.Ask)]
    [InlineData("TN63E", "TN63E-R-2608-E", null, "WHM", Verdict.Care)]
    [InlineData("TN63E", null, null, "WHM", Verdict.Ask)]
    [InlineData("TN63E", "gibberish", null, "WHM", Verdict.Ask)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "gibberish", "WHM", Verdict.Ask)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "TRB62-R-N-20260310", "WHM", Verdict.Go)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "TRB62-R-N-20260311", "WHM", Verdict.Go)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "TRB62-R-N-20260312", "WHM", Verdict.Stop)]
    [InlineData("TRB62", "TRB62-R-N-20260311", null, "WHM", Verdict.Ask)]
    [InlineData("TRB62", null, "TRB62-R-N-20260311", "WHM", Verdict.Ask)]
    [InlineData("OB17", "anything", "else", null, Verdict.Go)]
    [InlineData(null, "HX204-R-26w06", "HX204-R-26w07", null, Verdict.Ask)]
    public void A_radio_serves_the_regions_networks_and_does_not_go_back(
        string? model,
        string? theirs,
        string? ours,
        string? region,
        Verdict expected
    )
    {
        var package = Sample.Set(model ?? "HX204", "none", theirs is null ? "" : $"version-baseband={theirs}");
        Assert.Equal(
            expected,
            Judge(new M15Radio(), Of((FactName.ModelCode, model), (FactName.RadioBuild, ours), (FactName.Region, region)), package).Verdict
        );
    }

    [Fact]
    public void What_brings_no_radio_is_not_judged_by_one() =>
        Assert.Equal(
            Verdict.Go,
            Judge(new M15Radio(), Of((FactName.ModelCode, "TRB62")), Sample.Set("TRB62", "none", only: ["boot", "system"])).Verdict
        );

    [Fact]
    public void Two_readings_of_the_radio_ask()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204"),
            Sample.Fact(FactName.RadioBuild, "HX204-R-26w01"),
            Sample.Fact(FactName.RadioBuild, "HX204-R-26w02", FactSource.Settings)
        );
        Assert.Equal(Verdict.Ask, Judge(new M15Radio(), phone, Sample.Set("HX204", "none", "version-baseband=HX204-R-26w06")).Verdict);
    }

    // M16: the wish, the package's build; the phone's floor is 5, and a build 5.2620 of WHM and 6.2630 of SRV lie beside it.
    [Theory]
    [InlineData("none", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("newest", "TN63E.5.2608.WHM2", Verdict.Stop)]
    [InlineData("newest", "TN63E.5.2620.WHM1", Verdict.Go)]
    [InlineData("newest", "TN63E.5.2621.WHM1", Verdict.Go)]
    [InlineData("newest", "TN63E.5.2608.KRW1", Verdict.Go)]
    [InlineData("newest", "gibberish", Verdict.Ask)]
    [InlineData("exactly TN63E.5.2608.WHM2", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("exactly TN63E.5.2608.WHM2", "TN63E.5.2608.WHM3", Verdict.Stop)]
    [InlineData("exactly TN63E.5.2608.WHM2", "gibberish", Verdict.Ask)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2607.WHM9", Verdict.Go)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2608.WHM3", Verdict.Stop)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2608.KRW3", Verdict.Ask)]
    [InlineData("not-above TN63E.5.2608.WHM2", "gibberish", Verdict.Ask)]
    [InlineData("same-revision", "TN63E.4.2536.WHM1", Verdict.Stop)]
    [InlineData("same-revision", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("same-revision", "TN63E.6.2630.WHM1", Verdict.Stop)]
    [InlineData("same-revision", "gibberish", Verdict.Ask)]
    public void A_wish_for_a_version_holds_or_stops(string wish, string build, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                new M16Wish(),
                Of((FactName.ModelCode, "TN63E"), (FactName.RollbackFloor, "5")),
                Sample.Set("TN63E", build),
                new MatchPolicy { Wish = GoalWords.ReadWish(wish)! },
                null,
                Sample.Set("TN63E", "TN63E.5.2620.WHM1"),
                Sample.Set("TN63E", "TN63E.6.2630.SRV1")
            ).Verdict
        );

    // The wish for an OS version, and what the package says.
    [Theory]
    [InlineData("exactly 14", "14", Verdict.Go)]
    [InlineData("exactly 14", "14.2", Verdict.Go)]
    [InlineData("exactly 14", "15", Verdict.Stop)]
    [InlineData("exactly 14.2", "14", Verdict.Stop)]
    [InlineData("exactly 14", null, Verdict.Ask)]
    [InlineData("not-above 14", "13", Verdict.Go)]
    [InlineData("not-above 14", "14", Verdict.Go)]
    [InlineData("not-above 14", "14.9", Verdict.Go)]
    [InlineData("not-above 14", "15", Verdict.Stop)]
    [InlineData("not-above 14", null, Verdict.Ask)]
    public void A_wish_may_be_for_an_os_version(string wish, string? os, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                new M16Wish(),
                Of(),
                Sample.Set("TN63E", "none", os is null ? "" : $"os-version={os}"),
                new MatchPolicy { Wish = GoalWords.ReadWish(wish)! }
            ).Verdict
        );

    [Theory]
    [InlineData("TN63E", null, FactSource.Link, Verdict.Ask)]
    [InlineData("TN63E", "5", FactSource.Label, Verdict.Ask)]
    [InlineData("TN63E", "6", FactSource.Label, Verdict.Stop)]
    [InlineData("OB17", null, FactSource.Link, Verdict.Go)]
    public void The_same_revision_is_that_of_a_floor_that_was_read(string model, string? floor, FactSource source, Verdict expected)
    {
        List<Fact> facts = [Sample.Fact(FactName.ModelCode, model)];
        if (floor is not null)
            facts.Add(Sample.Fact(FactName.RollbackFloor, floor, source));
        Assert.Equal(
            expected,
            Judge(
                new M16Wish(),
                new Phone(facts),
                Sample.Set(model, "TN63E.5.2608.WHM2"),
                new MatchPolicy { Wish = new VersionWish(WishKind.SameRevision) }
            ).Verdict
        );
    }

    [Fact]
    public void A_damaged_newer_build_stands_in_nobodys_way()
    {
        var newer = Sample.Set("TN63E", "TN63E.5.2620.WHM1");
        var damaged = PackageReader.Read(
            "x.tar",
            newer.Contents with
            {
                Findings = [new PackageFinding(FindingWeight.Fatal, "Cut off.")],
            },
            Catalogue
        );
        Assert.Equal(
            Verdict.Go,
            Judge(
                new M16Wish(),
                Of(),
                Sample.Set("TN63E", "TN63E.5.2608.WHM2"),
                new MatchPolicy { Wish = new VersionWish(WishKind.Newest) },
                null,
                damaged
            ).Verdict
        );
    }

    // M18: card, place, name, digest (whole or not), free megabytes; what the sentence must say.
    [Theory]
    [InlineData("present", "root", "fell-update.zip", true, "900", Verdict.Go, "lies whole")]
    [InlineData("present", null, "fell-update.zip", true, "900", Verdict.Ask, "Copy it, never move it")]
    [InlineData("present", "internal", "fell-update.zip", true, "900", Verdict.Ask, "where recovery does not look")]
    [InlineData("present", "folder", "fell-update.zip", true, "900", Verdict.Ask, "lies in a folder")]
    [InlineData("present", "root", null, true, "900", Verdict.Ask, "Name the copy fell-update.zip")]
    [InlineData("present", "root", "fell-update.zip.zip", true, "900", Verdict.Ask, "its ending was doubled")]
    [InlineData("present", "root", "update(1).zip", true, "900", Verdict.Ask, "Rename it")]
    [InlineData("present", "root", "fell-update.zip", false, "900", Verdict.Ask, "Copy it again")]
    [InlineData("present", "root", "fell-update.zip", null, "900", Verdict.Ask, "read its digest")]
    [InlineData("present", "root", "fell-update.zip", true, null, Verdict.Ask, "How much is free")]
    [InlineData("present", "root", "fell-update.zip", true, "0", Verdict.Ask, "Make room")]
    [InlineData("none", null, null, null, null, Verdict.Ask, "No storage card")]
    public void A_card_update_lies_whole_at_its_place_under_its_name_with_room(
        string card,
        string? place,
        string? name,
        bool? whole,
        string? free,
        Verdict expected,
        string sentence
    )
    {
        var package = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM");
        var phone = Of(
            (FactName.ModelCode, "OB17"),
            (FactName.Card, card),
            (FactName.CardPlace, place),
            (FactName.CardFileName, name),
            (
                FactName.CardFileDigest,
                whole is null ? null
                : whole == true ? package.Id
                : Sample.Digest("cut off")
            ),
            (FactName.CardFree, free)
        );
        var judgement = Judge(new M18Card(), phone, package);
        Assert.Equal(expected, judgement.Verdict);
        Assert.Contains(sentence, judgement.Sentence);
    }

    [Fact]
    public void Room_exactly_as_large_as_needed_is_enough_and_one_less_is_not()
    {
        var package = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM");
        Phone With(long free) =>
            Of(
                (FactName.ModelCode, "OB17"),
                (FactName.Card, "present"),
                (FactName.CardPlace, "root"),
                (FactName.CardFileName, "fell-update.zip"),
                (FactName.CardFileDigest, package.Id),
                (FactName.CardFree, $"{free}")
            );
        Assert.Equal(Verdict.Go, Judge(new M18Card(), With(M18Card.RoomMegabytes(package)), package).Verdict);
        Assert.Equal(Verdict.Ask, Judge(new M18Card(), With(M18Card.RoomMegabytes(package) - 1), package).Verdict);
    }

    [Fact]
    public void What_is_no_card_update_needs_no_card() => Assert.Equal(Verdict.Go, Judge(new M18Card(), Of(), Sample.Package()).Verdict);

    // M19: the model (TN63W's loader supports up to 6), the mode, the finding, the revision and where it comes from.
    [Theory]
    [InlineData("TN63W", "emergency", false, "5", FactSource.Logbook, Verdict.Go)]
    [InlineData("TN63W", "emergency", false, "6", FactSource.Logbook, Verdict.Go)]
    [InlineData("TN63W", "emergency", false, "7", FactSource.Logbook, Verdict.Stop)]
    [InlineData("TN63W", "emergency", false, "6", FactSource.Link, Verdict.Go)]
    [InlineData("TN63W", "emergency", false, "7", FactSource.Link, Verdict.Stop)]
    [InlineData("TN63W", "emergency", false, null, FactSource.Link, Verdict.Ask)]
    [InlineData("TN63W", "off", true, "7", FactSource.Label, Verdict.Stop)]
    [InlineData("TN63W", "off", false, "7", FactSource.Label, Verdict.Go)]
    [InlineData("TN63W", "download", true, "7", FactSource.Label, Verdict.Go)]
    [InlineData("TN41E", "emergency", false, "1", FactSource.Link, Verdict.Ask)]
    [InlineData(null, "emergency", false, "1", FactSource.Link, Verdict.Ask)]
    public void A_loader_must_support_the_revision_before_anything_is_opened(
        string? model,
        string mode,
        bool found,
        string? revision,
        FactSource source,
        Verdict expected
    )
    {
        List<Fact> facts = [Sample.Fact(FactName.Mode, mode)];
        if (model is not null)
            facts.Add(Sample.Fact(FactName.ModelCode, model));
        if (revision is not null)
            facts.Add(Sample.Fact(FactName.RollbackFloor, revision, source));
        Assert.Equal(
            expected,
            Judge(
                new M19Loader(),
                new Phone(facts),
                Sample.Set("TN63W", "TN63W.6.2612.WHM1"),
                new MatchPolicy { NeedsBoardRescue = found }
            ).Verdict
        );
    }

    [Fact]
    public void A_revision_from_before_a_write_counts_for_the_loader()
    {
        var phone = new Phone(
            [Sample.Fact(FactName.ModelCode, "TN63W"), Sample.Fact(FactName.Mode, "emergency")],
            earlier: [Sample.Fact(FactName.BootloaderRevision, "7")]
        );
        Assert.Equal(Verdict.Stop, Judge(new M19Loader(), phone, Sample.Set("TN63W", "TN63W.6.2612.WHM1")).Verdict);
    }

    [Theory]
    [InlineData("TRB62-N-14c-04-20260311", "WHM", null, RegionSchool.Own, Verdict.Ask)]
    [InlineData("TRB62-N-14c-04-20260311", "WHM", null, RegionSchool.Group, Verdict.Care)]
    [InlineData("TRB62-E-14c-04-20260311", "WHM", null, RegionSchool.Group, Verdict.Stop)]
    [InlineData("TRB62-E-14c-04-20260311", "WHM", null, RegionSchool.Any, Verdict.Care)]
    [InlineData("TRB62-N-14c-04-20260311", null, "north", RegionSchool.Own, Verdict.Ask)]
    [InlineData("TRB62-N-14c-04-20260311", null, "east", RegionSchool.Own, Verdict.Stop)]
    [InlineData("TRB62-N-14c-04-20260311", null, null, RegionSchool.Any, Verdict.Ask)]
    [InlineData("TN63E.5.2608.WHM2", null, "north", RegionSchool.Any, Verdict.Ask)]
    [InlineData("TN63E.5.2608.WHM2", null, "east", RegionSchool.Group, Verdict.Stop)]
    public void A_build_that_tells_its_group_alone_leaves_the_region_open(
        string build,
        string? region,
        string? group,
        RegionSchool school,
        Verdict expected
    ) =>
        Assert.Equal(
            expected,
            Judge(
                new M06Region(),
                Of((FactName.Region, region), (FactName.RegionGroup, group)),
                Sample.Set(build[..5], build),
                new MatchPolicy(school)
            ).Verdict
        );

    [Fact]
    public void Pairs_that_look_right_and_are_not_have_a_sentence_of_their_own()
    {
        Assert.Contains(
            "differ in one character only",
            Judge(new M01Model(), Of((FactName.ModelCode, "HX204")), Sample.Set("HX204C", "none")).Sentence
        );
        Assert.Contains(
            "Also called Tern 6",
            Judge(new M01Model(), Of((FactName.ModelCode, "TN63E")), Sample.Set("TN63W", "none")).Sentence
        );
        Assert.Contains(
            "reads like 5 written twice",
            Judge(
                new M04Revision(),
                Of((FactName.ModelCode, "TN63E"), (FactName.RollbackFloor, "5")),
                Sample.Set("TN63E", "TN63E.55.2608.WHM2")
            ).Sentence
        );
        var regions = Repo.Catalogue.Regions.Append(new Region("WHN", "Whinholm", "north")).ToList();
        var wider = new ModelCatalogue(Catalogue.Makers, [], regions, Catalogue.Figures);
        Assert.Contains(
            "differ in one letter only",
            Judge(
                new M06Region(),
                Of((FactName.Region, "WHM")),
                Sample.Set("TN63E", "TN63E.5.2608.WHN2", catalogue: wider),
                catalogue: wider
            ).Sentence
        );
    }

    [Fact]
    public void A_single_bundle_of_another_region_promises_no_data_and_asks_for_no_wipe()
    {
        var judgement = Judge(
            new M06Region(),
            Of((FactName.Region, "WHM")),
            Sample.Set("TN41E", "TN41E.2.2624.KRW1"),
            new MatchPolicy(RegionSchool.Group)
        );
        Assert.Equal((Verdict.Care, false), (judgement.Verdict, judgement.NeedsCleanWrite));
        Assert.Equal(
            [ConsequenceKind.RegionApps, ConsequenceKind.DataNotPromised],
            judgement.Consequences.Select(consequence => consequence.Kind)
        );
    }
}
