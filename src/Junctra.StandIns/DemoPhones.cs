using Junctra.Core.Modes;

namespace Junctra.StandIns;

/// <summary>The phones of the demo world, as they come to the bench.</summary>
internal static class DemoPhones
{
    private const int EndMarkAt = 8192;

    /// <summary>Port A: a Cairn with a custom system, unlocked, to be sold. Somebody has brought it into its bootloader already.</summary>
    public static PhoneBirth A { get; } = Cairn("HXA70431", PhoneMode.Fastboot, battery: 71, systemIsWhole: true);

    /// <summary>Port B: a Cairn that restarts for ever since a custom system was tried.</summary>
    public static PhoneBirth B { get; } = Cairn("HXB70988", PhoneMode.BootLoop, battery: 64, systemIsWhole: false);

    private static PhoneBirth Cairn(string serial, PhoneMode mode, int battery, bool systemIsWhole)
    {
        var system = DemoImages.StampText(("model", "HX204"), ("part", "system"), ("build", "custom-2.1"), ("os", "15"), ("end", EndMarkAt.ToString()));
        return new PhoneBirth(
            new PhoneMemory
            {
                Model = "HX204",
                Serial = serial,
                Mode = mode,
                RollbackFloor = 3,
                RunningRevision = 3,
                RunningRadio = "HX204-R-26w02",
                Unlocked = true,
                BatteryPercent = battery,
                CableIn = true,
                UserDataOf = "custom-2.1",
            },
            new Dictionary<string, string>
            {
                ["bootloader"] = DemoImages.StampText(("model", "HX204"), ("part", "bootloader"), ("revision", "3")),
                ["radio"] = DemoImages.StampText(("model", "HX204"), ("part", "radio"), ("radio", "HX204-R-26w02")),
                ["system"] = systemIsWhole ? system.PadRight(EndMarkAt, '\0') + "junctra demo image ends\n" : system,
            });
    }
}
