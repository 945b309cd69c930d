using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Bench;
using Junctra.Web.Demo;

namespace Junctra.Web.Tests;

/// <summary>
/// What the rules say of the whole demo library for every demo job that the match decides, by the policy that the job has as it lies on the
/// bench.
/// </summary>
public partial class DemoMatchTests
{
    /// <summary>A demo job as the match sees it, ranked against the whole demo library.</summary>
    private sealed record Seen(Phone Phone, MatchPolicy Policy, IReadOnlyList<(MatchReport Report, Package Package)> Ranked)
    {
        public MatchReport Of(string file) => Ranked.Single(pair => pair.Package.FileName == file).Report;

        public Verdict Rule(string file, string rule) => Of(file).Results.Single(result => result.RuleId == rule).Verdict;

        public IEnumerable<string> Usable => Ranked.Where(pair => pair.Report.MayBeChosen).Select(pair => pair.Package.FileName);

        public IReadOnlyList<NearMiss> Nearest => Matcher.Nearest(Phone, Ranked, Repo.Catalogue, Policy);
    }

    private static async Task<Seen> SeeAsync(
        int number,
        Func<MatchPolicy, MatchPolicy>? decide = null,
        string? finding = null,
        params Fact[] more
    )
    {
        var demo = DemoJobs.All.Single(job => job.Number == number);
        var row = new JobRow
        {
            Ticket = demo.Ticket,
            Description = demo.Description,
            Complaint = demo.Complaint,
            DataWish = demo.Wish,
            FaultClassId = finding,
        };
        row.Facts.AddRange(demo.FactsAt(Sample.Noon, "counter").Concat(more).Select(FactRow.Of));
        row.TriageAnswers.AddRange(
            demo.Said.Select(said => new TriageAnswerRow
            {
                CheckId = said.CheckId,
                OutcomeId = said.OutcomeId,
                By = "counter",
            })
        );
        var job = new JobView(row, Repo.Catalogue);
        var policy = job.Policy(Schools.PolicyOf(Repo.Catalogue), Repo.Catalogue);
        policy = decide is null ? policy : decide(policy);
        return new Seen(job.Phone, policy, Matcher.Rank(job.Phone, await DemoLibrary.ReadAllAsync(), Repo.Catalogue, policy));
    }

    private static Fact Read(FactName name, string value, FactSource source = FactSource.Link) =>
        Sample.Fact(name, value, source, minute: 5);

    /// <summary>What the link reads later, on a phone whose maker's build is gone.</summary>
    private static Fact[] AtTheBench() =>
        [
            .. Sample
                .Cairn()
                .All.Where(fact => fact.Name != FactName.ModelCode && fact.Name != FactName.Build && fact.Name != FactName.OsVersion)
                .Select(fact => fact with { At = fact.At.AddMinutes(5) }),
        ];

    [Fact]
    public async Task Job_1_takes_its_own_revision_and_region_first()
    {
        var job = await SeeAsync(1);
        Assert.Equal("TN63E_WHM_r5_full.zip", job.Ranked[0].Package.FileName);
        // The one that brings a layout asks for the storage first; the one that brings user data is older, and they are left out.
        Assert.Equal(["TN63E_WHM_r5_full.zip", "TN63E_WHM_r5_with_data.zip", "TN63E_WHM_r6_full.zip"], job.Usable);
        Assert.Equal(Verdict.Ask, job.Of("TN63E_WHM_r5_with_layout.zip").Verdict);
        Assert.Contains("Revision 4 is below the floor 5", job.Of("TN63E_WHM_r4_full.zip").Headline);
        Assert.Equal(Verdict.Care, job.Of("TN63E_WHM_r6_full.zip").Verdict);
        Assert.Contains(job.Of("TN63E_WHM_r6_full.zip").Consequences, consequence =>
            consequence is { Kind: ConsequenceKind.OneWayRevision, Text: var text } && text.Contains("from 5 to 6")
        );
        Assert.Contains("Stopped by shop rule: own region only", job.Of("TN63E_SRV_r5_full.zip").Headline);
        Assert.Contains("Also called Tern 6", job.Of("tern6_latest.zip").Headline);
        Assert.Equal(
            "TN63E.5.2608.WHM2 comes before TN63E.6.2630.WHM1: it takes fewer steps that cannot be undone: bootloader revision 5, and 6.",
            new Ranking(Repo.Catalogue, job.Policy).Why(
                new(job.Of("TN63E_WHM_r6_full.zip"), await DemoLibrary.ReadAnyAsync("TN63E_WHM_r6_full.zip")),
                new(job.Ranked[0].Report, job.Ranked[0].Package)
            )
        );

        var any = await SeeAsync(1, policy => policy with { Region = RegionSchool.Any });
        Assert.Equal(Verdict.Care, any.Of("TN63E_SRV_r5_full.zip").Verdict);
        Assert.True(any.Of("TN63E_SRV_r5_full.zip").NeedsCleanWrite);
        Assert.Equal(Verdict.Stop, any.Of("TN63E_SRV_r4_full.zip").Verdict);
    }

