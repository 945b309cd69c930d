namespace Junctra.Core.Facts;

/// <summary>
/// What a phone does at this moment. Finer than <see cref="PhoneMode"/>: a start passes through several stages within
/// seconds, and which keys are down in which of them decides where it leads.
/// </summary>
public enum PhoneStage
{
    /// <summary>Switched off.</summary>
    Off,

    /// <summary>Off, and a cable just went in: still dark.</summary>
    Waking,

    /// <summary>Off, with the charging picture.</summary>
    Charging,

    /// <summary>Dark between two starts.</summary>
    Dark,

    /// <summary>Dark, after the buzz of a start: the boot chain looks at the keys.</summary>
    PowerOn,

    /// <summary>The maker's picture.</summary>
    Logo,

    /// <summary>The system starts.</summary>
    Booting,

    /// <summary>The system prepares its apps.</summary>
    Optimising,

    /// <summary>The system runs.</summary>
    System,

    /// <summary>First start: asks for language, network and account.</summary>
    SetupWizard,

    /// <summary>The system shuts down.</summary>
    SwitchingOff,

    /// <summary>A menu of what to start, before anything has.</summary>
    BootMenu,

    /// <summary>The warning before download mode.</summary>
    WarningScreen,

    /// <summary>The maker's own write mode.</summary>
    Download,

    /// <summary>Asks whether the lock is to be changed.</summary>
    LockChange,

    /// <summary>The open command mode of the bootloader.</summary>
    Fastboot,

    /// <summary>The open command mode, hosted by recovery.</summary>
    RecoveryCommands,

    /// <summary>Recovery starts.</summary>
    RecoveryStarting,

    /// <summary>Stock recovery's idle picture.</summary>
    NoCommand,

    /// <summary>Stock recovery's menu.</summary>
    StockRecovery,

    /// <summary>A recovery that somebody else made.</summary>
    CustomRecovery,

    /// <summary>An update is being put in.</summary>
    UpdateRunning,

    /// <summary>Stands at the maker's picture.</summary>
    StuckAtLogo,

    /// <summary>Says that its software cannot be verified, and goes no further.</summary>
    Unverified,

    /// <summary>Black; the chip's own ROM answers.</summary>
    Emergency,
}

/// <summary>Words for stages.</summary>
public static class PhoneStages
{
    /// <summary>The name used in files, for example <c>warning-screen</c>.</summary>
    public static string Id(this PhoneStage stage) => EnumNames.Of(stage);

    /// <summary>The stage of that name, or null.</summary>
    public static PhoneStage? Parse(string? id) => EnumNames.Parse<PhoneStage>(id);

    /// <summary>The mode that a person sees in a stage of a phone that does not loop.</summary>
    public static PhoneMode Mode(this PhoneStage stage) =>
        stage switch
        {
            PhoneStage.Off or PhoneStage.SwitchingOff => PhoneMode.Off,
            PhoneStage.Charging => PhoneMode.Charging,
            PhoneStage.Waking
            or PhoneStage.Dark
            or PhoneStage.PowerOn
            or PhoneStage.Logo
            or PhoneStage.Booting
            or PhoneStage.Optimising
            or PhoneStage.RecoveryStarting => PhoneMode.Starting,
            PhoneStage.System => PhoneMode.System,
            PhoneStage.SetupWizard => PhoneMode.SetupWizard,
            PhoneStage.BootMenu => PhoneMode.BootMenu,
            PhoneStage.WarningScreen => PhoneMode.WarningScreen,
            PhoneStage.Download => PhoneMode.Download,
            PhoneStage.LockChange => PhoneMode.LockChange,
            PhoneStage.Fastboot => PhoneMode.Fastboot,
            PhoneStage.RecoveryCommands => PhoneMode.RecoveryCommands,
            PhoneStage.NoCommand => PhoneMode.NoCommand,
            PhoneStage.StockRecovery => PhoneMode.StockRecovery,
            PhoneStage.CustomRecovery => PhoneMode.CustomRecovery,
            PhoneStage.UpdateRunning => PhoneMode.UpdateRunning,
            PhoneStage.StuckAtLogo or PhoneStage.Unverified => PhoneMode.StuckAtLogo,
            PhoneStage.Emergency => PhoneMode.Emergency,
            _ => PhoneMode.Unknown,
        };

    /// <summary>The stage in which a phone of a mode stands.</summary>
    public static PhoneStage? Standing(this PhoneMode mode) =>
        mode switch
        {
            PhoneMode.Unknown => null,
            PhoneMode.BootLoop or PhoneMode.Starting => PhoneStage.Logo,
            PhoneMode.Off => PhoneStage.Off,
            _ => Enum.GetValues<PhoneStage>().First(stage => stage.Mode() == mode),
        };
}
