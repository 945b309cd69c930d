namespace Junctra.Schedule;

internal sealed partial class BenchPlay
{
    // One time through.
    private sealed class Course
    {
        private readonly BenchPlay play;
        private readonly Day day;
        private readonly Func<int, int, int> minutesOf;
        private readonly int[] next,
            ready;
        private readonly List<Running> running = [];

        // The next block of every job, by when the timetable begins it; and how many of all blocks, in that order, are begun without a gap.
        private readonly List<Planned> fronts = [];
        private int begun;

        // What is asked again and again of what is running: which job is, whose hands are at work, and how many take what is shared.
        private readonly bool[] isRunning,
            isAtWork;
        private int onLine,
            charging;
        private readonly Dictionary<int, int> inPort = [];

        // Tasks that are to follow at once, by their job: how far its block has come, and since when it is due.
        private readonly SortedDictionary<int, (Planned Block, int Task, int Since)> due = [];

        // Whose hands will be needed for what follows at once, as it usually goes.
        private readonly List<(int Job, int Hands, int From, int To)> kept = [];

        public Course(BenchPlay play, Func<int, int, int> minutesOf)
        {
            (this.play, day, this.minutesOf) = (play, play.day, minutesOf);
            next = new int[day.Jobs.Count];
            ready = new int[day.Jobs.Count];
            isRunning = new bool[day.Jobs.Count];
            isAtWork = new bool[day.Hands.Count];
        }

        public int[] Run()
        {
            for (var job = 0; job < next.Length; job++)
                if (day.Jobs[job] is { IsInPort: true, Tasks: [var first, ..] } && first.Needs.HasFlag(Needs.Port))
                    inPort[job] = 0;
            // What was begun has what it needs, whatever else is free.
            foreach (var block in play.blocks.Where(block => block.Block.Tasks[0].BegunAt is not null))
            {
                Begin(block, 0, block.Block.Tasks[0].BegunAt!.Value, block.Hands[0]);
                next[block.Job]++;
            }

            for (var job = 0; job < next.Length; job++)
                ToFront(job);
            for (var now = 0; ; )
            {
                while (BeginOne(now)) { }
                if (NextChange(now) is not { } then)
                    break;
                now = then;
                foreach (var over in running.Where(one => one.To <= now).ToList())
                    End(over);
            }

            // What found no more room is ready on no day that is planned.
            for (var job = 0; job < next.Length; job++)
                if (next[job] < play.ofJob[job].Count || due.ContainsKey(job))
                    ready[job] = day.Horizon + 1;
            return ready;
        }

        private bool BeginOne(int now)
        {
            foreach (var (job, (block, task, _)) in due.OrderBy(one => one.Value.Since))
                if (Who(block, task, now, isDue: true) is { } hands && HasRoom(job, block.Block.Tasks[task], now))
                {
                    due.Remove(job);
                    Begin(block, task, now, hands);
                    return true;
                }

            foreach (var block in fronts)
                if (
                    IsReady(block, now)
                    && (!block.NeedsHandsFirst || Array.IndexOf(isAtWork, false) >= 0)
                    && HasRoom(block.Job, block.Block.Tasks[0], now)
                    && LeavesRoom(block, now)
                    && Who(block, 0, now, isDue: false) is { } hands
                )
                {
                    Pass(block);
                    Keep(block, now);
                    Begin(block, 0, now, hands);
                    return true;
                }

            return false;
        }

        private void ToFront(int job)
        {
            if (next[job] == play.ofJob[job].Count)
                return;
            var block = play.ofJob[job][next[job]];
            var at = fronts.Count;
            while (at > 0 && (fronts[at - 1].Start, fronts[at - 1].Job).CompareTo((block.Start, block.Job)) > 0)
                at--;
            fronts.Insert(at, block);
        }

        private void Pass(Planned block)
        {
            fronts.Remove(block);
            next[block.Job]++;
            ToFront(block.Job);
            while (begun < play.blocks.Count && play.blocks[begun] is var first && first.Place < next[first.Job])
                begun++;
        }

        private bool IsReady(Planned block, int now) => ready[block.Job] <= now && !isRunning[block.Job] && !due.ContainsKey(block.Job);

        private bool HasRoom(int job, WorkTask task, int now)
        {
            if (task.Needs.HasFlag(Needs.Shop) && !day.Open.Hold(now, now + task.Minutes))
                return false;
            if (task.Needs.HasFlag(Needs.Line) && Taken(Needs.Line) > 0)
                return false;
            if (task.Needs.HasFlag(Needs.Charger) && Taken(Needs.Charger) >= day.Chargers)
                return false;
            return !task.Needs.HasFlag(Needs.Port) || inPort.ContainsKey(job) || inPort.Count < day.Ports;
        }

