using Junctra.Core.Catalogue;
using Junctra.Testing;
using Junctra.Web.Library;

namespace Junctra.Web.Tests;

/// <summary>How fast this computer takes digests is measured on a file of the library, and counts in the place of the figure.</summary>
public class DigestRateTests
{
    private static readonly Figures Usual = Repo.Catalogue.Figures;

    [Fact]
    public async Task What_was_measured_counts_and_slow_is_as_much_slower_as_before()
    {
        var rate = new DigestRate(TimeProvider.System);
        Assert.Same(Usual, rate.Of(Usual));
        await rate.MeasureAsync(await DemoLibrary.PathAsync("cairn-stock-26w10.tar"));
        var measured = rate.SecondsPerGigabyte!.Value;
        Assert.InRange(measured, 1e-6, 1e6);
        var figures = rate.Of(Usual);
        Assert.Equal(measured, figures.DigestSecondsPerGigabyte.Typical);
        Assert.Equal(
            Usual.DigestSecondsPerGigabyte.Slow / Usual.DigestSecondsPerGigabyte.Typical,
            figures.DigestSecondsPerGigabyte.Slow / figures.DigestSecondsPerGigabyte.Typical,
            6
        );
        Assert.Equal(Usual.WriteMegabytesPerSecond, figures.WriteMegabytesPerSecond);
    }

    [Fact]
    public async Task A_file_that_is_gone_or_too_small_tells_nothing()
    {
        var rate = new DigestRate(TimeProvider.System);
        await rate.MeasureAsync("/nowhere/at/all");
        await rate.MeasureAsync(typeof(DigestRateTests).Assembly.Location + ".none");
        var small = Path.GetTempFileName();
        await rate.MeasureAsync(small);
        File.Delete(small);
        Assert.Null(rate.SecondsPerGigabyte);
    }

    [Fact]
    public void A_plan_that_takes_longer_by_what_was_measured_is_the_same_plan()
    {
        var @case = new Core.Plans.Paths.PathCase(Sample.Cairn(), Sample.Package(), true, Repo.Catalogue);
        var slower = @case with { Figures = Usual with { DigestSecondsPerGigabyte = new Band(90, 300) } };
        var (plan, other) = (Core.Plans.Paths.PathList.Compile(@case).Plan!, Core.Plans.Paths.PathList.Compile(slower).Plan!);
        Assert.True(other.Steps[0].Seconds.Typical > plan.Steps[0].Seconds.Typical);
        Assert.Equal(plan.Key, other.Key);
        // Plans of before told times and work together; their answers stay theirs.
        Assert.NotEqual((plan with { Version = 2 }).Key, (other with { Version = 2 }).Key);
    }
}
