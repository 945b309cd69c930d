namespace Junctra.Schedule;

/// <summary>
/// A bench that works by a timetable while things take as long as they take. Everybody keeps to the order of their own work; who would wait
/// turns to something else that is usually done before, or that is overdue and whose own hands are busy. What runs by itself begins as
/// soon as it can. Made once, and played again and again.
/// </summary>
internal sealed partial class BenchPlay
{
    private readonly Day day;
    private readonly List<Planned> blocks;
    private readonly List<Planned>[] ofJob;

    // What only so many have at a time.
    private static readonly Needs[] Shared = [Needs.Port, Needs.Line, Needs.Charger];

    // A block with its place among its job's, when the timetable begins it and whose hands its tasks are, -1 for nobody's; and for how
    // long it takes what others need as well, in the order of Shared, 0 where it does not.
    private sealed record Planned(int Job, int Place, Block Block, int Start, int[] Hands, bool NeedsHandsFirst, int Usual, int[] Holds);

    // What goes on: who is at it, and when it will be over.
    private sealed record Running(int Job, int Task, int Hands, int From, int To);

    public BenchPlay(Day day, IReadOnlyList<Slot> slots)
    {
        this.day = day;
        var planned = slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id));
        var people = day.Hands.Select((hands, i) => (hands.Name, i)).ToDictionary(one => one.Name, one => one.i, StringComparer.Ordinal);
        ofJob = [.. day.Jobs.Select((job, j) => Block.Of(job).Select((block, place) => Of(j, place, block)).ToList())];
        blocks = [.. ofJob.SelectMany(all => all).OrderBy(block => block.Start).ThenBy(block => block.Job)];

        Planned Of(int job, int place, Block block)
        {
            var own = block.Tasks.Select(task => planned[(block.Job.Ticket, task.Id)]).ToList();
            return new Planned(
                job,
                place,
                block,
                own[0].Start,
                [.. own.Select(slot => slot.Hands is { } name && people.TryGetValue(name, out var who) ? who : -1)],
                block.Tasks[0].Needs.HasFlag(Needs.Hands),
                block.Tasks.TakeWhile(task => task.Needs.HasFlag(Needs.Hands)).Sum(task => task.Minutes),
                [.. Shared.Select(what => HeldFor(block, what, own[0].Start))]
            );
        }

        // A phone stays in its port over all tasks in a row that need one; what it has from a task before, it does not take anew.
        int HeldFor(Block block, Needs what, int start)
        {
            var tasks = block.Job.Tasks;
            var first = Enumerable
                .Range(block.First, block.Tasks.Count)
                .Where(i => tasks[i].Needs.HasFlag(what))
                .DefaultIfEmpty(-1)
                .First();
            if (first < 0 || what == Needs.Port && (first > 0 ? tasks[first - 1].Needs.HasFlag(what) : block.Job.IsInPort))
                return 0;
            var last = first;
            while (last + 1 < tasks.Count && tasks[last + 1].Needs.HasFlag(what))
                last++;
            return planned[(block.Job.Ticket, tasks[last].Id)].End - start;
        }
    }

    /// <summary>Plays it once.</summary>
    /// <param name="minutesOf">How long a task takes, by its job's place and its own.</param>
    /// <returns>Of each job the minute in which it is ready; 0 where no work is left of it.</returns>
    public int[] Play(Func<int, int, int> minutesOf) => new Course(this, minutesOf).Run();
}
