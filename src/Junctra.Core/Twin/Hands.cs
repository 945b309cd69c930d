using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

/// <summary>A moment at which hands press, let go, plug, touch or command.</summary>
/// <param name="Bar">The bar of the score.</param>
/// <param name="IsPress">Its begin; else its end.</param>
public readonly record struct HandMove(KeyBar Bar, bool IsPress)
{
    /// <summary>When it is to be.</summary>
    public Moment When => IsPress ? Bar.From : Bar.To;
}

/// <summary>How a score went on a twin.</summary>
/// <param name="End">The phone afterwards.</param>
/// <param name="Events">What happened to it, in order; they give the same end again.</param>
/// <param name="Seen">The marks of the score that showed, and when after its begin, in milliseconds.</param>
/// <param name="Finished">Whether the score was played to its end; else somebody gave up waiting for a mark.</param>
public sealed record HandsRun(TwinState End, IReadOnlyList<TwinEvent> Events, IReadOnlyDictionary<string, long> Seen, bool Finished);

/// <summary>A pair of hands that plays a key score on a twin.</summary>
public static class Hands
{
    /// <summary>Seconds that a person waits for a mark after it should have shown.</summary>
    private const double Patience = 6;
    private const long SetDownMs = 1500;
    private const long MaxSettlingMs = 30L * 60 * 1000;

    /// <summary>Plays a score, and waits until the phone has come to rest.</summary>
    /// <param name="twin">The phone's model.</param>
    /// <param name="start">The phone.</param>
    /// <param name="recipe">The score.</param>
    /// <param name="computer">Name of the computer to which the cable leads.</param>
    /// <param name="shift">Seconds by which the hands miss a moment, early below zero; null for hands that never do.</param>
    public static HandsRun Play(PhoneTwin twin, TwinState start, KeyRecipe recipe, string computer, Func<HandMove, double>? shift = null)
    {
        var play = new Playing(twin, start, recipe, computer, shift ?? (_ => 0));
        play.Prepare();
        var finished = play.Perform();
        play.Rest();
        return new HandsRun(play.State, play.Events, play.Seen, finished);
    }

    /// <summary>The event of a move, or null where it is none: a touch has no end.</summary>
    public static TwinEvent? EventOf(HandMove move, string computer) =>
        (move.Bar.StaveId, move.IsPress) switch
        {
            (Stave.Cable, true) => new CableIn(computer),
            (Stave.Cable, false) => move.Bar.Stays ? null : new CableOut(),
            (Stave.Battery, true) => new BatteryOut(),
            (Stave.Battery, false) => new BatteryIn(),
            (Stave.Screen, true) => new Choose(move.Bar.Does ?? ""),
            (Stave.Computer, true) => new Command(move.Bar.Does ?? ""),
            (Stave.Screen or Stave.Computer, false) => null,
            (_, true) => new KeyDown(move.Bar.StaveId),
            _ => move.Bar.Stays ? null : new KeyUp(move.Bar.StaveId),
        };

    /// <summary>Lets a phone come to rest: what passes by itself passes, a boot loop stays one.</summary>
    public static IEnumerable<TwinEvent> UntilRest(PhoneTwin twin, TwinState state)
    {
        var end = state.NowMs + MaxSettlingMs;
        while (TimeToNext(twin, state, end) is { } time)
        {
            yield return time;
            state = twin.Next(state, time);
        }
    }

    /// <summary>The twin once nothing passes by itself any more: where the times of <see cref="UntilRest"/> lead.</summary>
    public static TwinState AtRest(PhoneTwin twin, TwinState state)
    {
        var end = state.NowMs + MaxSettlingMs;
        while (TimeToNext(twin, state, end) is { } time)
            state = twin.Next(state, time);
        return state;
    }

    private static TimePasses? TimeToNext(PhoneTwin twin, TwinState state, long end) =>
        IsPassing(state) && twin.NextDueMs(state) is { } due && state.NowMs + due <= end ? new TimePasses(Math.Max(1, due)) : null;

    private static bool IsPassing(TwinState state) =>
        state.Mode == PhoneMode.Starting || state.Stage is PhoneStage.SwitchingOff or PhoneStage.UpdateRunning || state.Task is not null;

