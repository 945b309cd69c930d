using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>A write of practice at a moment.</summary>
/// <param name="Run">The run, as its journal tells it.</param>
/// <param name="Journal">That journal; its times are those that a real write would have.</param>
/// <param name="Phone">The phone.</param>
/// <param name="Lost">Points that were lost so far.</param>
/// <param name="Wants">What is wanted of hands now; null where they are off.</param>
/// <param name="WantsWord">Whether hands say that they have done it; else the phone shows it.</param>
/// <param name="TookMs">How long it has lasted, or did, in milliseconds.</param>
/// <param name="DueMs">Milliseconds until something goes on by itself; null where it waits.</param>
public sealed record WriteView(
    RunState Run,
    IReadOnlyList<JournalEntry> Journal,
    TwinState Phone,
    IReadOnlyList<LostPoints> Lost,
    string? Wants,
    bool WantsWord,
    long TookMs,
    long? DueMs
)
{
    /// <summary>Whether it was written to its end.</summary>
    public bool Reached => Run.Status == RunStatus.Finished;

    /// <summary>Whether it is over: written, broken off, or spoiled.</summary>
    public bool IsOver => !Run.Status.IsOpen() || Lost.Any(one => one.For == LostFor.Safety);
}

/// <summary>What perfect hands do in a write.</summary>
/// <param name="Acts">What they do at the phone.</param>
/// <param name="Said">When they say that a step is done.</param>
/// <param name="LastsMs">How long all of it lasts, in milliseconds.</param>
public sealed record WriteHands(IReadOnlyList<TrialAct> Acts, IReadOnlyList<long> Said, long LastsMs);

/// <summary>
/// A plan carried out on the twin, with hands where it wants hands: what the computer does passes quickly, what hands do takes the time it
/// takes. Nothing is kept between two looks; the same acts give the same write.
/// </summary>
public sealed class WritePractice
{
    private const long LeastMs = 1_500,
        MostMs = 6_000;
    private const double Faster = 60;
    private readonly PathCase @case;

    /// <summary>Sets a write up.</summary>
    /// <param name="plan">The plan, rehearsed.</param>
    /// <param name="case">What it was made for.</param>
    public WritePractice(Plan plan, PathCase @case)
    {
        (Plan, this.@case) = (plan, @case);
        Scene = new TwinScene(new PhoneTwin(@case.Model!, @case.Catalogue), @case.Catalogue, @case.Phone);
        Start = Rehearser.Start(plan, @case, @case.Phone, @case.Model!);
        Steps = [.. plan.Steps.Where(step => !step.Act.FollowsTheRun)];
    }

    /// <summary>The plan.</summary>
    public Plan Plan { get; }

    /// <summary>The phone as it is when it begins.</summary>
    public TwinState Start { get; }

    /// <summary>The steps that belong to the run.</summary>
    public IReadOnlyList<PlanStep> Steps { get; }

    /// <summary>The phone's model as a machine.</summary>
    public PhoneTwin Twin => Scene.Twin;

    internal TwinScene Scene { get; }

    /// <summary>How long a step that takes no hands lasts here, in milliseconds.</summary>
    public static long LengthOf(PlanStep step) => (long)Math.Clamp(step.Seconds.Typical * 1000 / Faster, LeastMs, MostMs);

    /// <summary>The write at a moment.</summary>
    /// <param name="acts">What was done at the phone so far; times from the beginning.</param>
    /// <param name="said">When it was said that a step is done.</param>
    /// <param name="nowMs">How long it has lasted, in milliseconds.</param>
    public WriteView At(IReadOnlyList<TrialAct> acts, IReadOnlyList<long> said, long nowMs) =>
        new WritePlay(this, acts, said, nowMs).Play();

    /// <summary>What perfect hands do.</summary>
    /// <param name="upTo">A step before which they stop; null for all.</param>
    public WriteHands Perfect(PlanStep? upTo = null)
    {
        var acts = new List<TrialAct>();
        var said = new List<long>();
        var (state, at) = (Start, 0L);
        foreach (var step in Steps.TakeWhile(step => step != upTo))
        {
            if (step.Act.By == ActBy.Link && state.Cable != CableTo.Computer)
                Do([.. state.Cable == CableTo.Charger ? [new CableOut()] : Array.Empty<TwinEvent>(), new CableIn(PracticePhone.Computer)]);
            var does = step.Act.OnTwin(Scene, state).ToList();
            if (step.Act.IsAtThePhone)
            {
                Do(does);
            }
            else
            {
                if (step.Act.By == ActBy.Hands)
                    said.Add(at += LeastMs);
                else
                    at += LengthOf(step);
                state = Settled(Twin.Run(Free(state), does));
            }

            at += 1;

            void Do(IReadOnlyList<TwinEvent> happenings)
            {
                acts.AddRange(TwinPlay.Timed(happenings, at));
                at += happenings.OfType<TimePasses>().Sum(time => time.Milliseconds) + 1;
                state = Twin.Run(state, happenings);
                if (step.Act is not BringInto)
                    state = Settled(state);
            }
        }

        return new WriteHands(acts, said, at);
    }

    /// <summary>The phone once it has come to rest.</summary>
    internal TwinState Settled(TwinState state) => Hands.AtRest(Twin, state);

    // Nobody holds a key while a computer writes.
    internal static TwinState Free(TwinState state) => state with { Keys = state.Keys.Clear() };
}
