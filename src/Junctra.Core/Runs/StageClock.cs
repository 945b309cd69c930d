using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Runs;

/// <summary>How a phone keeps its time on the way up.</summary>
public enum StagePace
{
    /// <summary>Within its usual time.</summary>
    Usual,

    /// <summary>Slow, which is no fault.</summary>
    Slow,

    /// <summary>Past the time at which waiting helps.</summary>
    Stuck,

    /// <summary>It loops or stands, as somebody saw.</summary>
    Hung,

    /// <summary>It is up.</summary>
    Up,
}

/// <summary>
/// How far a phone is on its way up once the writer's part is over (specification: sections 10 and 16 of the job). What looks like the end
/// is told from the end: it may put things in, restart more than once, and count apps.
/// </summary>
/// <param name="Minutes">Minutes since it was let go.</param>
/// <param name="Usual">Minutes after which it usually is up, and after which it is slow.</param>
/// <param name="StuckMinutes">Minutes after which it is stuck.</param>
/// <param name="Pace">How it keeps its time.</param>
/// <param name="Words">The same in a sentence.</param>
public sealed record StageClock(double Minutes, Band Usual, double StuckMinutes, StagePace Pace, string Words)
{
    private const int MostApps = 2000;

    /// <summary>Apps that it has prepared, and of how many, as last seen; null where nobody saw it count.</summary>
    public (int Done, int Of)? Apps { get; private init; }

    /// <summary>Restarts that are normal on this way up.</summary>
    public int NormalRestarts { get; private init; }

    /// <summary>Whether a count of apps can be one.</summary>
    public static bool IsCount(int? done, int? of) => done is >= 0 && of is > 0 and <= MostApps && done <= of;

    /// <summary>The clock of a finished run; null where the phone does not start by it, or it has not finished.</summary>
    /// <param name="run">The run.</param>
    /// <param name="figures">The shop's figures.</param>
    /// <param name="now">Now.</param>
    public static StageClock? Of(RunState run, Figures figures, DateTimeOffset now)
    {
        var stages = run.Plan.Steps.Where(step => step.Act is AwaitStage { Work: not OwnWork.OptimisingApps }).ToList();
        if (run.FinishedAt is not { } since || stages.Count == 0)
            return null;
        var usual = new Band(
            Math.Ceiling(stages.Sum(step => step.Seconds.Typical) / 60),
            Math.Ceiling(stages.Sum(step => step.Seconds.Slow) / 60)
        );
        // A first boot is given longer before it is called stuck; whatever comes before it takes what it takes.
        var boots = stages.Any(step => step.Act is AwaitStage { Work: OwnWork.FirstBoot });
        var stuck = boots ? usual.Slow + figures.FirstBootStuckMinutes - figures.FirstBootMinutes.Slow : usual.Slow;
        var restarts = 1 + stages.Count(step => step.Act is AwaitStage { Work: OwnWork.InstallPhase or OwnWork.CardUpdate });
        var minutes = Math.Max(0, (now - since).TotalMinutes);
        var clock = new StageClock(minutes, usual, Math.Max(stuck, usual.Slow), StagePace.Usual, "") { NormalRestarts = restarts };
        return clock.With(run.Seen, since, now);
    }

    private StageClock With(ImmutableList<SeenStage> seen, DateTimeOffset since, DateTimeOffset now)
    {
        var last = seen.Count > 0 ? seen[^1] : null;
        var shows = PhoneModes.Parse(last?.What.Shows);
        var counts = seen.Where(one => one.What.CountsApps).ToList();
        if (shows is PhoneMode.System or PhoneMode.SetupWizard)
            return this with { Pace = StagePace.Up, Words = $"It came up {Ago(last!.At, now)}. Check it." };
        if (shows is { } hung && hung.IsHung())
            return this with
            {
                Pace = StagePace.Hung,
                Words =
                    $"{(hung == PhoneMode.BootLoop ? "It loops" : "It stands at its maker's picture")}, {Since(minutes: (last!.At - since).TotalMinutes)} after it was let go.",
            };
        if (last?.What.CountsApps == true)
            return Counting(counts, now);
        var seenRestarts = seen.Count(one => !one.What.CountsApps && PhoneModes.Parse(one.What.Shows) == PhoneMode.Starting);
        var again =
            seenRestarts > NormalRestarts
                ? $" It restarted {seenRestarts} times, and this write brings {NormalRestarts}: if it does so once more without coming up, it loops."
            : NormalRestarts > 1 ? $" It restarts up to {NormalRestarts} times by itself; that is no fault."
            : "";
        var pace =
            Minutes <= Usual.Typical ? StagePace.Usual
            : Minutes <= StuckMinutes ? StagePace.Slow
            : StagePace.Stuck;
        return this with
        {
            Pace = pace,
            Words = pace switch
            {
                StagePace.Usual =>
                    $"Let go {Since(Minutes)} ago. It usually takes {Usual.Typical:0} min, and up to {Usual.Slow:0} now and then.{again}",
                StagePace.Slow => $"Let go {Since(Minutes)} ago: slow, and no fault before {StuckMinutes:0} min. Leave it be.{again}",
                _ => $"Let go {Since(Minutes)} ago: past {StuckMinutes:0} min waiting helps no more. Say what it shows.",
            },
        };
    }

    // A count that moves is progress, however slow; by what it did between two looks one can say when it ends.
    private StageClock Counting(IReadOnlyList<SeenStage> counts, DateTimeOffset now)
    {
        var last = counts[^1];
        var (done, of) = (last.What.Apps!.Value, last.What.OfApps!.Value);
        var before = counts.LastOrDefault(one => one.What.OfApps == of && one.What.Apps < done && one.At < last.At);
        var pace = before is null ? (double?)null : (last.At - before.At).TotalMinutes / (done - before.What.Apps!.Value);
        var left = pace is { } each ? $" At this pace {Math.Max(1, Math.Ceiling((of - done) * each)):0} min more." : "";
        // The same number for as long as a first boot may take is no progress any more.
        var stood = counts.Reverse().TakeWhile(one => (one.What.Apps, one.What.OfApps) == (done, of)).Last();
        var stands = (now - stood.At).TotalMinutes > StuckMinutes;
        return this with
        {
            Apps = (done, of),
            Pace = stands ? StagePace.Stuck : StagePace.Slow,
            Words = stands
                ? $"It has counted {done} of {of} apps for {Since((now - stood.At).TotalMinutes)}, and no further: say what it shows."
                : $"It prepares its apps: {done} of {of}, {Ago(last.At, now)}. That is progress; leave it be.{left}",
        };
    }

    private static string Ago(DateTimeOffset at, DateTimeOffset now) => $"{Since((now - at).TotalMinutes)} ago";

    private static string Since(double minutes) =>
        minutes switch
        {
            < 1 => "less than a minute",
            < 120 => $"{Math.Floor(minutes):0} min",
            < 48 * 60 => $"{Math.Floor(minutes / 60):0} h",
            _ => $"{Math.Floor(minutes / 60 / 24):0} days",
        };
}
