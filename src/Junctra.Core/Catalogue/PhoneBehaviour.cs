using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>What must be at the socket for a reaction.</summary>
public enum CableNeed
{
    /// <summary>Whatever there is.</summary>
    Any,

    /// <summary>No cable.</summary>
    None,

    /// <summary>A cable to a computer.</summary>
    Computer,

    /// <summary>A cable to a computer that went in during this stage.</summary>
    PushedIn,
}

/// <summary>
/// What a phone of a family does when keys are held or tapped. The twin obeys these; key recipes are ways for two hands
/// to make use of them, and are tested against them.
/// </summary>
/// <param name="In">Stages in which the phone looks at the keys.</param>
/// <param name="Keys">Ids of the keys that must be down together; for a tap, those that are held meanwhile.</param>
/// <param name="To">Stage that it leads to.</param>
public sealed record KeyReaction(IReadOnlyList<PhoneStage> In, IReadOnlyList<string> Keys, PhoneStage To)
{
    /// <summary>How long the keys must be down together, in milliseconds.</summary>
    public long HoldMs { get; init; }

    /// <summary>Whether other keys may be down too.</summary>
    public bool OrMore { get; init; }

    /// <summary>
    /// Whether holding counts from the press, also when that was in an earlier stage; else from the stage's begin at the earliest.
    /// </summary>
    public bool FromPress { get; init; }

    /// <summary>Whether the keys must have been down when the phone started: it looks only then.</summary>
    public bool FromStart { get; init; }

    /// <summary>Whether this is the restart that hardware forces: it counts anew after each.</summary>
    public bool Forced { get; init; }

    /// <summary>The key that must be pressed and let go within the stage, or null where keys are held.</summary>
    public string? Tap { get; init; }

    /// <summary>Longest press that is a tap, in milliseconds.</summary>
    public long TapMostMs { get; init; } = 2000;

    /// <summary>What must be at the socket.</summary>
    public CableNeed Cable { get; init; }

    /// <summary>Whether it works only where changing the lock is permitted.</summary>
    public bool NeedsPermission { get; init; }

    /// <summary>What happens besides; <see cref="MenuEffect.None"/> where it only leads on.</summary>
    public MenuEffect Does { get; init; }
}

/// <summary>What choosing a menu entry does to the phone.</summary>
public enum MenuEffect
{
    /// <summary>It only leads to another stage.</summary>
    None,

    /// <summary>Erases the user data.</summary>
    WipeData,

    /// <summary>Erases the cache.</summary>
    WipeCache,

    /// <summary>Puts in the update that lies on the card.</summary>
    CardUpdate,

    /// <summary>Erases the system: none is left.</summary>
    FormatSystem,

    /// <summary>Opens the lock or closes it, whichever is the other.</summary>
    ChangeLock,

    /// <summary>One of seven taps that show the developer options.</summary>
    BuildNumberTap,

    /// <summary>Turns USB debugging on or off.</summary>
    SwitchDebugging,

    /// <summary>Allows the computer at the cable.</summary>
    AllowComputer,

    /// <summary>Forgets all computers that were allowed.</summary>
    RevokeComputers,

    /// <summary>Turns the permission to change the lock on or off.</summary>
    SwitchPermission,

    /// <summary>Brings the phone online and asks for an update.</summary>
    AskForUpdate,

    /// <summary>Signs the account out.</summary>
    SignOut,

    /// <summary>The owner signs in with the account that was on the phone before it was reset.</summary>
    SignIn,

    /// <summary>Goes through the set-up to its end.</summary>
    FinishSetup,
}

/// <summary>When a menu shows an entry.</summary>
public enum EntryCondition
{
    /// <summary>Always.</summary>
    Always,

    /// <summary>Where the phone has root.</summary>
    Root,

    /// <summary>Where developer options are shown.</summary>
    DeveloperOptions,

    /// <summary>Where the switch that permits changing the lock is shown and can be moved.</summary>
    PermissionSwitch,

    /// <summary>Where a computer at the cable waits to be allowed.</summary>
    ComputerAsks,

    /// <summary>Where the model has two slots.</summary>
    TwoSlots,

    /// <summary>Where an account is signed in.</summary>
    Account,

    /// <summary>Where the set-up asks for the account that was on it before.</summary>
    AccountAsked,
}

/// <summary>Where a way leads: a stage, or one that depends on the phone.</summary>
public enum Target
{
    /// <summary>A stage of its own.</summary>
    Stage,

    /// <summary>Whatever recovery the phone has.</summary>
    Recovery,

    /// <summary>The mode in which the model's packages are written.</summary>
    WriteMode,

    /// <summary>A start of the system.</summary>
    Start,
}

