using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.StandIns.History;

/// <summary>How a simulated run ended.</summary>
/// <param name="Journal">All of its journal.</param>
/// <param name="State">What the journal says of it.</param>
/// <param name="EndedAt">When the writer's part was over.</param>
/// <param name="Mode">Where the phone is then.</param>
/// <param name="CameUp">Whether it was seen to come up.</param>
internal sealed record EndedRun(IReadOnlyList<JournalEntry> Journal, RunState State, DateTimeOffset EndedAt, PhoneMode Mode, bool CameUp);

/// <summary>
/// A plan carried out on a twin of the phone, by hands that miss a moment now and then and over a cable that may let go. Its journal is
/// what a real writer would have written down.
/// </summary>
internal sealed class SimulatedRun(
    SimulatedShop shop,
    PhoneModel model,
    SimulatedHands hands,
    SimulatedCable cable,
    Phone phone,
    Plan plan,
    DateTimeOffset begins
)
{
    // So often a report of progress is written down.
    private const int Reports = 4;
    private const int MaxTries = 4;

    private readonly List<JournalEntry> journal = [];
    private readonly TwinScene scene = new(new PhoneTwin(model, shop.Catalogue), shop.Catalogue, phone);
    private DateTimeOffset now = begins;
    private TwinState state = Start(plan, phone, model);

    private Dice Dice => shop.Dice;

    private static TwinState Start(Plan plan, Phone phone, PhoneModel model)
    {
        var from = plan
            .Steps.Select(step =>
                step.Act is BringInto bring ? bring.From
                : step.Act.By == ActBy.Link ? step.Act.In
                : null
            )
            .FirstOrDefault(mode => mode is not null);
        var start = TwinFactory.Of(phone, model, from ?? PhoneModes.Parse(phone[FactName.Mode].Value) ?? PhoneMode.Off, TwinScene.Computer);
        return plan.NeedsLink ? start with { Cable = CableTo.Computer, Computer = TwinScene.Computer } : start;
    }

    public EndedRun Play()
    {
        Write(new RunQueued(hands.Name, null));
        Write(new RunStarted("bench computer"));
        foreach (var step in plan.Steps.Where(step => !step.Act.FollowsTheRun))
            if (!Play(step))
                return End(cameUp: false);

        Write(new RunFinished());
        var ended = now;
        foreach (var step in plan.Steps.Where(step => step.Act is AwaitStage))
        {
            Pass(Takes(step));
            Happen(step.Act.OnTwin(scene, state));
        }

        if (plan.StartsThePhone)
            Write(new StageSeen(hands.Name, state.Mode.Id()));
        return End(cameUp: state.Mode is not PhoneMode.BootLoop) with { EndedAt = ended };
    }

    private EndedRun End(bool cameUp) => new(journal, RunState.Of(plan, journal), now, state.Mode, cameUp);

    private void Write(RunEvent happened) => journal.Add(new JournalEntry(journal.Count + 1, now, happened));

    private void Pass(double seconds) => now = now.AddMilliseconds(Math.Round(seconds * 1000));

    private void Happen(IEnumerable<TwinEvent> events)
    {
        foreach (var happening in events)
            state = scene.Twin.Next(state, happening);
    }

    /// <summary>What a step takes today: the figure, as this shop, its cable and its hands are, and by chance.</summary>
    private double Takes(PlanStep step)
    {
        var act = step.Act;
        var ways =
            SimulatedShop.Slower(act.Timed, model.Code)
            * (act.Timed is TimeKind.Write or TimeKind.Copy ? cable.Slower : 1)
            * (act.Timed is TimeKind.Hands or TimeKind.Check ? hands.Slower : 1);
        var spread = act.By == ActBy.Hands ? 0.4 : 0.17;
        return Math.Max(0.5, act.Seconds(shop.Catalogue.Figures).Typical * ways * Dice.Strays(spread));
    }

    /// <returns>Whether it went through.</returns>
    private bool Play(PlanStep step)
    {
        if (step.Act.By == ActBy.Hands)
            return ByHands(step);
        Write(new StepStarted(step.Number, step.Title));
        var seconds = Takes(step);
        if (step.Act.LinkBytes > 0)
        {
            if (!Send(step, seconds))
                return false;
        }
        else
        {
            Pass(seconds);
            Happen(step.Act.OnTwin(scene, state));
            Tell(step);
        }

        Write(new StepDone(step.Number));
        return true;
    }

    private void Tell(PlanStep step)
    {
        switch (step.Act)
        {
            case ConfirmTarget:
                Write(new TargetConfirmed(plan.Target));
                break;
            case RestartInto restart:
                Write(new RestartAsked(step.Number, restart.ToBootloader));
                if (restart.ToBootloader)
                    Write(new PhoneBack(step.Number, plan.Target.Serial ?? ""));
                break;
            default:
                foreach (var touch in step.Act.Touches.Where(touch => touch.Erases))
                    Write(new PartitionErased(step.Number, touch.Partition));
                break;
        }
    }

    /// <summary>Images over the link, one after the other; the cable may let go in any of them.</summary>
    private bool Send(PlanStep step, double seconds)
    {
        var images = step.Act.Touches.Where(touch => touch.Bytes > 0).ToList();
        var only = images.Count == 1;
        foreach (var image in images)
        {
            var takes = seconds * image.Bytes / step.Act.LinkBytes;
            var named = only ? null : image.Partition;
            if (Dice.Chance(cable.LetsGo * image.Bytes / plan.BytesToSend))
            {
                var share = Dice.Next();
                Pass(takes * share);
                var sent = (long)(image.Bytes * share);
                Write(new BytesSent(step.Number, sent, named));
                if (share > 0.5)
                    Write(new WriteAsked(step.Number, 1, 1, named));
                LetGo(step, share);
                var broken = RunState.Of(plan, journal);
                Write(
                    new RunFailed(
                        $"The connection to the phone broke. {ByteSize.Text(sent)} of {ByteSize.Text(image.Bytes)} of {image.Partition} had been given to it (byte {sent}).",
                        RunAdvice.Again(broken)
                    )
                );
                return false;
            }

            for (var part = 1; part <= Reports; part++)
            {
                Pass(takes / (Reports + 1));
                Write(new BytesSent(step.Number, image.Bytes * part / Reports, named));
            }

            Write(new WriteAsked(step.Number, 1, 1, named));
            Pass(takes / (Reports + 1));
            Write(new PieceAccepted(step.Number, 1, 1, image.Bytes, named));
            Write(new ImageAccepted(step.Number, image.Partition, Digest(image.Partition)));
        }

        Happen(step.Act.OnTwin(scene, state));
        return true;
    }

    private string Digest(string partition) =>
        plan.Steps.SelectMany(step => step.Act.Sends).FirstOrDefault(image => image.Partition == partition)?.Sha256 ?? "";

    // The twin as it is when the cable comes out in the middle: what comes of that by itself, comes.
    private void LetGo(PlanStep step, double share)
    {
        foreach (var happening in step.Act.OnTwin(scene, state))
        {
            if (happening is TimePasses time && state.Task is not null)
            {
                Happen([new TimePasses((long)(time.Milliseconds * share)), new CableOut()]);
                break;
            }

            Happen([happening]);
        }

        Happen(Hands.UntilRest(scene.Twin, state));
    }

    private bool ByHands(PlanStep step)
    {
        Write(new HandsWanted(step.Number, step.Title, state.Mode.Id()));
        // Whoever is to do it may be with another phone.
        if (Dice.Chance(0.25))
            Pass(240 * Dice.Strays(0.8));
        if (step.Act is BringInto bring)
            Bring(step, bring);
        else
        {
            Pass(Takes(step));
            Happen(step.Act.OnTwin(scene, state));
        }

        Write(new HandsSaid(step.Number, hands.Name, state.Mode.Id(), true));
        Write(new RunStarted("bench computer"));
        return true;
    }

    /// <summary>Keys, by hands that miss a moment: a wrong screen is said, and the way goes on from there.</summary>
    private void Bring(PlanStep step, BringInto bring)
    {
        var known = bring.KnownAs(phone);
        for (var tries = 0; tries < MaxTries && state.Mode != bring.To; tries++)
        {
            Pass(Takes(step) / (tries + 1));
            if (Router.Best(known, model, state.Mode, bring.To, shop.Catalogue)?.Next.GetValueOrDefault(state.Mode) is not { } way)
                break;
            state = Hands
                .Play(scene.Twin, state, way.Score, TwinScene.Computer, tries + 1 < MaxTries ? _ => hands.Misses * Dice.Normal() : null)
                .End;
            if (state.Mode == bring.To || tries + 1 == MaxTries)
                break;
            Write(new HandsSaid(step.Number, hands.Name, state.Mode.Id(), false));
            Write(new RunStarted("bench computer"));
            Write(new HandsWanted(step.Number, step.Title, state.Mode.Id()));
        }

        if (state.Mode != bring.To)
            Happen(step.Act.OnTwin(scene, state));
    }
}
