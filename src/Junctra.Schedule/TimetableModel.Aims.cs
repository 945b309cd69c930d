using Google.OrTools.Sat;

namespace Junctra.Schedule;

// What is made as small as can be.
internal sealed partial class TimetableModel
{
    private LinearExpr Late(Dictionary<string, LinearExpr> ends, Func<DayJob, int> margin)
    {
        var late = new List<LinearExpr>();
        foreach (var job in day.Jobs.Where(job => job is { Promised: not null, Tasks.Count: > 0 }))
        {
            var due = job.Promised!.Value - margin(job);
            var minutes = Model.NewIntVar(0, Latest + Math.Max(0, -due) + 1, $"{job.Ticket} after {due}");
            Model.Add(minutes >= ends[job.Ticket] - due);
            Model.AddHint(minutes, Math.Max(0, hint.ReadyAt(job.Ticket)!.Value - due));
            late.Add(minutes * job.Weight);
        }

        return LinearExpr.Sum(late);
    }

    private LinearExpr Broken(Dictionary<string, LinearExpr> ends)
    {
        var broken = new List<LinearExpr>();
        foreach (var job in day.Jobs.Where(job => job is { Promised: not null, Tasks.Count: > 0 }))
        {
            var isBroken = Model.NewBoolVar($"{job.Ticket} breaks");
            Model.Add(ends[job.Ticket] <= job.Promised!.Value).OnlyEnforceIf(isBroken.Not());
            Model.AddHint(isBroken, hint.ReadyAt(job.Ticket) > job.Promised ? 1 : 0);
            broken.Add(isBroken * job.Weight);
        }

        return LinearExpr.Sum(broken);
    }

    private IntVar HandsEnd()
    {
        var end = Model.NewIntVar(LeastHandsEnd(), Latest, "hands are through");
        Model.AddHint(end, hint.Cost.HandsEnd);
        foreach (var (key, (task, start, who, _)) in vars)
            if (start is not null && who.Count > 0)
                Model.Add(end >= start + task.Minutes);
            else if (start is null && hinted[key].Hands is not null)
                Model.Add(end >= hinted[key].End);
        return end;
    }

    private IntVar Step(IntVar end, string what, int hinted)
    {
        var step = Model.NewIntVar(0, (Latest + 24 * 60) / Cost.Step + 1, $"the step in which {what}");
        Model.AddHint(step, hinted);
        Model.Add(step * Cost.Step >= end);
        return step;
    }

    // Before it, all hands together are not at the bench for as long as all of their work takes.
    private int LeastHandsEnd()
    {
        var work = hinted.Values.Where(slot => slot.Hands is not null).Sum(slot => slot.End - Math.Max(0, slot.Start));
        var least = 0;
        while (least < hint.Cost.HandsEnd && day.Hands.Sum(hands => hands.At.MinutesUntil(least)) < work)
            least++;
        return least;
    }

    private LinearExpr Changes(Timetable? known)
    {
        var changes = new List<LinearExpr>();
        foreach (var was in known?.Slots.Where(slot => slot.Hands is not null) ?? [])
            if (vars.TryGetValue((was.Ticket, was.Task.Id), out var now) && now is { Start: { } start, Who.Count: > 0 })
            {
                var theirs = now.Who.Find(one => one.Hands == was.Hands);
                if (theirs.Hands is null)
                {
                    // They have left: it is somebody else's, whatever is done.
                    changes.Add(LinearExpr.Constant(1));
                    continue;
                }

                var isSame = Model.NewBoolVar($"{was.Ticket} {was.Task.Id} as known");
                Model.Add(start >= was.Start - Timetable.SmallMove).OnlyEnforceIf(isSame);
                Model.Add(start <= was.Start + Timetable.SmallMove).OnlyEnforceIf(isSame);
                if (theirs.Is is { } literal)
                    Model.AddImplication(isSame, literal);
                changes.Add(1 - isSame);
            }

        return LinearExpr.Sum(changes);
    }

    private IntVar End(Dictionary<string, LinearExpr> ends, IntVar handsEnd)
    {
        var end = Model.NewIntVar(0, Latest + 24 * 60, "the last job is ready");
        Model.AddHint(end, hint.Cost.End);
        Model.Add(end >= handsEnd);
        foreach (var one in ends.Values)
            Model.Add(end >= one);
        return end;
    }
}
