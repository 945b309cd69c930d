namespace Junctra.Core.Matching;

/// <summary>When the data are wiped where they may go.</summary>
public enum WipeSchool
{
    /// <summary>By the write itself, or if the phone loops; before it only what a custom system left behind.</summary>
    OnlyIfItLoops,

    /// <summary>Before the write, from custom recovery, where the phone has one.</summary>
    Before,

    /// <summary>With the restart held back, before the first boot.</summary>
    Held,

    /// <summary>Always: no write keeps them.</summary>
    Always,
}

/// <summary>When a layout is written with a bundle that brings one.</summary>
public enum LayoutSchool
{
    /// <summary>Never.</summary>
    Never,

    /// <summary>Where the layout of the phone is damaged, by choice.</summary>
    OnlyDamaged,

    /// <summary>Wherever the data go anyway.</summary>
    Always,
}

/// <summary>By what a hang is judged.</summary>
public enum HangSchool
{
    /// <summary>By how long nothing moves; no step is too long while something does.</summary>
    NoProgress,

    /// <summary>By six minutes for a step, whatever moves.</summary>
    SixMinutes,

    /// <summary>By ten minutes for a step.</summary>
    TenMinutes,
}

/// <summary>What a shop decided on plans (specification: section 9.7 of the job).</summary>
/// <param name="Wipe">When the data are wiped.</param>
/// <param name="Layout">When a layout is written.</param>
/// <param name="TrustsKeeping">Whether a stock write is trusted to keep the data, so that nobody is asked what may follow.</param>
/// <param name="CleanAtOnce">Whether a phone of which nobody said that its data are wanted is written clean at once.</param>
/// <param name="AssumesRelockErases">Whether closing a lock is taken to erase the data whatever the model.</param>
public sealed record PlanPolicy(
    WipeSchool Wipe = WipeSchool.OnlyIfItLoops,
    LayoutSchool Layout = LayoutSchool.OnlyDamaged,
    bool TrustsKeeping = false,
    bool CleanAtOnce = false,
    bool AssumesRelockErases = true
)
{
    /// <summary>Careful with data, and with layouts.</summary>
    public static PlanPolicy Usual { get; } = new();

    /// <summary>Whether the phone is held in its write mode after a write, until somebody lets it start.</summary>
    public bool HoldsRestart { get; init; }

    /// <summary>Whether the cable may come out as soon as the phone restarts after a write.</summary>
    public bool UnplugsAtRestart { get; init; }

    /// <summary>By what a hang is judged.</summary>
    public HangSchool Hang { get; init; }

    /// <summary>Whether the maker's whole companion suite is installed; else the driver alone.</summary>
    public bool HasWholeSuite { get; init; }

    /// <summary>Whether the maker's online writer is tried before a package is written from here.</summary>
    public bool OnlineFirst { get; init; }
}
