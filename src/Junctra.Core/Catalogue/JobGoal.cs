namespace Junctra.Core.Catalogue;

/// <summary>What a phone is to be written for.</summary>
public enum JobGoal
{
    /// <summary>Back to its maker's system: a full package, or its own backup from before.</summary>
    Stock,

    /// <summary>A newer build of what it has.</summary>
    Update,

    /// <summary>A newer build, and root stays.</summary>
    KeepRoot,

    /// <summary>Stock recovery alone.</summary>
    Recovery,

    /// <summary>Its lock closed again. That takes no package where what is on it is its maker's.</summary>
    Relock,
}
