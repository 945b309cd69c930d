using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Hands bring the phone into a mode, by the ways of its key family; a wrong screen leads on from there.</summary>
/// <param name="From">Where it is when the plan is made.</param>
/// <param name="To">Where it is wanted.</param>
/// <param name="Minutes">Expected minutes, as the router gives them.</param>
public sealed record BringInto(PhoneMode From, PhoneMode To, double Minutes) : Act
{
    private const double SlowTimes = 3;
    private const int MaxWays = 8;

    /// <summary>Whether it must not start on the way: ways by the running system's own means are then none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool PastSystem { get; init; }

    /// <summary>The phone as the ways of this act may take it.</summary>
    public Phone KnownAs(Phone phone) => PastSystem ? WithoutItsSystem(phone) : phone;

    /// <summary>A phone whose system nobody may use.</summary>
    public static Phone WithoutItsSystem(Phone phone) =>
        phone
            .Supposing(FactName.UsbDebugging, FactName.UsbDebugging.Write(Debugging.Off))
            .Supposing(FactName.Root, FactName.Root.Write(Presence.None));

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override bool IsAtThePhone => true;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Bring it into {PhoneScreens.Place(To)} by keys",
            $"On the way into {PhoneScreens.Place(To)}",
            PhoneScreens.Of(To),
            $"{PhoneScreens.Of(To)} shows."
        );

    // Whose recovery it has shows only once it is there.
    private PhoneMode[] Places =>
        To.IsRecovery() ? [To, To == PhoneMode.StockRecovery ? PhoneMode.CustomRecovery : PhoneMode.StockRecovery] : [To];

    private bool IsThere(PhoneMode mode) => Places.Contains(mode);

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => new(Minutes * 60, Minutes * 60 * SlowTimes);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        var state = now;
        var known = KnownAs(scene.PhoneAt(now));
        var route = Places
            .Select(place => Router.Best(known, scene.Twin.Model, now.Mode, place, scene.Catalogue))
            .FirstOrDefault(way => way is not null);
        // Hands look at what shows after each way, and go on from there.
        for (var ways = 0; ways < MaxWays && !IsThere(state.Mode) && route?.Next.GetValueOrDefault(state.Mode) is { } way; ways++)
        {
            var run = Junctra.Core.Twin.Hands.Play(scene.Twin, state, way.Score, TwinScene.Computer);
            foreach (var happening in run.Events)
                yield return happening;
            state = run.End;
        }
    }
}
