using Junctra.Schedule;

namespace Junctra.StandIns.Days;

/// <summary>
/// Bench days of the invented shop, from seeds: phones of the usual kinds of work, each with what hands, ports, line and chargers it takes,
/// promised for hours at which they can be ready and now and then for ones at which they hardly can.
/// </summary>
public static class InventedDay
{
    private const int Opens = 0,
        Lunch = 4 * 60,
        AfterLunch = 4 * 60 + 30,
        Closes = 9 * 60,
        Night = 24 * 60;

    /// <summary>A day.</summary>
    /// <param name="seed">The seed.</param>
    /// <param name="phones">How many phones.</param>
    /// <param name="people">How many pairs of hands.</param>
    /// <param name="ports">How many ports.</param>
    /// <param name="pressure">Shares of the day's work between which promises lie: 1 where all hands are busy until the last.</param>
    public static Day Of(int seed, int phones, int people = 1, int ports = 4, double pressure = 1)
    {
        var random = new Random(seed);
        Stretch[] At(int day) => [new(day * Night + Opens, day * Night + Lunch), new(day * Night + AfterLunch, day * Night + Closes)];
        var hands = Enumerable
            .Range(0, people)
            // The second comes an hour later and goes to lunch with the first.
            .Select(i => new BenchHands(
                $"bench {i + 1}",
                [
                    .. Enumerable
                        .Range(0, 14)
                        .SelectMany(At)
                        .Select(at => i == 0 || at.From % Night > 0 ? at : at with { From = at.From + 60 }),
                ]
            ))
            .ToList();
        var open = Enumerable.Range(0, 14).Select(day => new Stretch(day * Night + Opens, day * Night + Closes)).ToList();
        var jobs = Enumerable.Range(0, phones).Select(i => Job(random, i)).ToList();
        // What all of it takes of the hands, and what a phone takes by itself, is what promises are made by.
        var work = jobs.Sum(job => job.Tasks.Where(task => task.Needs.HasFlag(Needs.Hands)).Sum(task => task.Minutes)) / (double)people;
        return new Day(
            new DateTimeOffset(2026, 11, 30, 9, 0, 0, TimeSpan.Zero),
            hands,
            open,
            ports,
            2,
            [
                .. jobs.Select(job =>
                    job with
                    {
                        Promised =
                            random.NextDouble() < 0.1
                                ? null
                                : (int)(job.Tasks.Sum(task => task.Slow) + (0.15 + random.NextDouble()) * pressure * work) / 15 * 15,
                        Weight = random.NextDouble() < 0.1 ? 5 : 1,
                    }
                ),
            ]
        );
    }

    private static DayJob Job(Random random, int came)
    {
        var tasks = new List<WorkTask>();
        void Add(string title, Needs needs, int from, int to, double slow = 1.8, bool atOnce = false)
        {
            var minutes = random.Next(from, to + 1);
            tasks.Add(new WorkTask($"{tasks.Count + 1}", title, needs, minutes, (int)Math.Ceiling(minutes * slow)) { AtOnce = atOnce });
        }

        const Needs hands = Needs.Hands | Needs.Shop,
            plugged = Needs.Port | Needs.Shop;
        var kind = random.Next(6);
        if (random.NextDouble() < 0.25)
            Add("charge", Needs.Charger | Needs.Shop, 20, 40);
        Add("find out", hands, 5, 15);
        if (kind != 0 && random.NextDouble() < 0.35)
            Add("download", Needs.Line, 20, 90, 2);
        switch (kind)
        {
            // Keys alone: wiped, and started.
            case 0:
                Add("keys and wipe", hands, 3, 8);
                Add("first boot", Needs.Shop, 3, 6, 2);
                break;
            // A card in its recovery.
            case 1:
                Add("card and keys", hands, 4, 8);
                Add("update runs", Needs.Shop, 4, 10);
                Add("first boot", Needs.Shop, 3, 10, 2);
                break;
            // Data saved first, then written, and brought back.
            case 2:
                Add("connect", hands | plugged, 3, 6);
                Add("save the data", plugged, 10, 40);
                Add("keys", hands | plugged, 2, 5);
                Add("write", plugged, 4, 12, atOnce: true);
                Add("bring the data back", hands | plugged, 2, 5);
                Add("restore", plugged, 10, 30);
                break;
            // A write, with a warning screen to be answered at once.
            default:
                Add("connect and keys", hands | plugged, 4, 9);
                Add("write", plugged, 4, 14, atOnce: true);
                if (kind == 3)
                    Add("wipe it now", hands | plugged, 2, 4, atOnce: true);
                Add("first boot", Needs.Shop, 3, 10, 2);
                break;
        }

        Add("check", hands, 4, 9);
        if (random.NextDouble() < 0.5)
            Add("optimising", Needs.Shop, 3, 15, 2);
        Add("hand back", hands, 2, 4);
        return new DayJob($"{100 + came:0000}", came, tasks, null);
    }
}
