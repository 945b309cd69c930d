using System.Globalization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>An exercise of hands so far.</summary>
/// <param name="State">The phone now.</param>
/// <param name="Score">How it goes.</param>
/// <param name="Trial">The score of keys that leads there, with the moments that were met since it was last begun; null where it takes
/// several.</param>
/// <param name="DueMs">Milliseconds until the phone does something by itself; null when it stands.</param>
public sealed record KeyPracticeView(TwinState State, PracticeScore Score, TrialView? Trial, long? DueMs)
{
    /// <summary>When the score was last begun, in milliseconds from the first act.</summary>
    public long AttemptMs { get; init; }
}

/// <summary>
/// An exercise in which a phone is brought into a mode: what somebody did, replayed on the twin and laid against the best route. Nothing
/// is kept between two looks; the same acts give the same score.
/// </summary>
public sealed class KeyPractice
{
    private const int Detour = 10,
        AgainFrom = 5,
        Missed = 5,
        MostMissed = 15,
        HintCosts = 10,
        MostForTime = 20,
        NotThere = 60;

    // Within a quarter more than it takes nobody is slow; at three times as much all that time is worth is lost.
    private const double InTime = 1.25,
        TooLong = 3;
    private const double SetDownSeconds = 5;

    internal static readonly RoutePolicy Policy = RoutePolicy.Usual with { Debugging = false };
    private readonly PhoneModel model;
    private readonly ModelCatalogue catalogue;
    private readonly Exercise exercise;
    private readonly PhoneMode aim;
    private readonly HashSet<PhoneMode> onTheWay;

    /// <summary>Sets an exercise up.</summary>
    /// <param name="exercise">An exercise with a <see cref="KeyTask"/>.</param>
    /// <param name="catalogue">Models and their ways.</param>
    /// <exception cref="ArgumentException">Its model is not in the catalogue, it asks for something else, or nothing leads there.</exception>
    public KeyPractice(Exercise exercise, ModelCatalogue catalogue)
    {
        (this.exercise, this.catalogue) = (exercise, catalogue);
        model = catalogue.Model(exercise.Phone.ModelCode) ?? throw new ArgumentException($"{exercise.Phone.ModelCode} is no model.");
        aim = exercise.Task is KeyTask task ? task.Aim : throw new ArgumentException($"{exercise.Id} asks for no mode.");
        Twin = new PhoneTwin(model, catalogue);
        Start = exercise.Phone.Start(model);
        Route = Router.Best(exercise.Phone.Known(), model, exercise.Phone.Mode, aim, catalogue, Policy) is { Legs.Count: > 0 } best
            ? best
            : throw new ArgumentException($"Nothing leads from {exercise.Phone.Mode.Label()} into {aim.Label()}.");
        // What each leg passes through on its way is not a detour.
        onTheWay = [exercise.Phone.Mode, aim, PhoneMode.Starting, PhoneMode.Unknown];
        foreach (var leg in Route.Legs)
        {
            onTheWay.Add(leg.To);
            foreach (var mark in leg.Score.Marks)
                onTheWay.Add(mark.Shows.Mode());
        }

        onTheWay.UnionWith(Played(null, _ => 0).Passed);
    }

    /// <summary>The twin.</summary>
    public PhoneTwin Twin { get; }

    /// <summary>The phone as it lies there.</summary>
    public TwinState Start { get; }

    /// <summary>The best route.</summary>
    public PlannedRoute Route { get; }

    /// <summary>The one score that leads there; null where it takes several.</summary>
    public Way? Only => Route.Legs.Count == 1 ? Route.Legs[0] : null;

    /// <summary>How long it usually takes, in seconds.</summary>
    public double UsualSeconds => SetDownSeconds + Route.Legs.Sum(leg => Math.Max(leg.Minutes * 60, leg.Score.LengthSeconds));

