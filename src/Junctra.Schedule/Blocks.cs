namespace Junctra.Schedule;

/// <summary>Tasks of a job that follow each other at once: they are begun together or not at all.</summary>
/// <param name="Job">Their job.</param>
/// <param name="Tasks">They, in order.</param>
/// <param name="First">The place of the first of them in the job.</param>
internal sealed record Block(DayJob Job, IReadOnlyList<WorkTask> Tasks, int First)
{
    /// <summary>The blocks of a job, in order.</summary>
    public static List<Block> Of(DayJob job)
    {
        var blocks = new List<Block>();
        for (var i = 0; i < job.Tasks.Count; )
        {
            var to = i + 1;
            while (to < job.Tasks.Count && job.Tasks[to].AtOnce && job.Tasks[to - 1].BegunAt is null)
                to++;
            blocks.Add(new Block(job, [.. job.Tasks.Skip(i).Take(to - i)], i));
            i = to;
        }

        return blocks;
    }

    /// <summary>
    /// The stays of a job in a port, each from the first to the last of tasks in a row that need one: between them the phone is not
    /// unplugged.
    /// </summary>
    public static IEnumerable<(int First, int Last)> Stays(DayJob job)
    {
        for (var i = 0; i < job.Tasks.Count; i++)
        {
            if (!job.Tasks[i].Needs.HasFlag(Needs.Port))
                continue;
            var last = i;
            while (last + 1 < job.Tasks.Count && job.Tasks[last + 1].Needs.HasFlag(Needs.Port))
                last++;
            yield return (i, last);
            i = last;
        }
    }

    /// <summary>The minute from which a stay takes its port: of a phone that is in one now, now.</summary>
    public static int StayFrom(DayJob job, int first, int start) => job.IsInPort && first == 0 ? Math.Min(0, start) : start;
}
