namespace Junctra.Schedule;

/// <summary>A bench that takes work as the day goes: who is at what, and which ports, chargers and lines are taken.</summary>
internal sealed class BenchState
{
    private readonly Day day;
    private readonly List<Slot> slots = [];
    private readonly List<Stretch>[] busy;
    private readonly Dictionary<(string Ticket, string Task), string?> told;
    private readonly int[] done;
    private readonly Dictionary<string, int> readyAt = new(StringComparer.Ordinal);
    private readonly List<Stretch> line = [],
        chargers = [];

    // When somebody comes or the shop opens, in order, and the first of those that is still to come.
    private readonly int[] openings;
    private int nextOpening;

    // When what goes on is over.
    private readonly PriorityQueue<int, int> ends = new();

    // Who is in a port; int.MaxValue while it is not known when they leave.
    private readonly List<(string Ticket, int From, int To)> ports = [];

    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know: whoever was told that something is theirs takes it, if they can.</param>
    public BenchState(Day day, Timetable? known)
    {
        this.day = day;
        told = known?.Slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id), slot => slot.Hands) ?? [];
        busy = [.. day.Hands.Select(_ => new List<Stretch>())];
        done = new int[day.Hands.Count];
        openings =
        [
            .. day.Open.Select(open => open.From).Concat(day.Hands.SelectMany(hands => hands.At.Select(at => at.From))).Distinct().Order(),
        ];
        // What was begun has what it needs, whatever else is free.
        foreach (var job in day.Jobs)
        {
            if (job is { IsInPort: true, Tasks: [var first, ..] } && first.Needs.HasFlag(Needs.Port))
                ports.Add((job.Ticket, 0, int.MaxValue));
            for (var i = 0; i < job.Tasks.Count && job.Tasks[i].BegunAt is { } begun; i++)
                Take(
                    job,
                    i,
                    begun,
                    job.Tasks[i].Needs.HasFlag(Needs.Hands) ? job.Tasks[i].By ?? (day.Hands.Count > 0 ? day.Hands[0].Name : null) : null
                );
        }
    }

    /// <summary>All work that was begun, by its first minute.</summary>
    public IReadOnlyList<Slot> Slots =>
        [.. slots.OrderBy(slot => slot.Start).ThenBy(slot => slot.Ticket, StringComparer.Ordinal).ThenBy(slot => slot.End)];

    /// <summary>Begins a block now, if everything that it takes is free.</summary>
    /// <returns>Whether it was begun, or had been before.</returns>
    public bool TryBegin(Block block, int now)
    {
        var job = block.Job;
        if (block.Tasks[0].BegunAt is not null)
            return true;
        if (readyAt.GetValueOrDefault(job.Ticket) > now)
            return false;
        var hands = new string?[block.Tasks.Count];
        var at = now;
        for (var i = 0; i < block.Tasks.Count; i++, at += block.Tasks[i - 1].Minutes)
            if (!IsFree(job, block.Tasks[i], at, at + block.Tasks[i].Minutes, out hands[i]))
                return false;
        at = now;
        for (var i = 0; i < block.Tasks.Count; i++, at += block.Tasks[i - 1].Minutes)
            Take(job, block.First + i, at, hands[i]);
        return true;
    }

    private bool IsFree(DayJob job, WorkTask task, int from, int to, out string? hands)
    {
        hands = null;
        if (task.Needs.HasFlag(Needs.Shop) && !day.Open.Hold(from, to))
            return false;
        if (task.Needs.HasFlag(Needs.Line) && Meets(line, from, to))
            return false;
        if (task.Needs.HasFlag(Needs.Charger) && chargers.Count(taken => taken.Meets(from, to)) >= day.Chargers)
            return false;
        if (
            task.Needs.HasFlag(Needs.Port)
            && !ports.Exists(port => port.Ticket == job.Ticket && port.To > from)
            && ports.Count(port => from < port.To && port.From < to) >= day.Ports
        )
            return false;
        if (!task.Needs.HasFlag(Needs.Hands))
            return true;
        // Of several, whoever was told so, or else has done least.
        var who = -1;
        var theirs = told.GetValueOrDefault((job.Ticket, task.Id));
        for (var one = 0; one < busy.Length; one++)
            if (
                (who < 0 || day.Hands[who].Name != theirs && (day.Hands[one].Name == theirs || done[one] < done[who]))
                && day.Hands[one].At.Hold(from, to)
                && !Meets(busy[one], from, to)
            )
                who = one;
        hands = who < 0 ? null : day.Hands[who].Name;
        return who >= 0;
    }

    private static bool Meets(List<Stretch> taken, int from, int to)
    {
        for (var i = taken.Count - 1; i >= 0; i--)
            if (taken[i].Meets(from, to))
                return true;
        return false;
    }

    private void Take(DayJob job, int index, int from, string? hands)
    {
        var task = job.Tasks[index];
        // What was begun is not yet over.
        var to = Math.Max(from + task.Minutes, task.BegunAt is null ? 0 : 1);
        slots.Add(new Slot(job.Ticket, task, from, to, hands));
        readyAt[job.Ticket] = to;
        ends.Enqueue(to, to);
        for (var one = 0; one < busy.Length; one++)
            if (hands == day.Hands[one].Name)
            {
                busy[one].Add(new Stretch(from, to));
                done[one] += to - from;
            }

        if (task.Needs.HasFlag(Needs.Line))
            line.Add(new Stretch(from, to));
        if (task.Needs.HasFlag(Needs.Charger))
            chargers.Add(new Stretch(from, to));
        if (!task.Needs.HasFlag(Needs.Port))
            return;
        var isLast = index + 1 == job.Tasks.Count || !job.Tasks[index + 1].Needs.HasFlag(Needs.Port);
        var stay = ports.FindIndex(port => port.Ticket == job.Ticket && port.To == int.MaxValue);
        var since = stay >= 0 ? ports[stay].From : from;
        if (stay >= 0)
            ports.RemoveAt(stay);
        ports.Add((job.Ticket, since, isLast ? to : int.MaxValue));
    }

    /// <summary>The next minute in which something may begin that could not before.</summary>
    public int NextChange(int now)
    {
        while (ends.TryPeek(out var over, out _) && over <= now)
            ends.Dequeue();
        while (nextOpening < openings.Length && openings[nextOpening] <= now)
            nextOpening++;
        var isOver = ends.TryPeek(out var end, out _);
        return nextOpening < openings.Length ? (isOver ? Math.Min(end, openings[nextOpening]) : openings[nextOpening])
            : isOver ? end
            : throw new InvalidOperationException($"Work is left after minute {now} of {day.Horizon}.");
    }
}