    /// <summary>The exercise at a moment.</summary>
    /// <param name="acts">What was done so far; times from the first act.</param>
    /// <param name="hints">When a hint was asked for.</param>
    /// <param name="nowMs">How long it has lasted, in milliseconds.</param>
    /// <param name="hasEnded">Whether it was given up, or its time is over.</param>
    public KeyPracticeView At(IReadOnlyList<TrialAct> acts, IReadOnlyList<long> hints, long nowMs, bool hasEnded = false)
    {
        var lost = new List<LostPoints>();
        long? reached = null;
        var mode = Start.Mode;
        var (attempt, attemptAt) = (Start, 0L);
        var hasLeft = false;
        var isSpoiled = false;
        var state = TwinPlay.Through(Twin, Start, acts, nowMs, Look);
        var took = reached ?? nowMs;
        var ended = reached is not null || isSpoiled || hasEnded;
        var trial = Only is { } way ? Trial(way) : null;
        if (!isSpoiled)
        {
            foreach (var moment in (trial?.Moments ?? []).Where(moment => moment.Verdict != MomentVerdict.Met).Take(MostMissed / Missed))
                Lose(LostFor.Order, Missed, attemptAt + moment.AtMs, Words(moment), "Each moment of a score has its tolerance.");
            foreach (var at in hints.Where(at => at <= took))
                Lose(LostFor.Hint, HintCosts, at, "A hint was asked for.", "A hint costs points, and is worth it.");
            if (acts.Count > 0 && took / 1000.0 / UsualSeconds is var share and > InTime)
                Lose(
                    LostFor.Time,
                    (int)Math.Ceiling(MostForTime * Math.Min(1, (share - InTime) / (TooLong - InTime))),
                    took,
                    $"It took {Seconds(took / 1000.0)}.",
                    $"It usually takes {Seconds(UsualSeconds)}."
                );
            if (reached is null && ended)
                Lose(LostFor.Aim, NotThere, took, $"The phone is not in {aim.Label()}.", $"It was to be brought into {aim.Label()}.");
        }

        return new KeyPracticeView(
            state,
            new PracticeScore(reached is not null, took, [.. lost.OrderBy(one => one.AtMs)]),
            trial,
            Twin.NextDueMs(state)
        )
        {
            AttemptMs = attemptAt,
        };

        void Lose(LostFor what, int points, long at, string why, string rule) => lost.Add(new LostPoints(what, points, at, why, rule));

        void Look(TwinState now)
        {
            var at = now.NowMs - Start.NowMs;
            if (isSpoiled || reached is not null)
                return;
            if (Irreversible.Between(Start, now) is { } harm)
            {
                isSpoiled = true;
                Lose(LostFor.Safety, PracticeScore.Full, at, harm.Cost, harm.Rule);
                return;
            }

            if (now.Mode == mode)
                return;
            mode = now.Mode;
            if (exercise.Forbids.Contains(mode))
            {
                isSpoiled = true;
                Lose(
                    LostFor.Safety,
                    PracticeScore.Full,
                    at,
                    $"The phone went into {mode.Label()}, which is forbidden here.",
                    "Where one wrong key more would do harm, nobody goes, not even by accident."
                );
                return;
            }

            if (mode == aim)
                reached = at;
            else if (!onTheWay.Contains(mode))
                Lose(LostFor.Order, Detour, at, $"The phone went into {mode.Label()}.", $"The way leads {RouteWords()}.");
            else if (mode == exercise.Phone.Mode && hasLeft)
            {
                Lose(LostFor.Order, AgainFrom, at, $"It is {mode.Label()} again.", "A score is played through, or begun anew.");
                (attempt, attemptAt) = (now, at);
            }

            hasLeft |= mode != exercise.Phone.Mode;
        }

        TrialView Trial(Way way)
        {
            var since = acts.Where(act => act.AtMs >= attemptAt).Select(act => act with { AtMs = act.AtMs - attemptAt }).ToList();
            return ScoreTrial.At(Twin, attempt, way, since, Math.Max(0, took - attemptAt));
        }
    }

    /// <summary>How a pair of hands does it: perfect ones by the best route, others as they err.</summary>
    /// <param name="wrong">The mistake; null for hands that make none.</param>
    public KeyPracticeView Play(WrongHands? wrong)
    {
        var way = wrong?.Recipe is { } id ? WayOf(id) : null;
        var played = Played(way, move => wrong?.Shift(move) ?? 0);
        return At(played.Acts, [], played.Acts.Count == 0 ? 0 : played.LastedMs, hasEnded: true);

        Way WayOf(string recipe) =>
            WayCompiler
                .Of(model, catalogue, Router.StartsInto(exercise.Phone.Known(), exercise.Phone.Mode))
                .FirstOrDefault(one => one.Id == recipe && one.From == exercise.Phone.Mode)
            ?? throw new ArgumentException($"{exercise.Id}: {recipe} is no way from {exercise.Phone.Mode.Label()}.");
    }

    /// <summary>What perfect hands do by the best route, and how long it lasts, in milliseconds.</summary>
    public (IReadOnlyList<TrialAct> Acts, long LastsMs) Perfect() =>
        Played(null, _ => 0) is var played ? (played.Acts, played.LastedMs) : default;

    private (List<TrialAct> Acts, long LastedMs, HashSet<PhoneMode> Passed) Played(Way? instead, Func<HandMove, double> shift)
    {
        var (state, events) = (Start, new List<TwinEvent>());
        var passed = new HashSet<PhoneMode>();
        foreach (var leg in instead is null ? Route.Legs : [instead])
        {
            if (state.Mode != leg.From)
                break;
            var run = Hands.Play(Twin, state, leg.Score, PracticePhone.Computer, shift);
            foreach (var happening in run.Events)
            {
                events.Add(happening);
                passed.Add((state = Twin.Next(state, happening)).Mode);
            }
        }

        return ([.. TwinPlay.Timed(events)], state.NowMs - Start.NowMs, passed);
    }

    private string RouteWords() => string.Join(", then ", Route.Legs.Select(leg => $"into {leg.To.Label()}"));

    private string Words(JudgedMoment moment) =>
        $"{Twin.Family.StaveOf(moment.Bar.StaveId).Name}: {(moment.IsPress ? "pressed" : "let go")} {Seconds(Math.Abs(moment.OffSeconds))} {(moment.OffSeconds < 0 ? "early" : "late")}.";

    private static string Seconds(double seconds) => string.Create(CultureInfo.InvariantCulture, $"{seconds:0.#} s");
}
