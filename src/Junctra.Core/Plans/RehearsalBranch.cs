using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>One twin, and all that may happen to it.</summary>
internal sealed class RehearsalBranch
{
    private static readonly double[] Within = [0.25, 0.5, 0.999];
    private const long WorthLookingMs = 400;

    private static readonly (string What, Func<TwinState, TwinEvent[]> Happens)[] Mistakes =
    [
        ("the cable comes out", _ => [new CableOut()]),
        ("the battery runs flat", _ => [new PowerGone()]),
        ("the phone restarts", _ => [new ForcedRestart()]),
    ];

    private readonly Dictionary<string, (RiskKind Risk, bool DataGone)> known = new(StringComparer.Ordinal);
    private readonly List<(PlanStep Step, string? Partition, TwinState State)> points = [];
    private readonly Dictionary<string, StepRisk> broken = new(StringComparer.Ordinal);
    private readonly TwinKey keys = new();
    private readonly TwinScene scene;
    private readonly Plan plan;
    private readonly string origin;

    public RehearsalBranch(TwinScene scene, Plan plan, TwinState start)
    {
        (this.scene, this.plan, Start, End) = (scene, plan, start, start);
        origin = keys.Of(start);
    }

    public TwinState Start { get; }

    public TwinState End { get; private set; }

    /// <summary>The twin after each step.</summary>
    public List<(PlanStep Step, TwinState State)> Seen { get; } = [];

    /// <summary>Plays the plan without a mistake; null, or why it does not go through.</summary>
    public string? Play()
    {
        var state = Start;
        foreach (var step in plan.Steps)
        {
            if (WhyNot(step, state) is { } wrong)
                return wrong;
            points.Add((step, null, state));
            foreach (var happening in step.Act.OnTwin(scene, state))
            {
                if (happening is WritePart write && scene.Twin.WhyRefused(state, write.Partition, write.Part, write.Bytes) is { } refused)
                    return $"The rehearsal on a twin of this phone fails at “{step.Title}”: the phone would refuse it ({refused}).";
                if (happening is TimePasses { Milliseconds: > WorthLookingMs } time && state.Task is not null)
                    points.AddRange(
                        Within.Select(share =>
                            (
                                step,
                                step.Act.Touches.Count > 1 ? state.Task.Partition : null,
                                scene.Twin.Next(state, new TimePasses((long)(time.Milliseconds * share)))
                            )
                        )
                    );
                state = scene.Twin.Next(state, happening);
            }

            // What a phone carries out at once is done wherever in the step it breaks.
            if (step.Act.TouchesAtOnce)
                points.Add((step, null, state));
            Seen.Add((step, state));
        }

        End = Settle(state);
        return Ends(End) ? null : $"The rehearsal on a twin of this phone ends with {End.Mode.Label()}: the plan would not bring it back.";
    }

    public IEnumerable<StepRisk> Risks()
    {
        foreach (var group in points.GroupBy(point => point.Step))
        {
            var whole = new StepRisk(group.Key.Number, RiskKind.SafeToStop, false);
            foreach (var part in group.GroupBy(point => point.Partition))
            {
                var risk = WorstOf(group.Key, part.Select(point => point.State));
                whole = StepRisk.Worse(whole, risk);
                if (part.Key is not null)
                    yield return risk with
                    {
                        Partition = part.Key,
                    };
            }

            yield return whole;
        }
    }

    /// <summary>What each mistake would do in a step, wherever in it: the worst of each.</summary>
    public IEnumerable<Interruption> Interruptions(PlanStep step)
    {
        var entry = plan.Steps.FirstOrDefault(one => one.Act.By == ActBy.Link)?.Act.In;
        foreach (var (_, partition, state) in points.Where(point => point.Step == step))
        {
            foreach (var (what, happens) in Mistakes.Concat(MistakesOf(step)))
            {
                var after = Settle(scene.Twin.Run(state, happens(state)));
                var (risk, dataGone) = Judge(after);
                var back = entry is { } mode
                    ? Router.Best(scene.PhoneAt(after), scene.Twin.Model, after.Mode, mode, scene.Catalogue)?.Minutes
                    : null;
                yield return new Interruption(what, partition, after.Mode.Label(), risk, dataGone, back);
            }
        }
    }