    [Fact]
    public async Task Job_2_may_have_its_neighbours_update_by_the_school_of_the_group()
    {
        Fact[] read =
        [
            Read(FactName.RollbackFloor, "2", FactSource.BootloaderScreen),
            Read(FactName.Build, "TN41E.2.2610.WHM1", FactSource.Settings),
        ];
        var own = await SeeAsync(2, more: read);
        Assert.Equal(JobGoal.Update, own.Policy.Goal);
        Assert.Contains("Stopped by shop rule: own region only", own.Of("tern4-26w24-KRW.tar").Headline);
        var group = await SeeAsync(2, policy => policy with { Region = RegionSchool.Group }, more: read);
        Assert.Equal(Verdict.Care, group.Of("tern4-26w24-KRW.tar").Verdict);
        Assert.False(group.Of("tern4-26w24-KRW.tar").NeedsCleanWrite);
        Assert.Equal(
            [ConsequenceKind.RegionApps, ConsequenceKind.DataNotPromised],
            group.Of("tern4-26w24-KRW.tar").Consequences.Select(consequence => consequence.Kind)
        );
    }

    [Fact]
    public async Task Job_3_never_takes_its_namesakes_bundle_and_nothing_is_near()
    {
        var job = await SeeAsync(3, policy => policy with { Region = RegionSchool.Any });
        Assert.Contains("Also called Tern 4", job.Of("tern4-26w10.tar").Headline);
        Assert.Empty(job.Usable);
        Assert.Empty(job.Nearest);
    }

    [Fact]
    public async Task Job_4_takes_the_factory_set_of_its_own_revision()
    {
        var job = await SeeAsync(4, more: AtTheBench());
        Assert.Equal((3, Verdict.Go), (job.Ranked[0].Package.Revisions.Single(), job.Ranked[0].Report.Verdict));
        Assert.Equal(Verdict.Stop, job.Ranked.First(pair => pair.Package.Revisions is [{ Number: 2 }]).Report.Verdict);
    }

    [Fact]
    public async Task Job_5_keeps_the_data_with_a_set_of_its_own_revision()
    {
        var job = await SeeAsync(5, more: AtTheBench());
        Assert.False(job.Policy.DataMayGo);
        Assert.Equal(3, job.Ranked[0].Package.Revisions.Single());
        Assert.Equal(PackageKind.FactorySet, job.Ranked[0].Package.Kind);
        Assert.False(job.Ranked[0].Report.NeedsCleanWrite);
    }

    [Fact]
    public async Task Job_6_takes_the_part_of_its_own_root_manager_first()
    {
        var job = await SeeAsync(6);
        Assert.Equal(JobGoal.KeepRoot, job.Policy.Goal);
        Assert.Equal("patched-system-8.2.tar", job.Ranked[0].Package.FileName);
        Assert.Equal(Verdict.Care, job.Ranked[0].Report.Verdict);
        Assert.Equal(Verdict.Go, job.Rule("patched-system-8.2.tar", "M13"));
        Assert.Contains("it goes with the keep-data pack", job.Ranked[0].Report.Results.Single(result => result.RuleId == "M13").Sentence);
        Assert.Equal(Verdict.Stop, job.Of("patched-system-8.1.tar").Verdict);
        Assert.Contains("patched by root manager 8.1; the phone has 8.2", job.Of("patched-system-8.1.tar").Headline);
        Assert.Equal(Verdict.Care, job.Rule("TN63E_WHM_r5_full.zip", "M13"));
    }

    [Fact]
    public async Task Job_7_takes_its_own_backup_and_never_the_strangers()
    {
        var job = await SeeAsync(7);
        Assert.Equal(["fell-own-backup.tar"], job.Usable);
        Assert.Equal(Verdict.Go, job.Of("fell-own-backup.tar").Verdict);
        Assert.Contains("taken from this very phone", job.Of("fell-own-backup.tar").Headline);
        Assert.Contains("somebody else's data", job.Of("fell-backup-from-the-web.tar").Headline);
    }

    [Fact]
    public async Task Job_8_has_its_card_put_right_step_by_step()
    {
        Fact[] read = [Read(FactName.Build, "OB17_2.6.112_r04_DNM", FactSource.Settings)];
        var job = await SeeAsync(8, more: read);
        Assert.Contains("Copy it, never move it", job.Of("fell-full-2.6.118.zip").Headline);
        var package = await DemoLibrary.ReadAnyAsync("fell-full-2.6.118.zip");
        Fact[] wrong =
        [
            .. read,
            Read(FactName.CardPlace, "internal", FactSource.Settings),
            Read(FactName.CardFileName, "fell-update.zip.zip", FactSource.Settings),
            Read(FactName.CardFileDigest, Sample.Digest("cut"), FactSource.Label),
            Read(FactName.CardFree, "900", FactSource.Settings),
        ];
        var sentence = (await SeeAsync(8, more: wrong)).Of("fell-full-2.6.118.zip").Headline;
        Assert.Contains("lies on internal storage", sentence);
        Assert.Contains("its ending was doubled", sentence);
        Assert.Contains("is not whole", sentence);
        Fact[] right =
        [
            .. read,
            Read(FactName.CardPlace, "root", FactSource.Settings),
            Read(FactName.CardFileName, "fell-update.zip", FactSource.Settings),
            Read(FactName.CardFileDigest, package.Id, FactSource.Label),
            Read(FactName.CardFree, "900", FactSource.Settings),
        ];
        Assert.True((await SeeAsync(8, more: right)).Of("fell-full-2.6.118.zip").MayBeChosen);
    }
}
