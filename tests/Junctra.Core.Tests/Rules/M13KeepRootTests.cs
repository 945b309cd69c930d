using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M13.</summary>
public class M13KeepRootTests
{
    private static readonly Package Rest = Sample.Bundle("TN63E.5.2608.WHM2", keepPack: true);

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
            Repo.Catalogue
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
}
