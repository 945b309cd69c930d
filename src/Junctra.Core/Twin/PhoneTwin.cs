using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

/// <summary>
/// A phone as a pure state machine: the same state and events give the same result, on every computer. What it does comes
/// from the catalogue (key family, menus, layout, lock and erase rules), so that a new model needs no code. It stands in for
/// a phone behind sockets, for the rehearsal of a plan, and for practice.
/// </summary>
public sealed partial class PhoneTwin
{
    /// <summary>Most time that one event lets pass: a day.</summary>
    public const long MaxMilliseconds = 24L * 60 * 60 * 1000;

    // Millionths of a percent in a millisecond: one percent a minute on a charger.
    private const long ChargerRate = 17,
        ComputerRate = 7,
        IdleRate = -2,
        BusyRate = -6,
        OffRate = 0;
    private const long FullCharge = 100_000_000;
    private const int MaxAtOnce = 64;
    private const int SlotTries = 3;
    private const int TapsToDeveloper = 7;

    private readonly CommonWays common;
    private readonly Figures figures;

    /// <summary>A twin of a model.</summary>
    public PhoneTwin(PhoneModel model, ModelCatalogue catalogue)
    {
        Model = model;
        Maker = catalogue.MakerOf(model.Code) ?? throw new ArgumentException($"{model.Code} is not in the catalogue.", nameof(model));
        Family = catalogue.KeyFamilyOf(model);
        (common, figures) = (catalogue.CommonWays, catalogue.Figures);
    }

    /// <summary>The model.</summary>
    public PhoneModel Model { get; }

    /// <summary>Its maker.</summary>
    public Maker Maker { get; }

    /// <summary>Its key family.</summary>
    public KeyFamily Family { get; }

    private StageTimes Times => Family.Behaviour.Times;

    /// <summary>The phone after an event. Never throws for an event that makes no sense: a phone does not either.</summary>
    public TwinState Next(TwinState state, TwinEvent happening) =>
        happening switch
        {
            TimePasses time => Advance(state, Math.Clamp(time.Milliseconds, 0, MaxMilliseconds)),
            KeyDown down => Settle(Press(state, down.Key)),
            KeyUp up => Settle(Release(state, up.Key)),
            CableIn cable => Settle(Plug(state, cable.Computer)),
            CableOut => Settle(Unplug(state)),
            BatteryOut => TakeBattery(state),
            BatteryIn => state with { BatteryIn = true },
            PowerGone => GoFlat(state),
            ForcedRestart => state.BatteryIn && state.Charge > 0
                ? Settle(BeginStart(Cut(state) with { ForcedMs = state.NowMs, Pending = null }))
                : state,
            Choose choose => Settle(Touch(state, choose.Entry)),
            Command command => Settle(Obey(state, command.Id)),
            WritePart write => Settle(Write(state, write)),
            ErasePart erase => Settle(Erase(state, erase.Partition)),
            WriteLayout layout => Relay(state, layout),
            RestoreData restored when state is { Stage: PhoneStage.CustomRecovery, Task: null } => Wipe(state) with
            {
                Data = restored.Data,
            },
            HoldNeedle needle => Hold(state, needle),
            SupplyLoader loader => Supply(state, loader),
            CardPutIn card => state with { Card = [.. card.Files] },
            CardTakenOut => state with { Card = null },
            _ => state,
        };

    /// <summary>The phone after several events.</summary>
    public TwinState Run(TwinState state, IEnumerable<TwinEvent> events) => events.Aggregate(state, Next);

    /// <summary>Milliseconds until the phone does something by itself if nothing happens to it; null when it stands.</summary>
    public long? NextDueMs(TwinState state) => Due(state)?.AtMs is { } at ? Math.Max(0, at - state.NowMs) : null;

    private TwinState Advance(TwinState state, long milliseconds)
    {
        var end = state.NowMs + milliseconds;
        var atOnce = 0;
        while (true)
        {
            var due = Due(state);
            if (due is null || due.Value.AtMs > end)
                return Pass(state, end);
            // A catalogue could send a phone round in circles within one moment; it then stays where it is.
            atOnce = due.Value.AtMs > state.NowMs ? 0 : atOnce + 1;
            if (atOnce > MaxAtOnce)
                return Pass(state, end);
            state = due.Value.Then(Pass(state, Math.Max(due.Value.AtMs, state.NowMs)));
        }
    }

    /// <summary>Lets all happen that is due at this very moment.</summary>
    private TwinState Settle(TwinState state) => Advance(state, 0);

    /// <summary>Time alone: the clock and the battery.</summary>
    private static TwinState Pass(TwinState state, long to)
    {
        var passed = to - state.NowMs;
        if (passed <= 0)
            return state;
        return state with
        {
            NowMs = to,
            Charge = state.BatteryIn ? Math.Clamp(state.Charge + RateOf(state) * passed, 0, FullCharge) : state.Charge,
        };
    }

