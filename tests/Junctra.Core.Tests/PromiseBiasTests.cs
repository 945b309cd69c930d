using Junctra.Core.Insight;

namespace Junctra.Core.Tests;

/// <summary>What a shop learns of its own days: how much later phones are ready than was reckoned, and how far they stray.</summary>
public sealed class PromiseBiasTests
{
    private const double NineOfTen = 1.2815515655446;

    private static double Normal(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    private static SaidReady Took(Random random, double later, double further)
    {
        var usual = 40 + random.Next(400);
        var spread = 0.2 + 0.3 * random.NextDouble();
        return new SaidReady(usual, usual * Math.Exp(NineOfTen * spread), usual * Math.Exp(spread * (later + further * Normal(random))));
    }

    [Theory]
    [InlineData(0, 1)]
    [InlineData(0.8, 1.5)]
    [InlineData(-0.5, 0.8)]
    [InlineData(0.5, 2.5)]
    public void What_is_said_by_it_holds_in_nine_of_ten(double later, double further)
    {
        var random = new Random(5);
        var (held, all) = (0, 0);
        for (var shop = 0; shop < 60; shop++)
        {
            var bias = PromiseBias.Of(Enumerable.Range(0, 40).Select(_ => Took(random, later, further)));
            Assert.Equal(40, bias.Jobs);
            for (var day = 0; day < 20; day++, all++)
                if (Took(random, later, further) is var one && one.Took <= bias.Of(one.Slow, one.Usual, one.Slow))
                    held++;
        }

        Assert.InRange(held / (double)all, 0.86, 0.95);
    }

    [Fact]
    public void From_too_few_jobs_nothing_is_learned_and_odd_ones_do_not_run_away_with_it()
    {
        var one = new SaidReady(60, 90, 600);
        Assert.Equal(PromiseBias.None, PromiseBias.Of([one, one]));
        Assert.Equal(75, PromiseBias.None.Of(75, 60, 90));
        Assert.Equal(PromiseBias.None, PromiseBias.Of([one with { Usual = 0 }, one with { Took = -1 }, one, one]));
        // A phone that lay over a holiday.
        var bias = PromiseBias.Of([one with { Took = 1e7 }, one with { Took = 61 }, one with { Took = 59 }, one with { Took = 60 }]);
        Assert.InRange(bias.Of(90, 60, 90), 60, 90 * 30);
        Assert.Equal(0, bias.Of(0, 60, 90));
        // What is later stays later.
        Assert.True(bias.Of(70, 60, 90) < bias.Of(80, 60, 90));
    }
}