    private sealed class Playing(PhoneTwin twin, TwinState start, KeyRecipe recipe, string computer, Func<HandMove, double> shift)
    {
        private readonly List<HandMove> waiting =
        [
            .. recipe.Bars.SelectMany(bar => new[] { new HandMove(bar, true), new HandMove(bar, false) }),
        ];
        private readonly Dictionary<HandMove, double> shifts = recipe
            .Bars.SelectMany(bar => new[] { new HandMove(bar, true), new HandMove(bar, false) })
            .Distinct()
            .ToDictionary(move => move, shift);
        private long beginMs;

        public TwinState State { get; private set; } = start;

        public List<TwinEvent> Events { get; } = [];

        public Dictionary<string, long> Seen { get; } = [];

        /// <summary>What the score wants at the socket before it begins.</summary>
        public void Prepare()
        {
            if (
                recipe.Cable == CableAtStart.Out && State.Cable != CableTo.Nothing
                || recipe.Cable == CableAtStart.Computer && State.Cable == CableTo.Charger
            )
            {
                Happens(new CableOut());
                Wait(SetDownMs);
            }

            if (recipe.Cable == CableAtStart.Computer && State.Cable == CableTo.Nothing)
            {
                Happens(new CableIn(computer));
                Wait(2 * SetDownMs);
            }
        }

        public bool Perform()
        {
            beginMs = State.NowMs;
            var nextMark = 0;
            var lastMark = (At: 0.0, SeenMs: 0L);
            while (true)
            {
                Do();
                // What showed before the first key is no sign that it worked.
                while (nextMark < recipe.Marks.Count && State.Stage == recipe.Marks[nextMark].Shows && State.StageSinceMs >= beginMs)
                {
                    Seen[recipe.Marks[nextMark].Id] = State.NowMs - beginMs;
                    lastMark = (recipe.Marks[nextMark].AtSeconds, State.NowMs - beginMs);
                    nextMark++;
                    Do();
                }

                if (waiting.Count == 0 && nextMark == recipe.Marks.Count)
                    return true;
                var giveUp =
                    nextMark < recipe.Marks.Count
                        ? beginMs + lastMark.SeenMs + (long)((recipe.Marks[nextMark].AtSeconds - lastMark.At + Patience) * 1000)
                        : long.MaxValue;
                if (State.NowMs >= giveUp)
                {
                    foreach (var key in State.Keys.Keys.ToList())
                        Happens(new KeyUp(key));
                    return false;
                }

                var due = twin.NextDueMs(State) is { } ms ? State.NowMs + Math.Max(1, ms) : long.MaxValue;
                var move = waiting.Select(TimeOf).Where(at => at > State.NowMs).DefaultIfEmpty(long.MaxValue).Min() ?? long.MaxValue;
                var next = Math.Min(giveUp, Math.Min(due, move));
                if (next == long.MaxValue)
                    return nextMark == recipe.Marks.Count;
                Wait(next - State.NowMs);
            }
        }

        public void Rest()
        {
            Wait(300);
            foreach (var time in UntilRest(twin, State).ToList())
                Happens(time);
        }

        private void Do()
        {
            while (
                waiting
                    .Where(move => TimeOf(move) <= State.NowMs)
                    .OrderBy(TimeOf)
                    .ThenBy(move => !move.IsPress)
                    .Select(move => (HandMove?)move)
                    .FirstOrDefault()
                    is { } move
            )
            {
                waiting.Remove(move);
                if (EventOf(move, computer) is { } happening)
                    Happens(happening);
            }
        }

        /// <summary>When a move is due; null while it waits for a mark, or for its own press.</summary>
        private long? TimeOf(HandMove move)
        {
            if (!move.IsPress && waiting.Contains(new HandMove(move.Bar, true)))
                return null;
            if (recipe.InTurn && waiting.Count > 0 && waiting[0].Bar != move.Bar)
                return null;
            var seconds = move.When.Seconds + shifts[move];
            if (move.When.After is not { } mark)
                return beginMs + (long)Math.Max(0, seconds * 1000);
            if (Seen.TryGetValue(mark, out var at))
                return beginMs + at + (long)(seconds * 1000);
            // Whoever lets go before the mark goes by when it usually comes.
            return seconds < 0 ? beginMs + (long)((recipe.Usual(new Moment(mark, 0)) + seconds) * 1000) : null;
        }

        private void Wait(long milliseconds) => Happens(new TimePasses(milliseconds));

        private void Happens(TwinEvent happening)
        {
            Events.Add(happening);
            State = twin.Next(State, happening);
        }
    }
}