    private readonly record struct DueChange(long AtMs, Func<TwinState, TwinState> Then);

    /// <summary>The first thing that happens by itself.</summary>
    private DueChange? Due(TwinState state)
    {
        // What keys do goes before what time does at the same moment: whoever held long enough, held long enough.
        DueChange? first = null;
        foreach (var reaction in Family.Behaviour.Reactions)
        {
            if (HoldDone(state, reaction) is not { } at || first?.AtMs <= at)
                continue;
            var chosen = reaction;
            first = new DueChange(at, s => React(s, chosen));
        }

        if (state.Task is { } task && !(first?.AtMs <= task.UntilMs))
            first = new DueChange(task.UntilMs, FinishTask);
        if (TimeoutOf(state) is { } timeout && !(first?.AtMs <= state.StageSinceMs + timeout))
            first = new DueChange(state.StageSinceMs + timeout, AfterStage);
        if (ChargeDue(state) is { } charge && !(first?.AtMs <= charge.AtMs))
            first = charge;
        return first;
    }

    /// <summary>When a held set of keys has been held long enough, or null where it is not held.</summary>
    private static long? HoldDone(TwinState state, KeyReaction reaction)
    {
        if (reaction.Tap is not null || state.Task is not null && !reaction.Forced || !Watches(state, reaction))
            return null;
        var since = reaction.FromPress || reaction.Forced ? 0 : state.StageSinceMs;
        foreach (var key in reaction.Keys)
        {
            if (!state.Keys.TryGetValue(key, out var down))
                return null;
            if (reaction.FromStart && down >= state.StartedMs)
                return null;
            since = Math.Max(since, down);
        }

        if (!reaction.OrMore)
        {
            if (state.Keys.Count != reaction.Keys.Count)
                return null;
            // With others just let go, the set begins to be held now.
            if (!reaction.FromStart)
                since = Math.Max(since, state.KeysChangedMs);
        }

        if (reaction.Cable == CableNeed.PushedIn)
            since = Math.Max(since, state.CableSinceMs);
        // The hardware's own clock begins anew with every start.
        if (reaction.Forced)
            since = Math.Max(since, Math.Max(state.ForcedMs, state.StartedMs));
        return since + reaction.HoldMs;
    }

    private static bool Watches(TwinState state, KeyReaction reaction) =>
        reaction.In.Contains(state.Stage)
        && state.BatteryIn
        && state.Charge > 0
        && !state.Faults.DeadBoard
        && reaction.Cable switch
        {
            CableNeed.None => state.Cable == CableTo.Nothing,
            CableNeed.Computer => state.Cable == CableTo.Computer,
            CableNeed.PushedIn => state.Cable == CableTo.Computer && state.CableSinceMs >= state.StageSinceMs,
            _ => true,
        }
        && (!reaction.NeedsPermission || state.Unlocked || state.PermissionOn);

    private TwinState React(TwinState state, KeyReaction reaction)
    {
        if (reaction.Forced)
            state = Cut(state) with { ForcedMs = state.NowMs, Pending = null };
        return Do(reaction.To == PhoneStage.PowerOn ? BeginStart(state) : Enter(state, reaction.To), reaction.Does);
    }

    private static TwinState Press(TwinState state, string key) =>
        state.Keys.ContainsKey(key) ? state : state with { Keys = state.Keys.Add(key, state.NowMs), KeysChangedMs = state.NowMs };

    private TwinState Release(TwinState state, string key)
    {
        if (!state.Keys.TryGetValue(key, out var down))
            return state;
        var held = state.NowMs - down;
        var after = state with { Keys = state.Keys.Remove(key), KeysChangedMs = state.NowMs };
        // A key that came down in another stage belongs to that one.
        if (down < state.StageSinceMs || state.Task is not null)
            return after;
        var tap = Family.Behaviour.Reactions.FirstOrDefault(reaction =>
            reaction.Tap == key
            && held <= reaction.TapMostMs
            && Watches(after, reaction)
            && after.Keys.Count == reaction.Keys.Count
            && reaction.Keys.All(other => after.Keys.TryGetValue(other, out var since) && since <= down)
        );
        if (tap is not null)
            return React(after, tap);
        return held <= MenuTapMs ? MenuKey(after, key) : after;
    }

    private static TwinState Enter(TwinState state, PhoneStage stage) =>
        state with
        {
            Stage = stage,
            StageSinceMs = state.NowMs,
            MenuAt = 0,
            Asks = null,
            Message = null,
            Task = null,
            HasLoader = false,
        };
}
