using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;

namespace Junctra.Schedule;

/// <summary>What is known of a job when the work that is left of it is reckoned.</summary>
/// <param name="At">The station that waits.</param>
/// <param name="Figures">How long things take where no plan says it.</param>
/// <param name="Now">Now.</param>
public sealed record WorkCase(Station At, Figures Figures, DateTimeOffset Now)
{
    /// <summary>The plan that is to be carried out or is; null where there is none yet.</summary>
    public Plan? Plan { get; init; }

    /// <summary>How its run stands; null before it has begun.</summary>
    public RunState? Run { get; init; }

    /// <summary>What it may turn out to need, with the chance of each; together 1. Read only where there is no plan.</summary>
    public IReadOnlyList<(WayOut Way, double Chance)> Ways { get; init; } = [];

    /// <summary>The file that is to be fetched before it can be written; null where none is. Read only where there is no plan.</summary>
    public Fetch? Fetch { get; init; }

    /// <summary>Who began what it is at; null where nobody did.</summary>
    public string? By { get; init; }

    /// <summary>Whether its finding was taken.</summary>
    public bool IsFound { get; init; }

    /// <summary>Whether the phone is as intended, all checks done.</summary>
    public bool HasPassed { get; init; }
}

/// <summary>A file on its way into the library, or one that is to be.</summary>
/// <param name="FileName">Its name.</param>
/// <param name="Minutes">How long it takes; of one that is on its way, what is left.</param>
/// <param name="IsOnItsWay">Whether it is on its way.</param>
/// <param name="Others">Other places it can be had from.</param>
public sealed record Fetch(string FileName, Band Minutes, bool IsOnItsWay, IReadOnlyList<OtherWay> Others);

/// <summary>
/// The work that is left of a job, as a bench day takes it: what hands do, what runs by itself, and what each needs meanwhile. Of a plan it
/// is the plan's own steps; before there is one it is the mix of what the phone may turn out to need.
/// </summary>
public static class RemainingWork
{
    private const Needs Hands = Needs.Hands | Needs.Shop,
        Plugged = Needs.Port | Needs.Shop;
    private const double Megabytes = 1200;

    // Minutes of what people do at the stations; the acts of a plan have figures of their own.
    private static readonly Band FindOut = new(8, 20),
        Choose = new(3, 8),
        Answer = new(3, 8),
        Check = new(5, 12),
        HandBack = new(3, 6),
        Charge = new(30, 45),
        Keys = new(4, 10),
        Cache = new(3, 6),
        Wipe = new(4, 9),
        IntoMode = new(5, 12),
        Opening = new(60, 130);

    private sealed record Part(string Title, Needs Needs, double Typical, double Slow, DateTimeOffset? Since = null, double Chance = 1)
    {
        public IReadOnlyList<OtherWay> Others { get; init; } = [];
    }

    /// <summary>What is left, in order; empty where nothing is.</summary>
    public static IReadOnlyList<WorkTask> Of(WorkCase @case) => Tasks(Parts(@case), @case);

    private static List<Part> Parts(WorkCase c)
    {
        var parts = new List<Part>();
        if (c.HasPassed || c.At == Station.HandBack)
            return [Of("Hand back", Hands, HandBack)];
        if (c.Plan is { } plan && c.Run?.Status.EndedEarly() != true)
        {
            if (c.Run is null)
                parts.Add(Of("Answer the gates, begin", Hands, Answer));
            parts.AddRange(OfPlan(plan, c.Run));
        }
        else
        {
            // What is on its way comes whatever hands do meanwhile; while nobody knows what is wrong, it is looked at first.
            if (c is { IsFound: true, Fetch: { IsOnItsWay: true } coming })
                parts.Add(FetchOf(coming, 1) with { Since = c.Now });
            if (!c.IsFound)
                parts.Add(Of("Find out what is wrong", Hands, FindOut));
            parts.AddRange(OfWays(c));
        }

        parts.Add(Of("Check", Hands, Check));
        parts.Add(Of("Hand back", Hands, HandBack));
        return parts;
    }

    private static Part Of(string title, Needs needs, Band minutes, double chance = 1) =>
        new(title, needs, minutes.Typical, minutes.Slow, null, chance);

    private static IEnumerable<Part> OfPlan(Plan plan, RunState? run)
    {
        var steps = plan.Steps.Where(step => run?.Done.Contains(step.Number) != true).ToList();
        foreach (var step in steps)
        {
            var isOver = run?.Status == RunStatus.Finished && !step.Act.FollowsTheRun;
            if (isOver || step.Act is CheckResult)
                continue;
            var needs = NeedsOf(plan, step);
            var since =
                run?.Status == RunStatus.Writing && run.Step?.Number == step.Number ? run.StepBegan
                : run?.Status == RunStatus.Finished ? run.FinishedAt
                : null;
            yield return new Part(Capital(step.Title), needs, step.Seconds.Typical / 60, step.Seconds.Slow / 60, since);
        }
    }

    /// <summary>What a step of a plan takes up.</summary>
    public static Needs NeedsOf(Plan plan, PlanStep step)
    {
        var needs = step.Act.By switch
        {
            ActBy.Hands => Hands,
            ActBy.Link => Plugged,
            _ => Needs.Shop,
        };
        // From the first step over a link to the last the phone stays where it is plugged in.
        var linked = plan.Steps.Where(one => one.Act.By == ActBy.Link).Select(one => one.Number).ToList();
        return linked.Count > 0 && step.Number >= linked.Min() && step.Number <= linked.Max() ? needs | Needs.Port : needs;
    }

