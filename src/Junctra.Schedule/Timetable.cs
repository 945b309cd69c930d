namespace Junctra.Schedule;

/// <summary>When a stretch of work is done, and by what.</summary>
/// <param name="Ticket">Ticket of its job.</param>
/// <param name="Task">The work.</param>
/// <param name="Start">Its first minute.</param>
/// <param name="End">The minute after its last.</param>
/// <param name="Hands">Whose hands; null where none are needed.</param>
public sealed record Slot(string Ticket, WorkTask Task, int Start, int End, string? Hands);

/// <summary>By what a timetable was made.</summary>
public enum TimetableMaker
{
    /// <summary>The solver.</summary>
    Solver,

    /// <summary>A search for an order by which promises have the most room.</summary>
    SureOrder,

    /// <summary>The order that people know already.</summary>
    Known,

    /// <summary>The simple rule: hands that are free take the job that is most pressed.</summary>
    Rule,
}

/// <summary>
/// What a timetable costs, the worst first: one costs less than another by the first of these that differs (specification: section 13 of
/// the job).
/// </summary>
/// <param name="Late">Minutes late, each counted as its job's weight says.</param>
/// <param name="Broken">Promises that break, weighted alike.</param>
/// <param name="Tight">
/// Minutes by which jobs are ready later than leaves their promise a good chance (<see cref="DayJob.Margins"/>), weighted alike.
/// </param>
/// <param name="HandsEnd">The minute in which the last work of hands is done: until then, hands that are not at work wait.</param>
/// <param name="Changes">Stretches of hands that people were told otherwise.</param>
/// <param name="End">The minute in which the last job is ready.</param>
public readonly record struct Cost(long Late, int Broken, long Tight, int HandsEnd, int Changes, int End) : IComparable<Cost>
{
    /// <summary>
    /// A promise that breaks counts for so many minutes by itself: two that break by little are worse than one that breaks by more.
    /// </summary>
    public const int Broke = 60;

    /// <summary>How late all is.</summary>
    public long Lateness => Late + (long)Broke * Broken;

    /// <summary>Ends are told apart by so many minutes; within them it counts more how well promises stand.</summary>
    public const int Step = 5;

    /// <summary>The step in which the last work of hands is done.</summary>
    public int HandsStep => (HandsEnd + Step - 1) / Step;

    /// <summary>The step in which the last job is ready.</summary>
    public int EndStep => (End + Step - 1) / Step;

    /// <summary>What a timetable is proved by.</summary>
    public (long Lateness, int HandsStep, int Changes, int EndStep) Proved => (Lateness, HandsStep, Changes, EndStep);

    /// <inheritdoc/>
    public int CompareTo(Cost other) => (Proved, Tight, HandsEnd, End).CompareTo((other.Proved, other.Tight, other.HandsEnd, other.End));

    /// <summary>Whether one costs less than another.</summary>
    public static bool operator <(Cost one, Cost other) => one.CompareTo(other) < 0;

    /// <summary>Whether one costs more than another.</summary>
    public static bool operator >(Cost one, Cost other) => one.CompareTo(other) > 0;

    /// <summary>Whether one costs no more than another.</summary>
    public static bool operator <=(Cost one, Cost other) => one.CompareTo(other) <= 0;

    /// <summary>Whether one costs no less than another.</summary>
    public static bool operator >=(Cost one, Cost other) => one.CompareTo(other) >= 0;
}

/// <summary>A timetable of a bench day.</summary>
/// <param name="Slots">All work, by its first minute.</param>
/// <param name="Maker">By what it was made.</param>
/// <param name="Cost">What it costs.</param>
public sealed record Timetable(IReadOnlyList<Slot> Slots, TimetableMaker Maker, Cost Cost)
{
    /// <summary>
    /// What it costs at the least, as far as that was proved (<see cref="Cost.Proved"/>); of an end, the first minute of its step. Null
    /// where nothing was proved.
    /// </summary>
    public Cost? AtLeast { get; init; }

    /// <summary>Whether nothing is possible that is less late, leaves hands waiting less, changes less or ends earlier.</summary>
    public bool IsProved => AtLeast is { } bound && bound.Proved.CompareTo(Cost.Proved) >= 0;

    /// <summary>The work of a pair of hands, in order.</summary>
    public IEnumerable<Slot> Of(string hands) => Slots.Where(slot => slot.Hands == hands);

    /// <summary>When a job is ready; null where no work is left of it.</summary>
    public int? ReadyAt(string ticket) => Slots.Where(slot => slot.Ticket == ticket).Select(slot => (int?)slot.End).Max();

    /// <summary>What it costs.</summary>
    /// <param name="day">The day.</param>
    /// <param name="slots">All work of it.</param>
    /// <param name="known">The timetable that people know; null where they know none.</param>
    public static Cost CostOf(Day day, IReadOnlyList<Slot> slots, Timetable? known)
    {
        var ready = slots
            .GroupBy(slot => slot.Ticket)
            .ToDictionary(job => job.Key, job => job.Max(slot => slot.End), StringComparer.Ordinal);
        return new Cost(
            Over(_ => 0),
            day.Jobs.Sum(job => job.Promised is { } promised && ready.GetValueOrDefault(job.Ticket) > promised ? job.Weight : 0),
            Enumerable.Range(0, DayJob.CountOfMargins).Sum(i => Over(job => job.Margins[i])),
            HandsEndOf(slots),
            Changes(slots, known).Count(),
            slots.Select(slot => slot.End).DefaultIfEmpty().Max()
        );

        long Over(Func<DayJob, int> margin) =>
            day.Jobs.Sum(job =>
                job.Promised is { } promised && ready.TryGetValue(job.Ticket, out var end)
                    ? (long)Math.Max(0, end - (promised - margin(job))) * job.Weight
                    : 0
            );
    }

    /// <summary>Minutes by which work may move without anybody being told otherwise.</summary>
    public const int SmallMove = 10;

    /// <summary>Work of hands that was told otherwise: with whom, or when.</summary>
    public static IEnumerable<(Slot Was, Slot Is)> Changes(IEnumerable<Slot> slots, Timetable? known)
    {
        if (known is null)
            yield break;
        var before = known.Slots.Where(slot => slot.Hands is not null).ToDictionary(slot => (slot.Ticket, slot.Task.Id));
        foreach (var slot in slots.Where(slot => slot is { Hands: not null, Task.BegunAt: null }))
            if (
                before.TryGetValue((slot.Ticket, slot.Task.Id), out var was)
                && (was.Hands != slot.Hands || Math.Abs(was.Start - slot.Start) > SmallMove)
            )
                yield return (was, slot);
    }

    private static int HandsEndOf(IEnumerable<Slot> slots) =>
        slots.Where(slot => slot.Hands is not null).Select(slot => slot.End).DefaultIfEmpty().Max();

    /// <summary>Minutes that people are at the bench without work before the last work of hands is done.</summary>
    public int Idle(Day day)
    {
        var end = HandsEndOf(Slots);
        return day.Hands.Sum(hands =>
            hands.At.MinutesUntil(end) - Of(hands.Name).Sum(slot => Math.Max(0, slot.End - Math.Max(0, slot.Start)))
        );
    }

    /// <summary>The same timetable as it stands some minutes later.</summary>
    public Timetable Later(int minutes) =>
        this with
        {
            Slots = [.. Slots.Select(slot => slot with { Start = slot.Start - minutes, End = slot.End - minutes })],
        };
}