    private StepRisk WorstOf(PlanStep step, IEnumerable<TwinState> states)
    {
        var worst = new StepRisk(step.Number, RiskKind.SafeToStop, false);
        foreach (var state in states)
        {
            // What breaks by itself breaks alike wherever within its time a twin stands.
            var place = PlaceOf(state);
            if (!broken.TryGetValue(place, out var byItself))
                broken[place] = byItself = WorstOf(state, Mistakes);
            foreach (var risk in new[] { byItself, WorstOf(state, MistakesOf(step)) })
                worst = StepRisk.Worse(worst, risk with { Step = step.Number });
        }

        return worst;
    }

    private StepRisk WorstOf(TwinState state, IEnumerable<(string What, Func<TwinState, TwinEvent[]> Happens)> mistakes)
    {
        var worst = new StepRisk(0, RiskKind.SafeToStop, false);
        foreach (var (what, happens) in mistakes)
        {
            var after = Settle(scene.Twin.Run(state, happens(state)));
            var (risk, dataGone) = Judge(after);
            worst = StepRisk.Worse(
                worst,
                new StepRisk(0, risk, dataGone, what, risk == RiskKind.KeysBringItBack ? after.Mode.Label() : "")
            );
        }

        return worst;
    }

    private string PlaceOf(TwinState state) =>
        string.Join(
            '/',
            keys.Of(state),
            state.Stage,
            state.Mode,
            state.Cable,
            state.Loops,
            state.Charge / OnePercent,
            state.Keys.Count,
            state.Pending,
            state.Task?.What,
            state.Task?.Partition
        );

    /// <summary>What hands do instead, most likely: let go of the keys early or late; at a menu, take the entry below.</summary>
    private IEnumerable<(string, Func<TwinState, TwinEvent[]>)> MistakesOf(PlanStep step)
    {
        if (step.Act is BringInto bring)
        {
            yield return ("the keys are let go early", state => LetGoEarly([.. bring.OnTwin(scene, state)]));
            yield return ("the keys are held too long", state => HeldTooLong([.. bring.OnTwin(scene, state)]));
        }

        if (step.Act is OpenToEmergency)
            yield return ("the needle slips onto a supply", _ => [new HoldNeedle(NeedleOn.Supply)]);
        if (step.Act is not ChooseEntry choose)
            yield break;
        yield return ("the entry below is chosen", state =>
        {
            var entries = scene.Twin.EntriesOf(state);
            var at = entries.ToList().FindIndex(entry => entry.Id == choose.Entry);
            return at < 0 || entries.Count < 2 ? [] : [.. ChooseEntry.Choose(scene.Twin, state, entries[(at + 1) % entries.Count].Id)];
        });
    }

    /// <summary>A score broken off half way: whatever is held then is let go.</summary>
    private static TwinEvent[] LetGoEarly(IReadOnlyList<TwinEvent> score)
    {
        var played = score.Take(score.Count / 2).ToList();
        var keys = played.OfType<KeyDown>().Select(down => down.Key).Distinct();
        return [.. played, .. keys.Select(key => new KeyUp(key))];
    }

    /// <summary>A score whose last key is let go only a good while later.</summary>
    private static TwinEvent[] HeldTooLong(IReadOnlyList<TwinEvent> score)
    {
        var last = score.ToList().FindLastIndex(one => one is KeyUp);
        return last < 0 ? [] : [.. score.Take(last), new TimePasses(HeldTooLongMs), .. score.Skip(last)];
    }

    /// <summary>
    /// What is left of the phone, and whether the plan brings it to its end from there. The same phone is judged once.
    /// </summary>
    private (RiskKind Risk, bool DataGone) Judge(TwinState after)
    {
        if (after.Faults.Shorted)
            return (RiskKind.NotRecoverable, true);
        var key = keys.Of(after);
        // Wherever it stands: what lies on it is what lay on it before.
        if (key == origin)
            return (RiskKind.SafeToStop, false);
        key = $"{after.Mode}/{key}";
        if (known.TryGetValue(key, out var judged))
            return judged;
        return known[key] = Recover(after);
    }

