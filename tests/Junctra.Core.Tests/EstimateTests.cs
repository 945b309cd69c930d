using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Plans.Acts;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Estimates, held against simulated shops whose truth is known.</summary>
public sealed class EstimateTests
{
    // What jobs of one shop stray by, in the logarithm: about a quarter.
    private const double Spread = 0.25;
    private const int Shops = 400,
        ToCome = 200;
    private static readonly Band Usual = new(100, 100 * Math.Exp(1.2816 * Spread));

    private static double Normal(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    private static LoggedTime Job(int job, double truth, Random random, string model = "TN63E", string cable = "") =>
        new(job, TimeKind.Write, model, "fastboot", cable, "", Usual.Typical, truth * Usual.Typical * Math.Exp(Spread * Normal(random)));

    private static Estimate? Learn(int jobs, double truth, Random random) =>
        Estimates.Of(Enumerable.Range(1, jobs).Select(i => Job(i, truth, random))).Find(TimeKind.Write, Usual, "TN63E", "fastboot");

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    public void Below_three_jobs_nothing_is_learned(int jobs) => Assert.Null(Learn(jobs, 3, new Random(1)));

    [Theory]
    [InlineData(0.4)]
    [InlineData(0.8)]
    [InlineData(1)]
    [InlineData(1.5)]
    [InlineData(3)]
    public void At_thirty_jobs_it_is_within_a_tenth_of_the_truth(double truth)
    {
        var random = new Random(30);
        var off = Enumerable.Range(0, Shops).Select(_ => Math.Abs(Learn(30, truth, random)!.Times / truth - 1)).Order().ToList();
        // In the middle of shops far closer; nine of ten within a tenth.
        Assert.InRange(off[Shops / 2], 0, 0.05);
        Assert.InRange(off[Shops * 9 / 10], 0, 0.1);
    }

    [Theory]
    [InlineData(0.4)]
    [InlineData(0.7)]
    [InlineData(0.9)]
    [InlineData(1)]
    [InlineData(1.1)]
    [InlineData(1.5)]
    [InlineData(3)]
    public void At_three_jobs_it_foretells_those_to_come_no_worse_than_the_figures(double truth)
    {
        var random = new Random(3);
        double learned = 0,
            figures = 0;
        for (var shop = 0; shop < Shops; shop++)
        {
            var estimate = Learn(3, truth, random)!;
            for (var job = 0; job < ToCome; job++)
            {
                var took = Math.Log(truth) + Spread * Normal(random);
                learned += Math.Abs(took - Math.Log(estimate.Times));
                figures += Math.Abs(took);
            }
        }

        // Where the figures are right to the dot nothing can be won, and what three jobs stray by is lost: three in a hundred at most.
        Assert.InRange(learned / figures, 0, Math.Abs(Math.Log(truth)) < 0.2 ? 1.03 : 1);
    }

    [Fact]
    public void Over_all_shops_three_jobs_are_better_than_the_figures()
    {
        var random = new Random(33);
        double learned = 0,
            figures = 0;
        for (var shop = 0; shop < Shops * 2; shop++)
        {
            var truth = Math.Exp(0.35 * Normal(random));
            learned += Math.Abs(Math.Log(Learn(3, truth, random)!.Times / truth));
            figures += Math.Abs(Math.Log(truth));
        }

        Assert.InRange(learned / figures, 0, 0.75);
    }

    [Theory]
    [InlineData(5)]
    [InlineData(12)]
    [InlineData(30)]
    [InlineData(160)]
    public void Of_jobs_to_come_nine_in_ten_lie_below_the_slow_time(int jobs)
    {
        var random = new Random(90);
        var (below, all) = (0, 0);
        for (var shop = 0; shop < Shops / 2; shop++)
        {
            var truth = Math.Exp(0.35 * Normal(random));
            var estimate = Learn(jobs, truth, random)!;
            for (var job = 0; job < ToCome; job++, all++)
                below += truth * Math.Exp(Spread * Normal(random)) <= estimate.SlowTimes ? 1 : 0;
        }

        Assert.InRange((double)below / all, 0.85, 0.95);
    }

    [Fact]
    public void A_model_and_a_cable_differ_from_the_shop_where_their_jobs_do()
    {
        var random = new Random(5);
        var log = Enumerable
            .Range(0, 60)
            .Select(i =>
                Job(
                    i,
                    (i % 2 == 0 ? 1.0 : 1.6) * (i % 3 == 0 ? 1.7 : 1),
                    random,
                    i % 2 == 0 ? "HX204" : "TN63E",
                    i % 3 == 0 ? "frayed" : "red"
                )
            )
            .ToList();
        var estimates = Estimates.Of(log);
        double Times(string model, string cable) => estimates.Find(TimeKind.Write, Usual, model, "fastboot", cable)!.Times;
        Assert.InRange(Times("HX204", "red"), 0.85, 1.2);
        Assert.InRange(Times("HX204", "frayed"), 1.35, 2.1);
        Assert.InRange(Times("TN63E", "red"), 1.3, 1.9);
        Assert.InRange(Times("TN63E", "frayed"), 2.1, 3.3);
        // What is not known of a model is known of the shop, and says how many jobs stand behind it.
        Assert.Equal(60, estimates.Find(TimeKind.Write, Usual, "OB17", "fastboot")!.Jobs);
        Assert.Equal(10, estimates.Find(TimeKind.Write, Usual, "TN63E", "fastboot", "frayed")!.Jobs);
        Assert.Null(estimates.Find(TimeKind.FirstBoot, Usual, "TN63E"));
    }

    [Fact]
    public void A_job_counts_once_and_a_lunch_break_does_not_spoil_the_rest()
    {
        var times = Enumerable.Range(1, 20).Select(i => new LoggedTime(i, TimeKind.Hands, "TN63E", "", "", "ada", 60, 60)).ToList();
        times.Add(new LoggedTime(21, TimeKind.Hands, "TN63E", "", "", "ada", 60, 60 * 400));
        times.AddRange(Enumerable.Range(0, 100).Select(_ => new LoggedTime(22, TimeKind.Hands, "TN63E", "", "", "ada", 60, 240)));
        times.Add(new LoggedTime(23, TimeKind.Hands, "TN63E", "", "", "ada", 0, 5));
        var estimate = Estimates.Of(times).Find(TimeKind.Hands, new Band(60, 120), "TN63E", "", "", "ada")!;
        Assert.Equal(22, estimate.Jobs);
        Assert.InRange(estimate.Times, 1, 1.3);
    }

    [Fact]
    public void What_is_learned_stands_in_a_plan_with_the_jobs_behind_it_and_changes_nothing_else()
    {
        var write = Planned.Plan().Steps.First(step => step.IsWrite());
        var log = Enumerable
            .Range(1, 40)
            .Select(i => new LoggedTime(i, TimeKind.Write, "HX204", "fastboot", "", "", 100, 200 + i % 3))
            .ToList();
        var times = new JobTimes(Estimates.Of(log), Repo.Catalogue.Figures, "HX204", "", "");
        var plan = Planned.Plan(times: times);
        var slow = plan.Steps.Single(step => step.Number == write.Number);
        Assert.Equal(40, slow.JobsBehind);
        Assert.InRange(slow.Seconds.Typical / write.Seconds.Typical, 1.9, 2.1);
        Assert.All(plan.Steps.Where(step => step.Act.Timed != TimeKind.Write), step => Assert.Equal(0, step.JobsBehind));
        // Answers to gates belong to what is done, not to how long it takes.
        Assert.Equal(Planned.Plan().Key, plan.Key);
    }

    [Fact]
    public void Somebody_new_is_reckoned_with_as_the_others_of_the_role_until_three_jobs_tell_more()
    {
        LoggedTime By(int job, string by, string role, double times) =>
            new(job, TimeKind.Hands, "TN63E", "", "", by, 60, 60 * times) { Role = role };
        var random = new Random(9);
        double Around(double times) => times * Math.Exp(0.1 * Normal(random));
        var log = Enumerable
            .Range(0, 60)
            .SelectMany(i => new[] { By(i, "ada", "bench", Around(1)), By(100 + i, "lee", "lead", Around(2.5)) })
            .ToList();
        var band = new Band(60, 80);
        Estimate? For(IEnumerable<LoggedTime> log, string by, string role) =>
            Estimates.Of(log).Find(TimeKind.Hands, band, "TN63E", by: by, role: role);
        Assert.InRange(For(log, "new", "bench")!.Times, 0.95, 1.05);
        Assert.InRange(For(log, "new", "lead")!.Times, 2.35, 2.65);
        log.AddRange(Enumerable.Range(0, 20).Select(i => By(300 + i, "slow", "bench", Around(1.8))));
        Assert.InRange(For(log, "slow", "bench")!.Times, 1.7, 1.9);
        Assert.InRange(For(log, "ada", "bench")!.Times, 0.95, 1.05);
    }

    // A line of 10 MB/s, whose files come by a quarter faster or slower.
    private static DownloadRate? Line(int files, double? measured, Random random) =>
        DownloadRates
            .Of(
                Enumerable
                    .Range(0, files)
                    .Select(_ => new LoggedDownload(7, 10e6 * Math.Exp(Spread * Normal(random))))
                    .Append(new LoggedDownload(8, 1e6))
                    .Append(new LoggedDownload(7, 0))
            )
            .Find(7, measured);

    [Fact]
    public void A_line_is_what_was_measured_until_three_files_came_and_then_what_they_came_with()
    {
        Assert.Null(Line(2, null, new Random(1)));
        Assert.Null(Line(0, 0, new Random(1)));
        var measured = Line(2, 4e6, new Random(1))!;
        Assert.Equal((4e6, 0), (measured.Usual, measured.Files));
        Assert.InRange(measured.Slow, 2.9e6, 3.1e6);
        Assert.Equal(3, Line(3, 4e6, new Random(1))!.Files);
        // One measurement that lies far off is not what a hundred files say.
        Assert.InRange(Line(100, 1e6, new Random(1))!.Usual, 9.5e6, 10.5e6);
    }

    [Theory]
    [InlineData(5)]
    [InlineData(12)]
    [InlineData(60)]
    public void Nine_of_ten_files_to_come_beat_the_slow_rate_of_their_line(int files)
    {
        var random = new Random(files);
        var held = Enumerable
            .Range(0, Shops)
            .Average(_ =>
            {
                var slow = Line(files, null, random)!.Slow;
                return Enumerable.Range(0, 20).Count(_ => 10e6 * Math.Exp(Spread * Normal(random)) >= slow) / 20.0;
            });
        Assert.InRange(held, 0.85, 0.95);
    }
}
