namespace Junctra.Schedule;

/// <summary>Somebody whose hands are at the bench.</summary>
/// <param name="Name">Who.</param>
/// <param name="From">From when, in the shop's own time.</param>
/// <param name="To">Until when; the same as <paramref name="From"/> means the whole day.</param>
public sealed record BenchPerson(string Name, TimeOnly From, TimeOnly To);

/// <summary>When a shop works, and with what. Times are the shop's own.</summary>
/// <param name="Opens">When it opens.</param>
/// <param name="Closes">When it closes; the same as <paramref name="Opens"/> means that it never does.</param>
/// <param name="Days">On which days.</param>
/// <param name="People">Whose hands are at the bench.</param>
/// <param name="Chargers">How many known-good chargers it has.</param>
public sealed record BenchHours(
    TimeOnly Opens,
    TimeOnly Closes,
    IReadOnlyList<DayOfWeek> Days,
    IReadOnlyList<BenchPerson> People,
    int Chargers
)
{
    private const int DaysAhead = 14;

    /// <summary>The break in which nobody works; null without one.</summary>
    public TimeOnly? BreakFrom { get; init; }

    /// <summary>Its end; null without one.</summary>
    public TimeOnly? BreakTo { get; init; }

    /// <summary>Whether the timetable is shown without a sign-in, for a screen at the wall.</summary>
    public bool IsOnWall { get; init; }

    /// <summary>Of a shop that nobody asked yet: nine to six but Sundays, half an hour of lunch, one pair of hands.</summary>
    public static BenchHours Usual { get; } =
        new(
            new TimeOnly(9, 0),
            new TimeOnly(18, 0),
            [DayOfWeek.Monday, DayOfWeek.Tuesday, DayOfWeek.Wednesday, DayOfWeek.Thursday, DayOfWeek.Friday, DayOfWeek.Saturday],
            [new BenchPerson("bench", new TimeOnly(9, 0), new TimeOnly(18, 0))],
            1
        )
        {
            BreakFrom = new TimeOnly(13, 0),
            BreakTo = new TimeOnly(13, 30),
        };

    /// <summary>Why these are no hours; null where they are.</summary>
    public string? WhyNot =>
        Days.Count == 0 ? "Say on which days the shop is open."
        : People.Count is < 1 or > 12 ? "Say whose hands are at the bench, one to twelve."
        : People.Any(one => one.Name.Trim().Length is < 1 or > 40) ? "Each pair of hands has a name, of at most 40 characters."
        : People.Select(one => one.Name).Distinct(StringComparer.OrdinalIgnoreCase).Count() < People.Count
            ? "Two pairs of hands have the same name."
        : Chargers is < 1 or > 50 ? "One to fifty chargers."
        : BreakFrom is null != BreakTo is null || BreakFrom > BreakTo ? "A break has a beginning and an end after it."
        : Open(DateTimeOffset.UnixEpoch, TimeZoneInfo.Utc).Count == 0 ? "The shop is never open."
        : null;

    /// <summary>When the shop is open in the days to come, in minutes from a moment.</summary>
    public IReadOnlyList<Stretch> Open(DateTimeOffset now, TimeZoneInfo zone) => At(now, zone, Opens, Closes, breaks: false);

    /// <summary>When somebody is at the bench in the days to come.</summary>
    public BenchHands Hands(BenchPerson person, DateTimeOffset now, TimeZoneInfo zone)
    {
        var open = Open(now, zone);
        return new BenchHands(
            person.Name,
            [
                .. At(now, zone, person.From, person.To, breaks: true)
                    .SelectMany(there => open.Select(one => new Stretch(Math.Max(one.From, there.From), Math.Min(one.To, there.To))))
                    .Where(stretch => stretch.Minutes > 0),
            ]
        );
    }

    private List<Stretch> At(DateTimeOffset now, TimeZoneInfo zone, TimeOnly from, TimeOnly to, bool breaks)
    {
        var stretches = new List<Stretch>();
        var today = DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(now, zone).DateTime);
        for (var day = -1; day < DaysAhead; day++)
        {
            var date = today.AddDays(day);
            if (!Days.Contains(date.DayOfWeek))
                continue;
            var (start, end) = (Minute(date, from), Minute(to <= from ? date.AddDays(1) : date, to));
            if (
                breaks
                && BreakFrom is { } off
                && BreakTo is { } on
                && Minute(date, off) is var rest
                && rest > start
                && Minute(date, on) is var back
                && back < end
            )
            {
                Add(start, rest);
                Add(back, end);
            }
            else
            {
                Add(start, end);
            }
        }

        return stretches;

        // What goes on over midnight is one stretch.
        void Add(int start, int end)
        {
            start = Math.Max(0, start);
            if (end <= start)
                return;
            if (stretches.Count > 0 && stretches[^1].To >= start)
                stretches[^1] = stretches[^1] with { To = Math.Max(end, stretches[^1].To) };
            else
                stretches.Add(new Stretch(start, end));
        }

        int Minute(DateOnly date, TimeOnly time)
        {
            var local = date.ToDateTime(time);
            // An hour that a clock leaps over begins with the one after it.
            if (zone.IsInvalidTime(local))
                local = local.AddHours(1);
            return (int)Math.Floor((new DateTimeOffset(local, zone.GetUtcOffset(local)) - now).TotalMinutes);
        }
    }
}