        // What comes before its time leaves what it takes to those who are to have it before.
        private bool LeavesRoom(Planned block, int now)
        {
            if (block.Start <= now)
                return true;
            for (var i = 0; i < Shared.Length; i++)
            {
                if (block.Holds[i] == 0)
                    continue;
                var free =
                    Shared[i] switch
                    {
                        Needs.Port => day.Ports,
                        Needs.Charger => day.Chargers,
                        _ => 1,
                    } - (Shared[i] == Needs.Port ? inPort.Count : Taken(Shared[i]));
                for (var at = begun; at < play.blocks.Count; at++)
                {
                    var first = play.blocks[at];
                    if (first.Start >= block.Start || first.Start >= now + block.Holds[i])
                        break;
                    if (first.Holds[i] > 0 && first.Job != block.Job && first.Place >= next[first.Job])
                        free--;
                }

                if (free <= 0)
                    return false;
            }

            return true;
        }

        private int Taken(Needs what) => what == Needs.Line ? onLine : charging;

        /// <returns>Whose hands take it, -1 where it needs none; null where nobody's do now.</returns>
        private int? Who(Planned block, int task, int now, bool isDue)
        {
            var work = block.Block.Tasks[task];
            if (!work.Needs.HasFlag(Needs.Hands))
                return -1;
            var own = block.Hands[task];
            if (own >= 0 && Takes(own))
                return own;
            if (isDue || block.Start <= now)
                for (var hands = 0; hands < day.Hands.Count; hands++)
                    if (hands != own && Takes(hands))
                        return hands;
            return null;

            bool Takes(int hands) =>
                !isAtWork[hands]
                && day.Hands[hands].At.Hold(now, now + work.Minutes)
                && (
                    isDue
                    || !kept.Exists(one => one.Hands == hands && one.From < now + block.Usual && now < one.To)
                        && IsTheirTurn(block, hands, now)
                );
        }

        // Nobody begins what keeps them from what comes first.
        private bool IsTheirTurn(Planned block, int hands, int now)
        {
            if (block.Start <= now)
                return true;
            foreach (var first in fronts)
            {
                if (first.Start >= block.Start)
                    return true;
                if (first.NeedsHandsFirst && first.Hands[0] == hands && Expected(first, now) < now + block.Usual)
                    return false;
            }

            return true;
        }

        private int Expected(Planned block, int now)
        {
            var at = Math.Max(now, block.Start);
            foreach (var one in running)
                if (one.Job == block.Job)
                    at = Math.Max(now + 1, one.From + day.Jobs[one.Job].Tasks[one.Task].Minutes);
            return at;
        }

        private void Keep(Planned block, int now)
        {
            var at = now;
            for (var i = 0; i < block.Block.Tasks.Count; i++)
            {
                var task = block.Block.Tasks[i];
                if (i > 0 && task.Needs.HasFlag(Needs.Hands) && block.Hands[i] >= 0)
                    kept.Add((block.Job, block.Hands[i], at, at + task.Minutes));
                at += task.Minutes;
            }
        }

        private void Begin(Planned block, int task, int from, int hands)
        {
            var place = block.Block.First + task;
            var minutes = minutesOf(block.Job, place);
            running.Add(new Running(block.Job, place, hands, from, Math.Max(from + minutes, 1)));
            isRunning[block.Job] = true;
            if (hands >= 0)
                isAtWork[hands] = true;
            Take(day.Jobs[block.Job].Tasks[place], 1);
            if (hands >= 0 && task > 0)
                kept.RemoveAll(one => one.Job == block.Job);
            if (day.Jobs[block.Job].Tasks[place].Needs.HasFlag(Needs.Port))
                inPort[block.Job] = place;
        }

        private void Take(WorkTask task, int count)
        {
            onLine += task.Needs.HasFlag(Needs.Line) ? count : 0;
            charging += task.Needs.HasFlag(Needs.Charger) ? count : 0;
        }

        private void End(Running over)
        {
            running.Remove(over);
            isRunning[over.Job] = false;
            // Somebody at two phones is at work until both are done.
            if (over.Hands >= 0)
                isAtWork[over.Hands] = running.Exists(one => one.Hands == over.Hands);
            Take(day.Jobs[over.Job].Tasks[over.Task], -1);
            ready[over.Job] = over.To;
            var job = day.Jobs[over.Job];
            if (over.Task + 1 == job.Tasks.Count || !job.Tasks[over.Task + 1].Needs.HasFlag(Needs.Port))
                inPort.Remove(over.Job);
            var block = play.ofJob[over.Job][next[over.Job] - 1];
            if (over.Task + 1 < block.Block.First + block.Block.Tasks.Count)
                due[over.Job] = (block, over.Task + 1 - block.Block.First, over.To);
        }

        private int? NextChange(int now)
        {
            int? then = null;
            void At(int minute)
            {
                if (minute > now && (then is null || minute < then))
                    then = minute;
            }

            foreach (var one in running)
                At(one.To);
            // With nothing left to begin, nothing else changes anything.
            var isLeft = due.Count > 0;
            for (var job = 0; job < next.Length; job++)
                if (next[job] < play.ofJob[job].Count)
                {
                    isLeft = true;
                    At(play.ofJob[job][next[job]].Start);
                }

            if (!isLeft)
                return then;
            foreach (var open in day.Open)
                At(open.From);
            foreach (var hands in day.Hands)
            foreach (var at in hands.At)
                At(at.From);
            return then;
        }
    }
}
