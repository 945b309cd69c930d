using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Hands force a phone to restart that hangs or loops: by its keys, or by taking its battery out where no keys do.</summary>
/// <param name="From">The mode in which it hangs.</param>
public sealed record ForceRestart(PhoneMode From) : Act
{
    private static readonly Band Takes = new(30, 120);

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override PhoneMode? In => From;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override bool StartsThePhone => true;

    /// <inheritdoc/>
    public override ActWords Words =>
        new("Force a restart", "Held until it goes dark", PhoneScreens.Of(From), "It goes dark, then the maker's picture shows.");

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <summary>
    /// The way that restarts a phone from a mode, and leads nowhere else: the keys first, then its battery. Where it was switched off by
    /// that, its way on; null where there is none.
    /// </summary>
    /// <param name="phone">What is known of it.</param>
    /// <param name="model">Its model.</param>
    /// <param name="at">Where it is.</param>
    /// <param name="catalogue">Its ways.</param>
    public static Way? WayFrom(Phone phone, PhoneModel model, PhoneMode at, ModelCatalogue catalogue)
    {
        // A way that ends where it began is none; so it is asked for as if the phone started.
        const PhoneMode Starts = PhoneMode.System;
        var rough = WayCompiler
            .Of(model, catalogue, Starts)
            .Where(way => way.From == at && way.Kind == WayKind.Keys && way.Score.LastResort)
            .Where(way => way.To == Starts || way.To == PhoneMode.Off)
            .OrderBy(way => way.To == PhoneMode.Off)
            .ThenBy(way => way.Minutes)
            .FirstOrDefault();
        return rough ?? (Router.Best(phone, model, at, Starts, catalogue)?.Legs is [var first, ..] ? first : null);
    }

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [new ForcedRestart()];
}
