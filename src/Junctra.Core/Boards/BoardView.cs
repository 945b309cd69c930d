namespace Junctra.Core.Boards;

/// <summary>A rectangle as it is seen: x to the right, y down.</summary>
public readonly record struct SeenBox(long Left, long Top, long Right, long Bottom)
{
    /// <summary>Its width.</summary>
    public long Width => Right - Left;

    /// <summary>Its height.</summary>
    public long Height => Bottom - Top;
}

/// <summary>
/// How a board lies before somebody: which side is up, and how it is turned. The back is seen after the board was turned over like a page,
/// its upper edge staying up; what was left is then right.
/// </summary>
/// <param name="Side">The side that is up.</param>
/// <param name="Turn">Quarter turns with the clock, 0 to 3.</param>
public sealed record BoardView(BoardSide Side, int Turn)
{
    /// <summary>Where a point is seen: x to the right, y down.</summary>
    public (long X, long Y) See(BoardPoint at)
    {
        var (x, y) = (Side == BoardSide.Back ? -at.X : at.X, -at.Y);
        return (Turn & 3) switch
        {
            1 => (-y, x),
            2 => (-x, -y),
            3 => (y, -x),
            _ => (x, y),
        };
    }

    /// <summary>Where a rectangle is seen.</summary>
    public SeenBox See(BoardPoint low, BoardPoint high)
    {
        var (a, b) = (See(low), See(high));
        return new(Math.Min(a.X, b.X), Math.Min(a.Y, b.Y), Math.Max(a.X, b.X), Math.Max(a.Y, b.Y));
    }

    /// <summary>Where a pad is seen.</summary>
    public SeenBox See(BoardPad pad) =>
        See(new(pad.At.X - pad.Reach.X, pad.At.Y - pad.Reach.Y), new(pad.At.X + pad.Reach.X, pad.At.Y + pad.Reach.Y));

    /// <summary>How it lies, in words.</summary>
    public string Words =>
        (Side == BoardSide.Front ? "Front up" : "Back up, turned over like a page")
        + (Turn & 3) switch
        {
            1 => ", a quarter turn to the right",
            2 => ", upside down",
            3 => ", a quarter turn to the left",
            _ => "",
        };
}