/// <summary>One entry of a menu.</summary>
/// <param name="Id">Id, unique in its menu.</param>
/// <param name="Label">Its words on the phone.</param>
/// <param name="Target">Where it leads.</param>
/// <param name="To">The stage, where <paramref name="Target"/> is one; null where the menu stays.</param>
public sealed record MenuEntry(string Id, string Label, Target Target, PhoneStage? To)
{
    /// <summary>What it does besides.</summary>
    public MenuEffect Does { get; init; }

    /// <summary>How long that takes, in milliseconds.</summary>
    public long TakesMs { get; init; }

    /// <summary>When it is shown.</summary>
    public EntryCondition When { get; init; }

    /// <summary>Whether the menu asks once more before it does it.</summary>
    public bool Confirm { get; init; }

    /// <summary>Minutes of hands; null for what the keys take.</summary>
    public double? Minutes { get; init; }

    /// <summary>Chance that it does not lead there at once, 0 to 0.9.</summary>
    public double FailChance { get; init; }
}

/// <summary>A menu that a stage shows.</summary>
/// <param name="Stage">The stage.</param>
/// <param name="Title">Its title on the phone.</param>
/// <param name="IsTouch">Whether its entries are touched; else keys move and select.</param>
/// <param name="Entries">Its entries, top down.</param>
public sealed record PhoneMenu(PhoneStage Stage, string Title, bool IsTouch, IReadOnlyList<MenuEntry> Entries)
{
    /// <summary>The key that selects, where it has keys; null for the family's own.</summary>
    public string? SelectKey { get; init; }
}

/// <summary>A command that a computer gives over a link.</summary>
/// <param name="Id">Its name.</param>
/// <param name="Label">What it does, in words.</param>
/// <param name="In">Stages in which the phone obeys it.</param>
/// <param name="Target">Where it leads.</param>
/// <param name="To">The stage, where <paramref name="Target"/> is one.</param>
public sealed record LinkCommand(string Id, string Label, IReadOnlyList<PhoneStage> In, Target Target, PhoneStage? To)
{
    /// <summary>Minutes of hands and waiting.</summary>
    public double Minutes { get; init; } = 0.3;

    /// <summary>Chance that it does not lead there, 0 to 0.9.</summary>
    public double FailChance { get; init; }

    /// <summary>When the phone knows it.</summary>
    public EntryCondition When { get; init; }

    /// <summary>What it does besides.</summary>
    public MenuEffect Does { get; init; }
}

/// <summary>How long a phone of a family stays in the stages that it passes by itself, in milliseconds.</summary>
public sealed record StageTimes(
    long WakingMs = 1500,
    long DarkMs = 2500,
    long PowerOnMs = 1500,
    long LogoMs = 4000,
    long BootingMs = 25_000,
    long LoopMs = 4000,
    long RecoveryStartingMs = 6000,
    long SwitchingOffMs = 4000,
    long UpdateMs = 180_000
);

/// <summary>How the phones of a family behave.</summary>
/// <param name="Reactions">What keys do.</param>
/// <param name="Menus">Menus that differ from those that all phones have.</param>
/// <param name="Times">Lengths of passing stages.</param>
/// <param name="SelectKey">The key that selects in menus.</param>
/// <param name="RecoveryOpensWith">Where stock recovery begins: its idle picture or its menu.</param>
public sealed record PhoneBehaviour(
    IReadOnlyList<KeyReaction> Reactions,
    IReadOnlyList<PhoneMenu> Menus,
    StageTimes Times,
    string SelectKey,
    PhoneStage RecoveryOpensWith
)
{
    /// <summary>A phone that does nothing; for families of which only the recipes are described.</summary>
    public static PhoneBehaviour None { get; } = new([], [], new StageTimes(), "power", PhoneStage.StockRecovery);
}

/// <summary>What is the same for all phones: menus, commands, and ways that need no keys of a family.</summary>
/// <param name="Menus">Menus that a phone has unless its family says otherwise.</param>
/// <param name="Commands">Commands over links.</param>
/// <param name="Recipes">Recipes of cable and battery.</param>
public sealed record CommonWays(IReadOnlyList<PhoneMenu> Menus, IReadOnlyList<LinkCommand> Commands, IReadOnlyList<KeyRecipe> Recipes)
{
    /// <summary>Nothing.</summary>
    public static CommonWays None { get; } = new([], [], []);

    /// <summary>The menu that a stage of a family's phones shows, or null.</summary>
    public PhoneMenu? MenuOf(KeyFamily family, PhoneStage stage) =>
        family.Behaviour.Menus.FirstOrDefault(menu => menu.Stage == stage) ?? Menus.FirstOrDefault(menu => menu.Stage == stage);
}
