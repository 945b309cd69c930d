using Junctra.Core.Facts;
using Junctra.Core.Matching;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M11.</summary>
public class M11IncrementalTests
{
    // M11: the base, the phone's build, its status, its root.
    [Theory]
    [InlineData(null, null, null, null, Verdict.Go)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", "official", null, Verdict.Go)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", null, null, Verdict.Ask)]
    [InlineData("OB17_2.6.112_r04_DNM", null, "official", null, Verdict.Ask)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.111_r04_DNM", "official", null, Verdict.Stop)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.113_r04_DNM", "official", null, Verdict.Stop)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", "custom", null, Verdict.Stop)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", "official", "present", Verdict.Stop)]
    public void An_increment_goes_from_its_base_on_an_unmodified_phone(
        string? from,
        string? build,
        string? status,
        string? root,
        Verdict expected
    )
    {
        var package = PackageOf(
            "OB17",
            "OB17_2.6.118_r04_DNM",
            "post-build=OB17_2.6.118_r04_DNM" + (from is null ? "" : $" pre-build={from}")
        );
        Assert.Equal(
            expected,
            Judge(
                new M11Incremental(),
                Of((FactName.Build, build), (FactName.DeviceStatus, status), (FactName.Root, root)),
                package
            ).Verdict
        );
    }
}
