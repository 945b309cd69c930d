using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Plans;

/// <summary>What a phone shows in a mode, in a word or two.</summary>
public static class PhoneScreens
{
    /// <summary>The mode as a place one gets into: modes are named without an article, screens and menus with one.</summary>
    public static string Place(PhoneMode mode) =>
        mode is PhoneMode.LockChange or PhoneMode.BootMenu or PhoneMode.WarningScreen ? $"the {mode.Label()}" : mode.Label();

    /// <summary>What it shows.</summary>
    public static string Of(PhoneMode mode) =>
        mode switch
        {
            PhoneMode.Fastboot => "Bootloader menu",
            PhoneMode.Download => "Download mode",
            PhoneMode.StockRecovery or PhoneMode.CustomRecovery => "Recovery's menu",
            PhoneMode.RecoveryCommands => "Recovery command mode",
            PhoneMode.System => "Home screen",
            PhoneMode.SetupWizard => "Welcome",
            _ => char.ToUpperInvariant(mode.Label()[0]) + mode.Label()[1..],
        };
}
