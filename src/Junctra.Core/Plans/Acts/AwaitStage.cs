using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>What a phone does by itself when all is written.</summary>
public enum OwnWork
{
    /// <summary>It puts in what was sent to it, and restarts, perhaps twice.</summary>
    InstallPhase,

    /// <summary>The first start of a new system.</summary>
    FirstBoot,

    /// <summary>It starts as on any day.</summary>
    Start,

    /// <summary>Its recovery puts in an update from the card, and restarts.</summary>
    CardUpdate,

    /// <summary>It prepares the apps of the customer for the new system.</summary>
    OptimisingApps,
}

/// <summary>The phone works by itself; a person sees it end.</summary>
/// <param name="Work">What it does.</param>
/// <param name="Apps">How many apps it prepares, for <see cref="OwnWork.OptimisingApps"/>.</param>
public sealed record AwaitStage(OwnWork Work, int Apps = 0) : Act
{
    // One restart with the maker's picture for each of the phone's own.
    private const int InstallRestarts = 2;

    // 200 MB; recovery checks the signature of all of it before it writes.
    private static readonly Band CardUpdateTakes = new(3 * 60, 10 * 60);
    private static readonly Band SecondsAnApp = new(1, 1.3);

    /// <inheritdoc/>
    public override ActBy By => ActBy.Phone;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        Work switch
        {
            OwnWork.InstallPhase => new(
                "The phone puts it in and restarts",
                "The phone puts it in",
                "The maker's picture, perhaps a bar",
                "It restarts, perhaps twice."
            ),
            OwnWork.OptimisingApps => new(
                "Apps are prepared",
                "The phone prepares its apps",
                "A count of apps",
                "The lock screen or the home screen shows."
            ),
            OwnWork.Start => new("It starts", "It starts", "The maker's picture", "The lock screen or the home screen shows."),
            OwnWork.CardUpdate => new(
                "Recovery puts the update in",
                "Recovery puts the update in",
                "A bar, then the maker's picture",
                "It restarts by itself. A line that says it was not accepted: read it, and note it."
            ),
            _ => new(
                "First boot",
                "First boot",
                "The maker's picture, then the set-up or the lock screen",
                "The set-up or the lock screen shows."
            ),
        };

    /// <inheritdoc/>
    public override TimeKind Timed =>
        Work switch
        {
            OwnWork.FirstBoot => TimeKind.FirstBoot,
            OwnWork.OptimisingApps => TimeKind.Optimising,
            OwnWork.Start => TimeKind.Start,
            _ => TimeKind.Install,
        };

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) =>
        Work switch
        {
            OwnWork.InstallPhase => new(InstallRestarts * figures.RestartSeconds.Typical, InstallRestarts * figures.RestartSeconds.Slow),
            OwnWork.Start => figures.RestartSeconds,
            OwnWork.CardUpdate => CardUpdateTakes,
            OwnWork.OptimisingApps => new(SecondsAnApp.Typical * Apps, SecondsAnApp.Slow * Apps),
            _ => new(figures.FirstBootMinutes.Typical * 60, figures.FirstBootMinutes.Slow * 60),
        };

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => Junctra.Core.Twin.Hands.UntilRest(scene.Twin, now);
}
