using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Has the phone restart by a command: into its bootloader or its recovery-hosted command mode (and waits until the same phone answers
/// again), or into the system.
/// </summary>
/// <param name="ToBootloader">Whether it comes back in its bootloader.</param>
/// <param name="Why">What the restart is for, as the end of its title; empty for none.</param>
public sealed record RestartInto(bool ToBootloader, string Why = "") : Act
{
    private const string RestartCommand = "reboot",
        BootloaderCommand = "reboot-bootloader",
        CommandModeCommand = "reboot-fastboot";

    /// <summary>Whether it comes back in its recovery-hosted command mode.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool ToCommandMode { get; init; }

    /// <summary>Whether it is in its recovery-hosted command mode before; else in its bootloader.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool FromCommandMode { get; init; }

    /// <summary>Whether it answers again after it.</summary>
    [JsonIgnore]
    public bool Answers => ToBootloader || ToCommandMode;

    /// <summary>The command, as a phone in fastboot mode hears it.</summary>
    [JsonIgnore]
    public string CommandId =>
        ToCommandMode ? CommandModeCommand
        : ToBootloader ? BootloaderCommand
        : RestartCommand;

    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => FromCommandMode ? PhoneMode.RecoveryCommands : PhoneMode.Fastboot;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override bool StartsThePhone => true;

    /// <inheritdoc/>
    public override ActWords Words =>
        ToCommandMode
            ? new(
                $"Restart into its recovery-hosted command mode{Why}",
                "Restarting into its recovery-hosted command mode",
                "Dark for a moment, then the recovery command mode",
                "The same phone answers again."
            )
        : ToBootloader
            ? new(
                $"Restart the bootloader{Why}",
                "Restarting the bootloader",
                "Dark for a moment, then the bootloader menu",
                "The same phone answers again."
            )
        : new($"Restart into the system{Why}", "Restarting into the system", "The maker's picture", "The maker's picture shows.");

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Restart;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => figures.RestartSeconds;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        var restart = new Command(CommandId);
        yield return restart;
        if (!Answers)
            yield break;
        foreach (var time in Junctra.Core.Twin.Hands.UntilRest(scene.Twin, scene.Twin.Next(now, restart)))
            yield return time;
    }
}
