namespace Junctra.Schedule;

/// <summary>What a stretch of work takes up while it lasts.</summary>
[Flags]
public enum Needs
{
    /// <summary>Nothing: it runs by itself, day and night.</summary>
    None = 0,

    /// <summary>A pair of hands.</summary>
    Hands = 1,

    /// <summary>A port of the bench. Between two tasks in a row that need one, the phone stays in it.</summary>
    Port = 2,

    /// <summary>The download line, one file at a time.</summary>
    Line = 4,

    /// <summary>A known-good charger.</summary>
    Charger = 8,

    /// <summary>Somebody in the shop, if only to hear it: nothing is written, started or charged while nobody is there.</summary>
    Shop = 16,
}

/// <summary>A stretch of time, in minutes from the day's now; its end is not part of it.</summary>
/// <param name="From">Its first minute.</param>
/// <param name="To">The minute after its last.</param>
public readonly record struct Stretch(int From, int To)
{
    /// <summary>How many minutes.</summary>
    public int Minutes => To - From;

    /// <summary>Whether a stretch lies within it.</summary>
    public bool Holds(int from, int to) => From <= from && to <= To;

    /// <summary>Whether it has a minute in common with another.</summary>
    public bool Meets(int from, int to) => from < To && From < to;
}

/// <summary>A stretch of a job's work.</summary>
/// <param name="Id">Its id, unique in its job.</param>
/// <param name="Title">What is done, in a few words.</param>
/// <param name="Needs">What it takes up.</param>
/// <param name="Minutes">How long it usually takes, 1 or more; of one that has begun, all of it.</param>
/// <param name="Slow">How long nine of ten stay below, at least <paramref name="Minutes"/>.</param>
public sealed record WorkTask(string Id, string Title, Needs Needs, int Minutes, int Slow)
{
    /// <summary>
    /// Whether it begins the minute in which the one before it ends: a phone that shows its warning screen does not wait. Of one that was
    /// begun before, as soon as it can.
    /// </summary>
    public bool AtOnce { get; init; }

    /// <summary>When it was begun, 0 or less; null while it was not. What was begun stays.</summary>
    public int? BegunAt { get; init; }

    /// <summary>Whose hands are at it; null before it was begun, or where none are.</summary>
    public string? By { get; init; }

    /// <summary>Other ways in which it can be done.</summary>
    public IReadOnlyList<OtherWay> Others { get; init; } = [];
}

/// <summary>Another way in which a stretch of work can be done.</summary>
/// <param name="Words">What is done, as an instruction.</param>
/// <param name="Minutes">How long it then usually takes, 1 or more.</param>
/// <param name="Slow">How long nine of ten then stay below.</param>
public sealed record OtherWay(string Words, int Minutes, int Slow);

/// <summary>A job with the work that is left of it, in order.</summary>
/// <param name="Ticket">Its ticket.</param>
/// <param name="Came">Its place in the order in which jobs came in.</param>
/// <param name="Tasks">What is left.</param>
/// <param name="Promised">The minute for which it is promised; null where none is.</param>
public sealed record DayJob(string Ticket, int Came, IReadOnlyList<WorkTask> Tasks, int? Promised)
{
    /// <summary>
    /// Minutes by which it is better ready before its promise, although its times stray, and something else comes in between: the first is
    /// a good chance, each further one a better. What is promised for later is less sure, and has more room.
    /// </summary>
    public IReadOnlyList<int> Margins
    {
        get
        {
            var own = (int)Math.Ceiling(Math.Sqrt(Tasks.Sum(task => Math.Pow(task.Slow - task.Minutes, 2))));
            return [.. Shares.Select(share => Math.Max(own, share * Math.Max(0, Promised ?? 0) / 100))];
        }
    }

    // Hundredths of the time until a promise.
    private static readonly int[] Shares = [20, 40, 60];

    /// <summary>How many <see cref="Margins"/> there are.</summary>
    internal static int CountOfMargins => Shares.Length;

    /// <summary>How much a minute late counts: 1, and more where a customer stands there.</summary>
    public int Weight { get; init; } = 1;

    /// <summary>The weight of a job whose customer stands there.</summary>
    public const int WeightOfWaiting = 5;

    /// <summary>Whether its phone is in a port now, and stays there until the work is done that needs one.</summary>
    public bool IsInPort { get; init; }
}

/// <summary>A pair of hands.</summary>
/// <param name="Name">Whose.</param>
/// <param name="At">When they are at the bench, in order and apart from each other; breaks lie between.</param>
public sealed record BenchHands(string Name, IReadOnlyList<Stretch> At);

/// <summary>All that a timetable is made of. Times are whole minutes from now.</summary>
/// <param name="Now">Now.</param>
/// <param name="Hands">Who is at the bench.</param>
/// <param name="Open">When the shop is open, in order and apart from each other.</param>
/// <param name="Ports">Ports of the bench.</param>
/// <param name="Chargers">Known-good chargers.</param>
/// <param name="Jobs">The open jobs.</param>
public sealed record Day(
    DateTimeOffset Now,
    IReadOnlyList<BenchHands> Hands,
    IReadOnlyList<Stretch> Open,
    int Ports,
    int Chargers,
    IReadOnlyList<DayJob> Jobs
)
{
    /// <summary>The minute after which nothing is planned.</summary>
    public int Horizon =>
        Math.Max(Open.Count == 0 ? 0 : Open[^1].To, Hands.SelectMany(hands => hands.At).Select(at => at.To).DefaultIfEmpty().Max());

    /// <summary>Why no timetable can be made of it, in a sentence; null where one can.</summary>
    public string? WhyNot
    {
        get
        {
            var tasks = Jobs.SelectMany(job => job.Tasks.Select(task => (job.Ticket, task))).ToList();
            if (Jobs.Select(job => job.Ticket).Distinct().Count() < Jobs.Count)
                return "A ticket stands in it twice.";
            if (tasks.Find(one => one.task.Minutes < 1 || one.task.Slow < one.task.Minutes) is { task: not null } odd)
                return $"{odd.Ticket}, {odd.task.Title}: it takes a minute at least, and its slow time is never below its usual one.";
            if (Jobs.FirstOrDefault(job => job.Tasks.Skip(1).Any(task => task.BegunAt is not null)) is { } apart)
                return $"{apart.Ticket}: only what comes first of it can have begun.";
            if (tasks.Count == 0)
                return null;
            if (Ports < 1 && tasks.Exists(one => one.task.Needs.HasFlag(Needs.Port)))
                return "No port is set up.";
            if (Chargers < 1 && tasks.Exists(one => one.task.Needs.HasFlag(Needs.Charger)))
                return "There is no charger.";
            // Twice, so that it still fits where it just misses the first.
            bool Fits(IEnumerable<Stretch> at, WorkTask task) => at.Sum(stretch => stretch.Minutes / task.Minutes) > 1;
            return
                tasks.Find(one =>
                    one.task.BegunAt is null
                    && (
                        one.task.Needs.HasFlag(Needs.Hands) && !Hands.Any(hands => Fits(hands.At, one.task))
                        || one.task.Needs.HasFlag(Needs.Shop) && !Fits(Open, one.task)
                    )
                )
                    is { task: not null } long_
                ? $"{long_.Ticket}, {long_.task.Title}: nobody is at the bench for {long_.task.Minutes} min together."
                : null;
        }
    }
}
