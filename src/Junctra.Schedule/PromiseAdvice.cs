using Junctra.Core.Insight;

namespace Junctra.Schedule;

/// <summary>Something that would help a promise.</summary>
/// <param name="Words">What is done, in a sentence.</param>
/// <param name="Chance">The chance that the promise then has.</param>
/// <param name="Until">The minute of the day with which the sentence ends; null where it ends with its words.</param>
public sealed record Measure(string Words, double Chance, int? Until = null);

/// <summary>A promise that is likely to break, and what would save it.</summary>
/// <param name="Ticket">Ticket of the job.</param>
/// <param name="Chance">The chance that it holds as things stand.</param>
/// <param name="Measures">What would help, the most helpful first; empty where nothing does.</param>
/// <param name="Instead">The minute that holds in nine of ten.</param>
public sealed record Advice(string Ticket, double Chance, IReadOnlyList<Measure> Measures, int Instead)
{
    /// <summary>Whether something would save it.</summary>
    public bool IsSaved => Measures.Count > 0 && Measures[0].Chance >= PromiseAdvice.Good;
}

/// <summary>
/// What saves a promise that is about to break: each measure is tried by making the day anew with it, and what does not help is not said
/// (specification: section 13 of the job).
/// </summary>
public sealed class PromiseAdvice
{
    /// <summary>A promise holds well enough from this chance on.</summary>
    public const double Good = 0.9;

    private const int Urgent = 100,
        MostCalls = 2;

    // What helps by less is chance of the draws.
    private const double Helps = 0.05;

    private readonly Day day;
    private readonly Timetable timetable;
    private readonly Dictionary<string, PromiseChance> chances;
    private readonly PromiseBias? bias;
    private readonly SolverLimit limit;
    private readonly CancellationToken cancel;
    private readonly DayJob job;
    private readonly List<Measure> measures = [];

    private PromiseAdvice(
        Day day,
        Timetable timetable,
        IReadOnlyList<PromiseChance> chances,
        DayJob job,
        PromiseBias? bias,
        SolverLimit limit,
        CancellationToken cancel
    )
    {
        (this.day, this.timetable, this.job, this.bias, this.limit, this.cancel) = (day, timetable, job, bias, limit, cancel);
        this.chances = chances.ToDictionary(one => one.Ticket, StringComparer.Ordinal);
    }

    /// <summary>The promise that breaks first of those that are likelier to break than is good; null where all hold.</summary>
    /// <param name="day">The day.</param>
    /// <param name="timetable">Its timetable.</param>
    /// <param name="chances">How its promises stand.</param>
    /// <param name="bias">How the shop's days go beside what is said of them; null where nothing was learned.</param>
    /// <param name="limit">How much each try may take.</param>
    /// <param name="cancel">Ends it.</param>
    public static Advice? Of(
        Day day,
        Timetable timetable,
        IReadOnlyList<PromiseChance> chances,
        PromiseBias? bias = null,
        SolverLimit? limit = null,
        CancellationToken cancel = default
    )
    {
        var first = chances
            .Where(one => one.Promised is not null && one.Chance < Good)
            .OrderBy(one => one.Promised)
            .ThenBy(one => one.Chance)
            .FirstOrDefault();
        if (first is null || day.Jobs.FirstOrDefault(job => job.Ticket == first.Ticket) is not { } job)
            return null;
        var advice = new PromiseAdvice(day, timetable, chances, job, bias, limit ?? new SolverLimit(0.2, 1), cancel);
        advice.TryAll();
        return new Advice(first.Ticket, first.Chance, [.. advice.measures.OrderByDescending(one => one.Chance)], first.Slow);
    }

    private void TryAll()
    {
        Swap();
        foreach (var task in job.Tasks.Where(task => task.BegunAt is null))
        foreach (var other in task.Others)
            Try(
                other.Words,
                With(
                    job with
                    {
                        Tasks =
                        [
                            .. job.Tasks.Select(one =>
                                one == task ? one with { Minutes = other.Minutes, Slow = Math.Max(other.Minutes, other.Slow) } : one
                            ),
                        ],
                    }
                )
            );
        if (job.Tasks.Any(task => task.Needs.HasFlag(Needs.Port)))
            Try("Set up another port.", day with { Ports = day.Ports + 1 });
        if (job.Tasks.Any(task => task.Needs.HasFlag(Needs.Charger)))
            Try("Bring another charger.", day with { Chargers = day.Chargers + 1 });
        Try("Have another pair of hands help.", day with { Hands = [.. day.Hands, new BenchHands("another", day.Open)] });
        Calls();
    }

    private Day With(DayJob changed) => day with { Jobs = [.. day.Jobs.Select(one => one.Ticket == changed.Ticket ? changed : one)] };

    private (Timetable Made, IReadOnlyList<PromiseChance> Chances)? Made(Day other)
    {
        if (cancel.IsCancellationRequested || other.WhyNot is not null)
            return null;
        var made = TimetableSolver.Solve(other, timetable, limit, cancel);
        return (made, PromiseChances.Of(other, made, bias));
    }

    private double Before => chances[job.Ticket].Chance;

    private double After(IReadOnlyList<PromiseChance> after) => after.First(one => one.Ticket == job.Ticket).Chance;

    private void Try(string words, Day other)
    {
        if (Made(other) is { } tried && After(tried.Chances) is var chance && chance > Before + Helps)
            measures.Add(new Measure(words, chance));
    }

    // Whoever comes first now waits; what that does to their promises is said with it.
    private void Swap()
    {
        if (Made(With(job with { Weight = Urgent })) is not { } tried || After(tried.Chances) is var chance && chance <= Before + Helps)
            return;
        var worse = tried
            .Chances.Where(one => one.Ticket != job.Ticket && one.Promised is not null && one.Chance < chances[one.Ticket].Chance - Helps)
            .Select(one => $"{one.Ticket} ({one.Chance * 100:0} of 100)")
            .ToList();
        measures.Add(
            new Measure(
                $"Take {job.Ticket} before everything else{(worse.Count == 0 ? "; no other promise is the worse for it" : $"; worse then stand {string.Join(", ", worse)}")}.",
                After(tried.Chances)
            )
        );
    }

    // A customer who agrees to a later hour makes room: those are asked whose work lies before, and who have most of it.
    private void Calls()
    {
        var end = timetable.ReadyAt(job.Ticket) ?? 0;
        var before = day
            .Jobs.Where(one => one.Ticket != job.Ticket && one is { Promised: not null, Weight: 1 })
            .Select(one =>
                (
                    Job: one,
                    Minutes: timetable
                        .Slots.Where(slot => slot.Ticket == one.Ticket && slot.Hands is not null && slot.Start < end)
                        .Sum(slot => slot.End - slot.Start)
                )
            )
            .Where(one => one.Minutes > 0)
            .OrderByDescending(one => one.Minutes)
            .Take(MostCalls)
            .ToList();
        foreach (var (other, _) in before)
            if (
                Made(With(other with { Promised = null })) is { } tried
                && After(tried.Chances) is var chance
                && chance > Before + Helps
                && tried.Chances.First(one => one.Ticket == other.Ticket).Slow is var later
            )
                measures.Add(new Measure($"Call the customer of {other.Ticket}, whose phone would then be ready by", chance, later));
    }
}
