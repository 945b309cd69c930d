using Google.OrTools.Sat;
using Google.OrTools.Util;

namespace Junctra.Schedule;

/// <summary>A bench day as the solver takes it: when each task begins, in whose hands, and what is made as small as can be.</summary>
internal sealed partial class TimetableModel
{
    /// <summary>What is made small, the most important first.</summary>
    public static IReadOnlyList<Func<Cost, long>> Aims { get; } =
    [cost => cost.Lateness, cost => cost.HandsStep, cost => cost.Changes, cost => cost.EndStep, cost => cost.Tight];

    private readonly Day day;
    private readonly Timetable hint;
    private readonly Dictionary<(string, string), Slot> hinted;
    private readonly Dictionary<
        (string Ticket, string Task),
        (WorkTask Task, IntVar? Start, List<(string Hands, BoolVar? Is)> Who, int Fixed)
    > vars = [];
    private readonly Dictionary<string, List<IntervalVar>> hands;
    private readonly Dictionary<string, int> busyHands = new(StringComparer.Ordinal),
        busyLine = new(StringComparer.Ordinal);
    private readonly List<IntervalVar> line = [],
        ports = [],
        chargers = [];
    private readonly LinearExpr[] sums;

    /// <summary>Makes the model.</summary>
    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know.</param>
    /// <param name="best">The best that is known so far: where it begins, and what earlier aims are held to.</param>
    /// <param name="proved">Of each aim what is proved that it cannot fall below; null where nothing is.</param>
    /// <param name="mostLate">Minutes late that it may be at the most.</param>
    /// <param name="aim">Which aim is made small.</param>
    public TimetableModel(Day day, Timetable? known, Timetable best, IReadOnlyList<long?> proved, long mostLate, int aim)
    {
        (this.day, hint) = (day, best);
        hinted = best.Slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id));
        Model = new CpModel();
        hands = day.Hands.ToDictionary(one => one.Name, _ => new List<IntervalVar>(), StringComparer.Ordinal);
        // A day after the rule is through: later than that nothing better ends.
        Latest = Math.Max(Math.Min(day.Horizon, best.Cost.End + 24 * 60), best.Cost.End);
        var ends = day.Jobs.ToDictionary(job => job.Ticket, AddJob, StringComparer.Ordinal);
        foreach (var (_, to) in busyLine)
            line.Add(Model.NewFixedSizeIntervalVar(LinearExpr.Constant(0), to, "what comes"));
        foreach (var (name, taken) in hands)
        {
            // What they are at, and then where they are not at the bench.
            var at = busyHands.GetValueOrDefault(name);
            if (at > 0)
                taken.Add(Model.NewFixedSizeIntervalVar(LinearExpr.Constant(0), at, $"{name} is at it"));
            foreach (
                var there in day.Hands.First(one => one.Name == name).At.Where(at => at.From < Latest).Append(new Stretch(Latest, Latest))
            )
            {
                if (there.From > at)
                    taken.Add(Model.NewFixedSizeIntervalVar(LinearExpr.Constant(at), there.From - at, $"{name} away {at}"));
                at = Math.Max(at, there.To);
            }

            Model.AddNoOverlap(taken);
        }

        Model.AddNoOverlap(line);
        Cumulative(ports, day.Ports);
        Cumulative(chargers, day.Chargers);
        var handsEnd = HandsEnd();
        var late = Late(ends, _ => 0);
        // Fewer promises that break are no reason to be later together than the simple rule.
        Model.Add(late <= mostLate);
        var tight = LinearExpr.Sum(Enumerable.Range(0, DayJob.CountOfMargins).Select(i => Late(ends, job => job.Margins[i])));
        sums =
        [
            late + Cost.Broke * Broken(ends),
            Step(handsEnd, "hands are through", hint.Cost.HandsStep),
            Changes(known),
            Step(End(ends, handsEnd), "all is ready", hint.Cost.EndStep),
            tight,
        ];
        for (var i = 0; i <= aim; i++)
        {
            if (i < aim)
                Model.Add(sums[i] <= Aims[i](best.Cost));
            if (proved[i] is { } least)
                Model.Add(sums[i] >= least);
        }

        Model.Minimize(sums[aim]);
    }

    /// <summary>The model.</summary>
    public CpModel Model { get; }

    private int Latest { get; }

    private LinearExpr AddJob(DayJob job)
    {
        LinearExpr before = LinearExpr.Constant(0);
        var starts = new LinearExpr[job.Tasks.Count];
        for (var i = 0; i < job.Tasks.Count; i++)
        {
            var (task, name) = (job.Tasks[i], $"{job.Ticket} {job.Tasks[i].Id}");
            var was = hinted[(job.Ticket, task.Id)];
            if (task.BegunAt is { } begun)
            {
                starts[i] = LinearExpr.Constant(begun);
                Begun(task, new Stretch(begun, was.End), was.Hands, name);
                vars[(job.Ticket, task.Id)] = (task, null, [], begun);
                before = LinearExpr.Constant(was.End);
                continue;
            }

            var start = Model.NewIntVarFromDomain(Within(task), name);
            Model.AddHint(start, was.Start);
            starts[i] = start;
            Model.Add(task.AtOnce && i > 0 && job.Tasks[i - 1].BegunAt is null ? start == before : start >= before);
            before = start + task.Minutes;
            Take(task, Model.NewFixedSizeIntervalVar(start, task.Minutes, name));
            vars[(job.Ticket, task.Id)] = (task, start, Who(task, start, was, name), 0);
        }

        foreach (var (first, last) in Block.Stays(job))
        {
            var end =
                starts[last]
                + LinearExpr.Constant(
                    vars[(job.Ticket, job.Tasks[last].Id)].Start is null
                        ? hinted[(job.Ticket, job.Tasks[last].Id)].End - vars[(job.Ticket, job.Tasks[last].Id)].Fixed
                        : job.Tasks[last].Minutes
                );
            var size = Model.NewIntVar(1, Latest + 24 * 60, $"{job.Ticket} stay {first}");
            var hintedFrom = Block.StayFrom(job, first, hinted[(job.Ticket, job.Tasks[first].Id)].Start);
            var from = job.IsInPort && first == 0 ? LinearExpr.Constant(hintedFrom) : starts[first];
            Model.AddHint(size, hinted[(job.Ticket, job.Tasks[last].Id)].End - hintedFrom);
            ports.Add(Model.NewIntervalVar(from, size, end, $"{job.Ticket} port {first}"));
        }

        return before;
    }

    private void Take(WorkTask task, IntervalVar interval)
    {
        if (task.Needs.HasFlag(Needs.Line))
            line.Add(interval);
        if (task.Needs.HasFlag(Needs.Charger))
            chargers.Add(interval);
    }

    // What was begun goes on, though somebody be at two phones at once and two files come over the line: until the last of it is over.
    private void Begun(WorkTask task, Stretch at, string? who, string name)
    {
        if (task.Needs.HasFlag(Needs.Line))
            Until(busyLine, "", at.To);
        if (task.Needs.HasFlag(Needs.Charger))
            chargers.Add(Model.NewFixedSizeIntervalVar(LinearExpr.Constant(at.From), at.Minutes, name));
        if (who is not null)
            Until(busyHands, who, at.To);

        static void Until(Dictionary<string, int> busy, string whose, int to) => busy[whose] = Math.Max(to, busy.GetValueOrDefault(whose));
    }

    private List<(string, BoolVar?)> Who(WorkTask task, IntVar start, Slot was, string name)
    {
        if (!task.Needs.HasFlag(Needs.Hands))
            return [];
        if (day.Hands is [var only])
        {
            hands[only.Name].Add(Model.NewFixedSizeIntervalVar(start, task.Minutes, $"{name} by {only.Name}"));
            return [(only.Name, null)];
        }

        var who = new List<(string, BoolVar?)>();
        foreach (var one in day.Hands)
        {
            var isTheirs = Model.NewBoolVar($"{name} by {one.Name}");
            Model.AddHint(isTheirs, was.Hands == one.Name ? 1 : 0);
            hands[one.Name].Add(Model.NewOptionalFixedSizeIntervalVar(start, task.Minutes, isTheirs, $"{name} by {one.Name}"));
            who.Add((one.Name, isTheirs));
        }

        Model.AddExactlyOne(who.Select(one => one.Item2!));
        return who;
    }

    // Where a task may begin: while the shop is open where it must be, and while anybody is there to take it.
    private Domain Within(WorkTask task)
    {
        var domain = new Domain(0, Latest - task.Minutes);
        if (task.Needs.HasFlag(Needs.Shop))
            domain = domain.IntersectionWith(Starts(day.Open, task.Minutes));
        if (task.Needs.HasFlag(Needs.Hands))
            domain = domain.IntersectionWith(Starts(day.Hands.SelectMany(one => one.At), task.Minutes));
        return domain;
    }

    private static Domain Starts(IEnumerable<Stretch> within, int minutes)
    {
        var domain = Domain.FromIntervals([]);
        foreach (var stretch in within.Where(stretch => stretch.Minutes >= minutes))
            domain = domain.UnionWith(new Domain(stretch.From, stretch.To - minutes));
        return domain;
    }

    private void Cumulative(List<IntervalVar> intervals, int capacity)
    {
        if (intervals.Count <= capacity)
            return;
        var cumulative = Model.AddCumulative(capacity);
        foreach (var interval in intervals)
            cumulative.AddDemand(interval, 1);
    }

    /// <summary>What the solver found.</summary>
    public List<Slot> Slots(CpSolver solver) =>
        [
            .. hint
                .Slots.Select(slot =>
                    vars[(slot.Ticket, slot.Task.Id)] is { Start: { } start } found
                        ? slot with
                        {
                            Start = (int)solver.Value(start),
                            End = (int)solver.Value(start) + slot.Task.Minutes,
                            Hands = found.Who.Find(one => one.Is is null || solver.BooleanValue(one.Is)).Hands,
                        }
                        : slot
                )
                .OrderBy(slot => slot.Start)
                .ThenBy(slot => slot.Ticket, StringComparer.Ordinal)
                .ThenBy(slot => slot.End),
        ];
}
