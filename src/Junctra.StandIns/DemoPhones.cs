using Junctra.Core.Modes;

namespace Junctra.StandIns;

/// <summary>The phones of the demo world, as they come to the bench.</summary>
internal static class DemoPhones
{
    private const int EndMarkAt = 8192;

    /// <summary>Port A: a Cairn with a custom system, unlocked, to be sold. Somebody has brought it into its bootloader already.</summary>
    public static PhoneBirth A { get; } = Cairn("HX204", "HXA70431", PhoneMode.Fastboot, battery: 71, "custom-2.1", systemIsWhole: true, "custom-2.1");

    /// <summary>Port B: a Cairn that restarts for ever since a write of its own build failed half way; the data is still there.</summary>
    public static PhoneBirth B { get; } = Cairn("HX204", "HXB70988", PhoneMode.BootLoop, battery: 64, "HX204/15.26w10-7.r3", systemIsWhole: false, "HX204/15.26w02-1.r3");

    /// <summary>Port C: a Cairn Small with its own system, in its bootloader, for a job of one's own.</summary>
    public static PhoneBirth C { get; } = Cairn("HX204C", "HXC70112", PhoneMode.Fastboot, battery: 83, "HX204C/15.26w02-2.r3", systemIsWhole: true, "HX204C/15.26w02-2.r3");

    private static PhoneBirth Cairn(string model, string serial, PhoneMode mode, int battery, string build, bool systemIsWhole, string dataOf)
    {
        var system = DemoImages.StampText(("model", model), ("part", "system"), ("build", build), ("os", "15"), ("end", EndMarkAt.ToString()));
        var radio = model + "-R-26w02";
        return new PhoneBirth(
            new PhoneMemory
            {
                Model = model,
                Serial = serial,
                Mode = mode,
                RollbackFloor = 3,
                RunningRevision = 3,
                RunningRadio = radio,
                Unlocked = true,
                BatteryPercent = battery,
                CableIn = true,
                UserDataOf = dataOf,
            },
            new Dictionary<string, string>
            {
                ["bootloader"] = DemoImages.StampText(("model", model), ("part", "bootloader"), ("revision", "3")),
                ["radio"] = DemoImages.StampText(("model", model), ("part", "radio"), ("radio", radio)),
                ["system"] = systemIsWhole ? system.PadRight(EndMarkAt, '\0') + "junctra demo image ends\n" : system,
            });
    }
}
