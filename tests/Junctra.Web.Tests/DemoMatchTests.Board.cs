using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Bench;

namespace Junctra.Web.Tests;

/// <summary>Jobs 11 and 12, and whose word goes first.</summary>
public partial class DemoMatchTests
{
    [Fact]
    public async Task Job_11_is_not_worth_opening()
    {
        var job = await SeeAsync(11, finding: "boot-chain-gone");
        Assert.True(job.Policy.NeedsBoardRescue);
        Assert.Equal(Verdict.Stop, job.Rule("tern6_latest.zip", "M19"));
        Assert.Contains("Not worth opening", job.Of("tern6_latest.zip").Results.Single(result => result.RuleId == "M19").Sentence);
        Assert.All(job.Nearest, miss => Assert.NotNull(miss.NoWay));
        Assert.Empty(job.Usable);
    }

    [Fact]
    public async Task Job_12_is_worth_a_rescue_and_then_takes_its_full_stock()
    {
        var job = await SeeAsync(12, finding: "boot-chain-gone");
        Assert.Equal(Verdict.Go, job.Rule("tern6_latest.zip", "M19"));
        Assert.Equal(Verdict.Ask, job.Rule("tern6_latest.zip", "M14"));
        Assert.Equal(Verdict.Ask, job.Of("tern6_latest.zip").Verdict);
        Assert.Contains(job.Nearest, miss => miss.Report.PackageTitle == "TN63W.6.2612.WHM1" && miss.NoWay is null);
        // Once it was rescued and read, the full stock may be written, everything erased.
        var rescued = await SeeAsync(
            12,
            null,
            "boot-chain-gone",
            Read(FactName.Mode, "download"),
            Read(FactName.RollbackFloor, "6"),
            Read(FactName.LockState, "locked"),
            Read(FactName.Region, "WHM"),
            Read(FactName.DeviceStatus, "custom")
        );
        Assert.True(rescued.Of("tern6_latest.zip").MayBeChosen);
    }

    [Fact]
    public void What_is_decided_for_a_job_goes_before_its_intake_and_the_shop()
    {
        var row = new JobRow
        {
            Ticket = "1",
            Description = "",
            Complaint = "",
            Goal = JobGoal.Recovery,
            WishKind = WishKind.NotAbove,
            WishVersion = "14",
        };
        row.Schools.Add(
            new SchoolRow
            {
                Question = "region",
                Choice = "any",
                Reason = "",
                By = "",
            }
        );
        row.Schools.Add(
            new SchoolRow
            {
                Question = "region",
                Choice = null,
                Reason = "",
                By = "",
            }
        );
        row.Schools.Add(
            new SchoolRow
            {
                Question = "revision",
                Choice = "never",
                Reason = "",
                By = "",
            }
        );
        row.Schools.Add(
            new SchoolRow
            {
                Question = "gone",
                Choice = "never",
                Reason = "",
                By = "",
            }
        );
        var policy = new JobView(row, Repo.Catalogue).Policy(MatchPolicy.Careful with { Region = RegionSchool.Group }, Repo.Catalogue);
        Assert.Equal(
            (RegionSchool.Group, RevisionSchool.Never, JobGoal.Recovery, new VersionWish(WishKind.NotAbove, "14")),
            (policy.Region, policy.Revision, policy.Goal, policy.Wish)
        );
    }
}
