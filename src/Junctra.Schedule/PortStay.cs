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
        var lanes = new List<List<PortStay>>();
        foreach (
            var stay in day
                .Jobs.SelectMany(job =>
                    Block
                        .Stays(job)
                        .Select(stay => new PortStay(
                            job.Ticket,
                            times[(job.Ticket, job.Tasks[stay.First].Id)].Start,
                            times[(job.Ticket, job.Tasks[stay.Last].Id)].End
                        ))
                )
                .OrderBy(stay => stay.From)
                .ThenBy(stay => stay.To)
                .ThenBy(stay => stay.Ticket, StringComparer.Ordinal)
        )
            if (lanes.Find(lane => lane[^1].To <= stay.From) is { } free)
                free.Add(stay);
            else
                lanes.Add([stay]);
        return lanes;
    }
}