    private static string Capital(string title) => title.Length == 0 ? title : char.ToUpperInvariant(title[0]) + title[1..];

    private static Part FetchOf(Fetch fetch, double chance) =>
        new($"Fetch {fetch.FileName}", Needs.Line, fetch.Minutes.Typical, fetch.Minutes.Slow, null, chance) { Others = fetch.Others };

    // Each kind of work by the chance that it is needed at all.
    private static IEnumerable<Part> OfWays(WorkCase c)
    {
        double Chance(Func<WayOut, bool> needs) => c.Ways.Where(one => needs(one.Way)).Sum(one => one.Chance);
        var write = new Band(
            Megabytes / c.Figures.WriteMegabytesPerSecond.Typical / 60,
            Megabytes / c.Figures.WriteMegabytesPerSecond.Slow / 60
        );
        var boot = c.Figures.FirstBootMinutes;
        var writes = Chance(way => way.Toll is Toll.KeepDataWrite or Toll.CleanWrite or Toll.EmergencyMode or Toll.Opening);
        yield return Of("Charge", Needs.Charger | Needs.Shop, Charge, Chance(way => way.Toll == Toll.Charge));
        yield return Of("Keys and cable", Hands, Keys, Chance(way => way.Toll == Toll.Keys));
        yield return Of("Wipe the cache", Hands, Cache, Chance(way => way.Toll == Toll.Cache));
        yield return Of("Wipe the data", Hands, Wipe, Chance(way => way.Toll == Toll.Wipe));
        yield return Of("Open it", Hands, Opening, Chance(way => way.Toll is Toll.EmergencyMode or Toll.Opening));
        if (c.Fetch is { } fetch && !(c.IsFound && fetch.IsOnItsWay))
            yield return FetchOf(fetch, writes);
        yield return Of("Choose the package", Hands, Choose, writes);
        yield return Of("Into its write mode", Hands | Plugged, IntoMode, writes);
        yield return Of("Write", Plugged, write, writes);
        yield return Of("First start", Needs.Shop, boot, Chance(way => way.Toll > Toll.Keys));
    }

    // What hands do one after the other, and what runs by itself one after the other, is one stretch each.
    private static List<WorkTask> Tasks(List<Part> parts, WorkCase c)
    {
        var now = c.Now;
        var tasks = new List<WorkTask>();
        // What hardly ever is needed, or takes no time worth planning, is none.
        parts = parts.FindAll(part => part.Since is not null || part.Chance * part.Typical > Least);
        for (var i = 0; i < parts.Count; )
        {
            var to = i + 1;
            while (to < parts.Count && parts[to].Needs == parts[i].Needs && IsSplit(parts[to]) == IsSplit(parts[i]))
                to++;
            var group = parts.GetRange(i, to - i);
            i = to;
            var typical = group.Sum(part => part.Chance * part.Typical);
            // What may not be needed at all, or may take long, strays by both; what strays apart from each other adds up as squares.
            var stray = Math.Sqrt(
                group.Sum(part =>
                    part.Chance * Square(part.Slow - part.Chance * part.Typical) + (1 - part.Chance) * Square(part.Chance * part.Typical)
                )
            );
            // What follows what it is at has not begun, though the run be over since then.
            var since = tasks.Count > 0 ? null : group.Select(part => part.Since).FirstOrDefault(at => at is not null);
            var minutes = Math.Max(1, (int)Math.Round(typical));
            var needs = group[0].Needs;
            if (needs.HasFlag(Needs.Hands) && since is null)
            {
                // Hands take a break after an hour at most, and somebody else may go on.
                var pieces = (minutes + Longest - 1) / Longest;
                for (var piece = 0; piece < pieces; piece++)
                    tasks.Add(Task(group, needs, (minutes + piece) / pieces, stray / pieces, tasks));
                continue;
            }

            var begun = since is { } at ? Math.Max(0, (int)(now - at).TotalMinutes) : (int?)null;
            // What takes longer than it should is over any moment.
            minutes = Math.Max(minutes, begun + 1 ?? 1);
            tasks.Add(
                Task(group, needs, minutes, stray, tasks) with
                {
                    BegunAt = -begun,
                    By = begun is not null && needs.HasFlag(Needs.Hands) ? c.By : null,
                }
            );
        }

        return tasks;
    }

    private const int Longest = 60;
    private const double Least = 0.05;

    private static double Square(double value) => value * value;

    private static bool IsSplit(Part part) => part.Since is not null;

    private static WorkTask Task(List<Part> group, Needs needs, int minutes, double stray, List<WorkTask> before)
    {
        var main = group.MaxBy(part => part.Chance * part.Typical)!;
        minutes = Math.Max(1, minutes);
        // By its last part, which is left until all of it is done: a timetable is compared with one of before.
        var id = group[^1].Title;
        var again = before.Count(task => task.Id == id || task.Id.StartsWith(id + " ", StringComparison.Ordinal));
        return new WorkTask(again == 0 ? id : $"{id} {again + 1}", main.Title, needs, minutes, minutes + (int)Math.Ceiling(stray))
        {
            // What runs by itself begins when hands let go of it.
            AtOnce =
                !needs.HasFlag(Needs.Hands)
                && before.Count > 0
                && before[^1].Needs.HasFlag(Needs.Hands)
                && (needs & (Needs.Charger | Needs.Line)) == 0,
            Others = group[0].Others,
        };
    }
}
