using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

/// <summary>Cable, battery and charge.</summary>
public sealed partial class PhoneTwin
{
    private static long RateOf(TwinState state)
    {
        var drain = state.Stage switch
        {
            PhoneStage.Off or PhoneStage.Charging or PhoneStage.Waking => OffRate,
            PhoneStage.System or PhoneStage.SetupWizard => IdleRate,
            _ => BusyRate,
        };
        return state.Cable switch
        {
            CableTo.Charger => ChargerRate + drain,
            CableTo.Computer => ComputerRate + drain,
            _ => drain,
        };
    }

    private static TwinState Plug(TwinState state, string? computer)
    {
        if (state.Cable != CableTo.Nothing)
            return state;
        var plugged = state with
        {
            Cable = computer is null ? CableTo.Charger : CableTo.Computer,
            Computer = computer,
            CableSinceMs = state.NowMs,
        };
        if (plugged.Faults.DeadBoard || !plugged.BatteryIn)
            return plugged;
        // A cell that is flat to the bottom takes charge for long before anything shows.
        return plugged.Stage == PhoneStage.Off && plugged.Charge >= plugged.SignOfLifeAt ? Enter(plugged, PhoneStage.Waking) : plugged;
    }

    private static TwinState Unplug(TwinState state)
    {
        if (state.Cable == CableTo.Nothing)
            return state;
        var pulled = state with { Cable = CableTo.Nothing, Computer = null, CableSinceMs = state.NowMs };
        // A write needs its cable; whatever else goes on does not.
        if (pulled.Task is { Partition: not null })
            pulled = pulled with { Task = null, Message = "The cable was pulled while something was being written." };
        return pulled.Stage is PhoneStage.Waking or PhoneStage.Charging ? Enter(pulled, PhoneStage.Off) : pulled;
    }

    private TwinState TakeBattery(TwinState state) =>
        Model.BatteryOut && state.BatteryIn
            ? Enter(Cut(state), PhoneStage.Off) with
            {
                BatteryIn = false,
                Pending = null,
                Loops = 0,
            }
            : state;

    private TwinState GoFlat(TwinState state) =>
        Enter(Cut(state) with { Charge = 0, Loops = 0, Pending = null, SignOfLifeAt = 1_000_000 }, PhoneStage.Off);

    /// <summary>Power is gone in the middle: what was going on stays half done.</summary>
    private TwinState Cut(TwinState state)
    {
        var cut = state with { Task = null, Asks = null };
        if (state.Stage != PhoneStage.UpdateRunning || state.Update is null)
            return cut;
        var system = SystemName(state);
        return cut with
        {
            Update = null,
            Parts = cut.Parts.TryGetValue(system, out var part) ? cut.Parts.SetItem(system, part with { Whole = false }) : cut.Parts,
        };
    }

    private DueChange? ChargeDue(TwinState state)
    {
        if (!state.BatteryIn || state.Faults.DeadBoard)
            return null;
        var rate = RateOf(state);
        if (rate < 0 && state.Stage != PhoneStage.Off)
            return new DueChange(state.NowMs + (state.Charge + -rate - 1) / -rate, GoFlat);
        if (rate > 0 && state is { Stage: PhoneStage.Off, Cable: not CableTo.Nothing })
            return new DueChange(state.NowMs + (Math.Max(0, state.SignOfLifeAt - state.Charge) + rate - 1) / rate, s =>
                Enter(s, PhoneStage.Waking)
            );
        return null;
    }
}
