using System.Globalization;

namespace Junctra.Core.Boards;

/// <summary>A pad to which a needle may be held, and how good it is for that.</summary>
/// <param name="Pad">The pad.</param>
/// <param name="Role">What its net does.</param>
/// <param name="Shield">The shield that covers it for good; null where it can be reached.</param>
/// <param name="ToSupply">Nanometres from its edge to that of the nearest supply pad that lies open; null where none does.</param>
/// <param name="ToGround">Nanometres from its edge to the nearest ground pad or shield; null where there is none.</param>
/// <param name="Size">Its smaller extent, in nanometres.</param>
public sealed record RankedPad(BoardPad Pad, NetRole Role, BoardShield? Shield, long? ToSupply, long? ToGround, long Size)
{
    /// <summary>How far it is from a supply, in bands: 2 safe, 1 near, 0 where a slip meets it.</summary>
    public int Safety =>
        ToSupply is not { } far || far >= PadRanking.Safe ? 2
        : far >= PadRanking.Near ? 1
        : 0;

    /// <summary>Whether it can be reached and a slip of the needle does not end the board.</summary>
    public bool IsOffered => Shield is null && Safety > 0;

    /// <summary>What speaks for it and against it, in short sentences, the weightiest first.</summary>
    public IReadOnlyList<string> Reasons =>
        [
            .. Shield is { } shield ? new[] { $"Under the {shield.Name}: out of reach." } : [],
            ToSupply is { } supply
                ? Safety switch
                {
                    0 => $"A supply pad is {Millimetres(supply)} away: a slip ends the board.",
                    1 => $"The nearest supply pad is {Millimetres(supply)} away: hold still.",
                    _ => $"The nearest supply pad is {Millimetres(supply)} away.",
                }
                : "No supply pad lies open on this side.",
            ToGround is { } ground ? $"Ground is {Millimetres(ground)} away." : "No ground near it: a wire to ground is needed.",
            $"{Millimetres(Size)} across.",
        ];

    /// <summary>A length for people.</summary>
    public static string Millimetres(long nanometres) => string.Create(CultureInfo.InvariantCulture, $"{nanometres / 1e6:0.0} mm");
}

/// <summary>
/// Ranks the pads to which a needle may be held (specification: section 12 of the job). First what can be reached, then by bands, so that a
/// tenth of a millimetre never outweighs what matters more: how far a supply is, whether ground is within one reach of the needle, whether
/// the pad is large enough to be met; within equal bands by the distance to the supply.
/// </summary>
public static class PadRanking
{
    /// <summary>From here on a slip does not meet a supply.</summary>
    public const long Safe = 2_000_000;

    /// <summary>Below this a slip meets it.</summary>
    public const long Near = 800_000;

    private const long GroundInReach = 4_000_000,
        GroundFar = 10_000_000,
        Large = 800_000,
        Small = 450_000;

    /// <summary>The pads of the wanted nets that are open to a side, the best first.</summary>
    public static IReadOnlyList<RankedPad> Of(Netlist board, BoardMap map, BoardSide side)
    {
        var back = board.BackLayer;
        var open = board.Pads.Where(pad => pad.Net.Length > 0 && pad.IsOpenTo(side, back)).ToList();
        // What a shield covers for good no needle slips onto.
        var supply = open.Where(pad => map.RoleOf(pad.Net) == NetRole.Supply && map.Over(pad, side) is null).ToList();
        var ground = open.Where(pad => map.RoleOf(pad.Net) == NetRole.Ground && map.Over(pad, side) is null).ToList();
        var shields = map.Shields.Where(shield => shield.Side == side && !shield.Lifts).ToList();
        return
        [
            .. open.Select(pad => (Pad: pad, Role: map.RoleOf(pad.Net)))
                .Where(one => one.Role is NetRole.StorageReset or NetRole.BootSelect)
                .Select(one => new RankedPad(
                    one.Pad,
                    one.Role!.Value,
                    map.Over(one.Pad, side),
                    Nearest(supply.Select(other => Between(one.Pad, other))),
                    Nearest(ground.Select(other => Between(one.Pad, other)).Concat(shields.Select(shield => Between(one.Pad, shield)))),
                    2 * Math.Min(one.Pad.Reach.X, one.Pad.Reach.Y)
                ))
                .OrderBy(one => one.Shield is not null)
                .ThenByDescending(one => one.Safety)
                .ThenBy(one =>
                    one.ToGround is not { } far ? 3
                    : far <= GroundInReach ? 0
                    : far <= GroundFar ? 1
                    : 2
                )
                .ThenByDescending(one =>
                    one.Size >= Large ? 2
                    : one.Size >= Small ? 1
                    : 0
                )
                .ThenBy(one => one.Role)
                .ThenByDescending(one => one.ToSupply ?? long.MaxValue)
                .ThenBy(one => one.ToGround ?? long.MaxValue)
                .ThenBy(one => one.Pad.Line),
        ];
    }

    private static long? Nearest(IEnumerable<long> distances) => distances.Select(one => (long?)one).Min();

    /// <summary>Nanometres between the edges of two pads, each taken as the rectangle around it; 0 where they touch.</summary>
    public static long Between(BoardPad one, BoardPad other) =>
        Far(Math.Abs(one.At.X - other.At.X) - one.Reach.X - other.Reach.X, Math.Abs(one.At.Y - other.At.Y) - one.Reach.Y - other.Reach.Y);

    private static long Between(BoardPad pad, BoardShield shield) =>
        Far(
            Math.Max(shield.Low.X - pad.At.X, pad.At.X - shield.High.X) - pad.Reach.X,
            Math.Max(shield.Low.Y - pad.At.Y, pad.At.Y - shield.High.Y) - pad.Reach.Y
        );

    private static long Far(long x, long y) => (long)Math.Sqrt(Math.Pow(Math.Max(0, x), 2) + Math.Pow(Math.Max(0, y), 2));
}
