namespace Junctra.Schedule;

/// <summary>
/// A timetable put together as tight as its order allows: everybody, every port and every charger keeps to the order of its work, and
/// everything begins as soon as it can.
/// </summary>
internal sealed class TightTimetable
{
    private readonly Day day;
    private readonly Step[] steps;
    private readonly int lanes;

    // Lanes are what only one at a time has: the line, a port, a charger, a pair of hands.
    private sealed record Step(
        int Job,
        int Index,
        WorkTask Task,
        string? Hands,
        IReadOnlyList<int> Lanes,
        IReadOnlyList<IReadOnlyList<Stretch>> Within
    );

    public TightTimetable(Day day, IReadOnlyList<Slot> slots)
    {
        this.day = day;
        var planned = slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id));
        Slot Of(DayJob job, int i) => planned[(job.Ticket, job.Tasks[i].Id)];
        var stays = Lanes(
            day.Jobs.SelectMany(job =>
                Block
                    .Stays(job)
                    .Select(stay =>
                        ((job.Ticket, stay.First), Block.StayFrom(job, stay.First, Of(job, stay.First).Start), Of(job, stay.Last).End)
                    )
            )
        );
        var charged = Lanes(
            day.Jobs.SelectMany(job =>
                Enumerable
                    .Range(0, job.Tasks.Count)
                    .Where(i => job.Tasks[i].Needs.HasFlag(Needs.Charger))
                    .Select(i => ((job.Ticket, i), Of(job, i).Start, Of(job, i).End))
            )
        );
        var firstCharger = 1 + stays.Values.Append(-1).Max() + 1;
        var firstHands = firstCharger + charged.Values.Append(-1).Max() + 1;
        lanes = firstHands + day.Hands.Count;
        var jobs = day.Jobs.Select((job, i) => (job.Ticket, i)).ToDictionary(pair => pair.Ticket, pair => pair.i, StringComparer.Ordinal);
        steps =
        [
            .. day
                .Jobs.SelectMany(job => Enumerable.Range(0, job.Tasks.Count).Select(i => (job, i)))
                .OrderBy(one => Of(one.job, one.i).Start)
                .ThenBy(one => one.job.Ticket, StringComparer.Ordinal)
                .ThenBy(one => one.i)
                .Select(one => StepOf(one.job, one.i)),
        ];

        Step StepOf(DayJob job, int i)
        {
            var (task, slot) = (job.Tasks[i], Of(job, i));
            var person = slot.Hands is null ? -1 : day.Hands.ToList().FindIndex(hands => hands.Name == slot.Hands);
            var own = new List<int>();
            if (task.Needs.HasFlag(Needs.Line))
                own.Add(0);
            foreach (var (first, last) in Block.Stays(job).Where(stay => stay.First <= i && i <= stay.Last))
                own.Add(1 + stays[(job.Ticket, first)]);
            if (task.Needs.HasFlag(Needs.Charger))
                own.Add(firstCharger + charged[(job.Ticket, i)]);
            var within = new List<IReadOnlyList<Stretch>>();
            if (person >= 0)
            {
                own.Add(firstHands + person);
                within.Add(day.Hands[person].At);
            }

            if (task.Needs.HasFlag(Needs.Shop))
                within.Add(day.Open);
            return new Step(jobs[job.Ticket], i, task, slot.Hands, own, within);
        }
    }

    private static Dictionary<(string, int), int> Lanes(IEnumerable<((string, int) Key, int From, int To)> stretches)
    {
        var all = stretches.OrderBy(one => one.From).ThenBy(one => one.To).ThenBy(one => one.Key).ToList();
        return all.Zip(PortStay.Laid(all.ConvertAll(one => (one.From, one.To)))).ToDictionary(one => one.First.Key, one => one.Second);
    }

    private Dictionary<(int Job, int Task), (int From, int To)> Times(Dictionary<(int Job, int Task), int> notBefore)
    {
        var free = new int[lanes];
        var ready = new int[day.Jobs.Count];
        var times = new Dictionary<(int Job, int Task), (int From, int To)>();
        foreach (var step in steps)
        {
            var minutes = step.Task.Minutes;
            var from = step.Task.BegunAt
                ?? Earliest(step, Math.Max(ready[step.Job], notBefore.GetValueOrDefault((step.Job, step.Index))), minutes, free);
            var to = step.Task.BegunAt is null ? from + minutes : Math.Max(from + minutes, 1);
            foreach (var lane in step.Lanes)
                free[lane] = to;
            ready[step.Job] = to;
            times[(step.Job, step.Index)] = (from, to);
        }

        return times;
    }

    private static int Earliest(Step step, int at, int minutes, int[] free)
    {
        foreach (var lane in step.Lanes)
            at = Math.Max(at, free[lane]);
        for (var before = -1; before != at; )
        {
            before = at;
            foreach (var within in step.Within)
                at = within.FirstRoom(at, minutes) ?? at;
        }

        return at;
    }

    // What follows something that was begun follows it when it can: that one is held back no more.
    private bool IsAtOnce(Step step) =>
        step is { Task: { AtOnce: true, BegunAt: null }, Index: > 0 } && day.Jobs[step.Job].Tasks[step.Index - 1].BegunAt is null;

    /// <summary>The same work in the same order, each as early as it can be; nothing is later than it was.</summary>
    public List<Slot> Early()
    {
        var notBefore = new Dictionary<(int Job, int Task), int>();
        while (true)
        {
            var times = Times(notBefore);
            // What came too early for what follows it at once is held back by as much, and all is played again: at the worst until
            // everything is where it was.
            var isGapless = true;
            foreach (var step in steps.Where(IsAtOnce))
                if (times[(step.Job, step.Index)].From - times[(step.Job, step.Index - 1)].To is var gap and > 0)
                {
                    isGapless = false;
                    notBefore[(step.Job, step.Index - 1)] = times[(step.Job, step.Index - 1)].From + gap;
                }

            if (isGapless)
                return
                [
                    .. steps
                        .Select(step =>
                        {
                            var (from, to) = times[(step.Job, step.Index)];
                            return new Slot(day.Jobs[step.Job].Ticket, step.Task, from, to, step.Hands);
                        })
                        .OrderBy(slot => slot.Start)
                        .ThenBy(slot => slot.Ticket, StringComparer.Ordinal)
                        .ThenBy(slot => slot.End),
                ];
        }
    }
}