    /// <summary>
    /// The best of what can be done: the plan from its first act over a link, or from a later one that confirms the phone anew.
    /// </summary>
    private (RiskKind Risk, bool DataGone) Recover(TwinState after)
    {
        if (after.Faults.DeadBoard)
            return (RiskKind.NotRecoverable, true);
        var link = plan.Steps.FirstOrDefault(step => step.Act.By == ActBy.Link);
        var anew = plan.Steps.Where(step => step.Act is ConfirmTarget { By: ActBy.Link } && step.Number > link?.Number);
        return anew.Prepend(link).Select(first => Recover(after, first)).MinBy(found => (found.Risk, found.DataGone));
    }

    private (RiskKind Risk, bool DataGone) Recover(TwinState after, PlanStep? first)
    {
        // A phone that stands in its mode still answers; any other way leads through a start of its boot chain.
        var state = after;
        if (after.Mode != first?.Act.In)
        {
            var restarted = Settle(scene.Twin.Run(after with { Charge = Math.Max(after.Charge, FullEnough) }, [new ForcedRestart()]));
            if (restarted.Mode == PhoneMode.Emergency && first?.Act.In != PhoneMode.Emergency)
                return (RiskKind.OnlyEmergency, !plan.ErasesData);
            // A lock that is closed already is not closed again.
            if (!plan.Changes || plan.ClosesLock && Ends(restarted))
                return (RiskKind.KeysBringItBack, false);
            state = restarted;
            if (first?.Act.In is { } mode && restarted.Mode != mode)
            {
                if (Router.Best(scene.PhoneAt(after), scene.Twin.Model, after.Mode, mode, scene.Catalogue) is null)
                    return (RiskKind.NotRecoverable, !plan.ErasesData);
                state = restarted with
                {
                    Stage = mode.Standing()!.Value,
                    StageSinceMs = restarted.NowMs,
                    Loops = 0,
                    Pending = null,
                    Task = null,
                    Message = null,
                };
            }
        }

        state = state with { Charge = Math.Max(state.Charge, FullEnough), Keys = Start.Keys };
        if (first is not null)
            state = state with { Cable = CableTo.Computer, Computer = TwinScene.Computer };
        foreach (var step in plan.Steps.Where(step => step.Number >= (first?.Number ?? 1)))
        {
            foreach (var happening in step.Act.OnTwin(scene, state))
                state = scene.Twin.Next(state, happening);
        }

        var end = Settle(state);
        return Ends(end)
            ? (RiskKind.KeysBringItBack, !plan.ErasesData && End.Data is not null && (end.Data is null || end.Data.Apps < End.Data.Apps))
            : (RiskKind.NotRecoverable, !plan.ErasesData);
    }

    private const long OnePercent = 1_000_000;
    private const long FullEnough = 60_000_000;
    private const long HeldTooLongMs = 8_000;

    private static string? WhyNot(PlanStep step, TwinState state) =>
        step.Act.By is ActBy.Link or ActBy.Hands
        && step.Act.In is { } mode
        && state.Mode != mode
        && !(step.Act is ChooseEntry { IsInRecovery: true } && state.Mode.IsRecovery())
            ? $"The rehearsal on a twin of this phone fails at “{step.Title}”: the phone would be in {state.Mode.Label()} instead of {mode.Label()}."
            : null;

    /// <summary>
    /// It starts; or it loops on data that were to be kept, for which a wipe was agreed on. A plan that changes nothing ends wherever it
    /// is.
    /// </summary>
    private bool Ends(TwinState state) => !plan.Changes || (!plan.ClosesLock || !state.Unlocked) && HasStarted(state);

    private bool HasStarted(TwinState state) =>
        state.Mode is PhoneMode.System or PhoneMode.SetupWizard || state.Mode == PhoneMode.BootLoop && !plan.ErasesData;

    private TwinState Settle(TwinState state) => Hands.AtRest(scene.Twin, state);
}
