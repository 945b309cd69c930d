namespace Junctra.Schedule;

/// <summary>A phone's stay in a port.</summary>
/// <param name="Ticket">Ticket of its job.</param>
/// <param name="From">Its first minute.</param>
/// <param name="To">The minute after its last.</param>
public sealed record PortStay(string Ticket, int From, int To)
{
    /// <summary>The stays of a timetable, laid into as few ports as hold them: of each port its stays, in order.</summary>
    public static IReadOnlyList<IReadOnlyList<PortStay>> Lanes(Day day, IReadOnlyList<Slot> slots)
    {
        var times = slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id));
        var stays = day
            .Jobs.SelectMany(job =>
                Block
                    .Stays(job)
                    .Select(stay => new PortStay(
                        job.Ticket,
                        Block.StayFrom(job, stay.First, times[(job.Ticket, job.Tasks[stay.First].Id)].Start),
                        times[(job.Ticket, job.Tasks[stay.Last].Id)].End
                    ))
            )
            .OrderBy(stay => stay.From)
            .ThenBy(stay => stay.To)
            .ThenBy(stay => stay.Ticket, StringComparer.Ordinal)
            .ToList();
        var lanes = Laid(stays.ConvertAll(stay => (stay.From, stay.To)));
        return
        [
            .. stays
                .Zip(lanes)
                .GroupBy(one => one.Second, one => one.First)
                .OrderBy(lane => lane.Key)
                .Select(lane => (IReadOnlyList<PortStay>)[.. lane]),
        ];
    }

    /// <summary>Lays stretches, in the order of their first minutes, into as few lanes as hold them: of each its lane, from 0.</summary>
    internal static int[] Laid(IReadOnlyList<(int From, int To)> stretches)
    {
        var free = new List<int>();
        var lanes = new int[stretches.Count];
        for (var i = 0; i < stretches.Count; i++)
        {
            lanes[i] = free.FindIndex(since => since <= stretches[i].From);
            if (lanes[i] < 0)
            {
                lanes[i] = free.Count;
                free.Add(0);
            }

            free[lanes[i]] = stretches[i].To;
        }

        return lanes;
    }
}
