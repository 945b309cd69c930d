namespace Junctra.Core.Boards;

/// <summary>A side of a board.</summary>
public enum BoardSide
{
    /// <summary>The primary side, on which most parts stand.</summary>
    Front,

    /// <summary>The other one, seen after the board was turned over.</summary>
    Back,
}

/// <summary>What an access point of a netlist is.</summary>
public enum PadKind
{
    /// <summary>A pad of a surface part, or a bare one, on one side.</summary>
    Surface,

    /// <summary>A hole with pads on both sides.</summary>
    ThroughHole,

    /// <summary>A hole that no net goes through: for tools and screws.</summary>
    Tooling,
}

/// <summary>The unit that a netlist's numbers are in.</summary>
public enum NetlistUnit
{
    /// <summary>A thousandth of a millimetre.</summary>
    Micrometre,

    /// <summary>A ten-thousandth of an inch, 2.54 micrometres.</summary>
    TenthMil,
}

/// <summary>A point of a board, in nanometres from its file's origin; x to the right and y up, seen from the front.</summary>
public readonly record struct BoardPoint(long X, long Y);

/// <summary>A pad, as a netlist has it. Lengths are in nanometres, in which both units of the form are whole.</summary>
/// <param name="Line">Line of the file.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Net">Name of its net; empty where it is connected to nothing.</param>
/// <param name="Part">The part that it belongs to, <c>VIA</c> of a via; empty where none.</param>
/// <param name="Pin">Its pin; empty where none.</param>
/// <param name="At">Its middle.</param>
public sealed record BoardPad(int Line, PadKind Kind, string Net, string Part, string Pin, BoardPoint At)
{
    /// <summary>Width along x before it is turned; 0 where the file does not say.</summary>
    public long Width { get; init; }

    /// <summary>Height along y before it is turned; 0 where it is round, <see cref="Width"/> then being its diameter.</summary>
    public long Height { get; init; }

    /// <summary>Degrees by which it is turned, against the clock, 0 to 359.</summary>
    public int Turned { get; init; }

    /// <summary>Diameter of its hole; 0 where it has none.</summary>
    public long Hole { get; init; }

    /// <summary>Whether its hole is plated.</summary>
    public bool IsPlated { get; init; }

    /// <summary>Whether it lies in the middle of its net, and not at one of its ends.</summary>
    public bool IsMidpoint { get; init; }

    /// <summary>Layer from which it can be touched: 0 both sides, 1 the front, any other number a layer from there on.</summary>
    public int Access { get; init; }

    /// <summary>Whether the front is covered by solder mask there, the back by bit two: 0 to 3; null where the file does not say.</summary>
    public int? Mask { get; init; }

    /// <summary>Whether it is a bare pad for a probe: a part of its own named <c>TP</c> and a number.</summary>
    public bool IsTestPoint => Part.Length > 2 && Part.StartsWith("TP", StringComparison.OrdinalIgnoreCase) && char.IsAsciiDigit(Part[2]);

    /// <summary>Whether a needle reaches it from a side: it is there, and no mask covers it.</summary>
    /// <param name="side">The side.</param>
    /// <param name="backLayer">Number of the layer that is the back.</param>
    public bool IsOpenTo(BoardSide side, int backLayer) =>
        Kind != PadKind.Tooling
        && (Access == 0 || Access == (side == BoardSide.Front ? 1 : backLayer))
        && ((Mask ?? 0) & (side == BoardSide.Front ? 1 : 2)) == 0;

    /// <summary>Half of what it takes along x and y, turned as it is.</summary>
    public (long X, long Y) Reach
    {
        get
        {
            var (w, h) = (Width, Height == 0 ? Width : Height);
            return Turned % 180 is > 45 and < 135 ? (h / 2, w / 2) : (w / 2, h / 2);
        }
    }
}

/// <summary>Something in a netlist that is not as it should be.</summary>
/// <param name="Line">Line of the file, from 1.</param>
/// <param name="Text">What is wrong, in a sentence.</param>
public sealed record NetlistFinding(int Line, string Text);

/// <summary>A board as a netlist tells it.</summary>
/// <param name="Job">What the file calls the board; empty where it does not.</param>
/// <param name="Unit">The unit of the file.</param>
/// <param name="Pads">All access points, in the order of the file.</param>
/// <param name="Outline">Corners of the board's edge, in order; empty where the file has none.</param>
public sealed record Netlist(string Job, NetlistUnit Unit, IReadOnlyList<BoardPad> Pads, IReadOnlyList<BoardPoint> Outline)
{
    /// <summary>What is not as it should be; of a file that is whole none.</summary>
    public IReadOnlyList<NetlistFinding> Findings { get; init; } = [];

    /// <summary>Whether the file ends as the form says, so that nothing of it is missing.</summary>
    public bool IsWhole { get; init; } = true;

    /// <summary>Number of the layer that is the back: the highest that a pad is touched from.</summary>
    public int BackLayer => Math.Max(2, Pads.Count == 0 ? 0 : Pads.Max(pad => pad.Access));

    /// <summary>The rectangle that holds everything: lower left and upper right.</summary>
    public (BoardPoint Low, BoardPoint High) Bounds
    {
        get
        {
            var points = Outline.Count > 0 ? Outline : [.. Pads.Select(pad => pad.At)];
            return points.Count == 0
                ? default
                : (new(points.Min(p => p.X), points.Min(p => p.Y)), new(points.Max(p => p.X), points.Max(p => p.Y)));
        }
    }
}
