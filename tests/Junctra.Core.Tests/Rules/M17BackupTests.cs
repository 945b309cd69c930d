using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M17.</summary>
public class M17BackupTests
{
    // M17: the phone's serial, the backup's, when, what ran.
    [Theory]
    [InlineData("OBF20117", "OBF20117", "2026-02-14", "stock", Verdict.Go)]
    [InlineData("OBF20117", "OBF88230", "2026-02-14", "stock", Verdict.Stop)]
    [InlineData(null, "OBF20117", "2026-02-14", "stock", Verdict.Ask)]
    [InlineData("OBF20117", "OBF20117", null, "stock", Verdict.Stop)]
    [InlineData("OBF20117", "OBF20117", "2026-02-14", "modified", Verdict.Stop)]
    [InlineData("OBF20117", "OBF20117", "2026-02-14", null, Verdict.Stop)]
    public void A_backup_goes_back_onto_its_own_phone_from_before_its_modification(
        string? serial,
        string theirs,
        string? taken,
        string? system,
        Verdict expected
    )
    {
        var lines = $"backup-serial={theirs}" + (taken is null ? "" : $" taken={taken}") + (system is null ? "" : $" system={system}");
        Assert.Equal(
            expected,
            Judge(new M17Backup(), Of((FactName.Serial, serial)), PackageOf("OB17", "OB17_2.6.112_r04_DNM", lines)).Verdict
        );
    }

    [Fact]
    public void What_is_no_backup_is_not_judged_as_one() =>
        Assert.Equal(Verdict.Go, Judge(new M17Backup(), Of(), Sample.Package()).Verdict);
}
