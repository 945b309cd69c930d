namespace Junctra.Core.Facts;

/// <summary>Where a phone can be.</summary>
public enum PhoneMode
{
    /// <summary>Not known.</summary>
    Unknown,

    /// <summary>Switched off, no charger.</summary>
    Off,

    /// <summary>The system runs.</summary>
    System,

    /// <summary>Starts again and again without reaching the system.</summary>
    BootLoop,

    /// <summary>Stands at the maker's picture.</summary>
    StuckAtLogo,

    /// <summary>The open command mode of the bootloader, with its menu on the screen.</summary>
    Fastboot,

    /// <summary>First start: asks for language, network and account.</summary>
    SetupWizard,

    /// <summary>Off, with the charging picture.</summary>
    Charging,

    /// <summary>The warning that comes before download mode; not yet download mode.</summary>
    WarningScreen,

    /// <summary>The maker's own write mode.</summary>
    Download,

    /// <summary>Asks whether the lock is to be changed.</summary>
    LockChange,

    /// <summary>The small second system as the maker ships it.</summary>
    StockRecovery,

    /// <summary>Recovery's idle picture, which waits for keys.</summary>
    NoCommand,

    /// <summary>A small second system that somebody else made.</summary>
    CustomRecovery,

    /// <summary>An update is being put in.</summary>
    UpdateRunning,

    /// <summary>The chip's own ROM answers; the boot chain is gone.</summary>
    Emergency,

    /// <summary>On its way: dark or the maker's picture, for seconds.</summary>
    Starting,

    /// <summary>A menu of what to start, before anything has.</summary>
    BootMenu,

    /// <summary>The open command mode hosted by recovery, for what lies inside a large partition.</summary>
    RecoveryCommands,
}

/// <summary>Words for modes.</summary>
public static class PhoneModes
{
    private static readonly Dictionary<PhoneMode, string> Labels = new()
    {
        [PhoneMode.Unknown] = "not known",
        [PhoneMode.Off] = "off",
        [PhoneMode.System] = "running system",
        [PhoneMode.BootLoop] = "boot loop",
        [PhoneMode.StuckAtLogo] = "stuck at the logo",
        [PhoneMode.Fastboot] = "fastboot mode",
        [PhoneMode.SetupWizard] = "set-up wizard",
        [PhoneMode.Charging] = "charging",
        [PhoneMode.WarningScreen] = "warning screen",
        [PhoneMode.Download] = "download mode",
        [PhoneMode.LockChange] = "lock-change screen",
        [PhoneMode.StockRecovery] = "stock recovery",
        [PhoneMode.NoCommand] = "“no command” screen",
        [PhoneMode.CustomRecovery] = "custom recovery",
        [PhoneMode.UpdateRunning] = "update running",
        [PhoneMode.Emergency] = "chip emergency mode",
        [PhoneMode.Starting] = "starting",
        [PhoneMode.BootMenu] = "boot menu",
        [PhoneMode.RecoveryCommands] = "recovery-hosted command mode",
    };

    /// <summary>The name used in files and in facts, for example <c>boot-loop</c>.</summary>
    public static string Id(this PhoneMode mode) => EnumNames.Of(mode);

    /// <summary>The mode as a technician says it.</summary>
    public static string Label(this PhoneMode mode) => Labels[mode];

    /// <summary>Whether it is recovery's menu, whosever recovery it is: which one a phone has shows only there.</summary>
    public static bool IsRecovery(this PhoneMode mode) => mode is PhoneMode.StockRecovery or PhoneMode.CustomRecovery;

    /// <summary>Whether it hangs on its way up: it loops, or stands at its maker's picture.</summary>
    public static bool IsHung(this PhoneMode mode) => mode is PhoneMode.BootLoop or PhoneMode.StuckAtLogo;

    /// <summary>Whether its link is one of a bootloader, or of what stands in for it, which tell lock and floor.</summary>
    public static bool IsBootloader(this PhoneMode mode) => mode is PhoneMode.Fastboot or PhoneMode.RecoveryCommands or PhoneMode.Download;

    /// <summary>Why nobody brings a phone into a mode on purpose; null where people do.</summary>
    public static string? WhyNoGoal(this PhoneMode mode) =>
        mode switch
        {
            PhoneMode.Unknown => "That is no mode.",
            PhoneMode.BootLoop => "A boot loop is a fault, not a place to go to.",
            PhoneMode.StuckAtLogo => "Standing at the logo is a fault, not a place to go to.",
            PhoneMode.Emergency => "Chip emergency mode comes by itself when the boot chain is gone; on a sound phone nobody goes there.",
            PhoneMode.UpdateRunning => "An update runs when one is put in; that is the plan's.",
            PhoneMode.Starting => "A start passes by itself.",
            PhoneMode.SetupWizard => "The set-up comes after everything was erased; that is the plan's.",
            _ => null,
        };

    /// <summary>The mode of that name, or null.</summary>
    public static PhoneMode? Parse(string? id) => EnumNames.Parse<PhoneMode>(id);
}
