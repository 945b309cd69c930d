using Junctra.Core.Catalogue;

namespace Junctra.Core.Routes;

/// <summary>A key, the socket or the battery on the drawn phone.</summary>
/// <param name="Stave">What it is.</param>
/// <param name="X">Left edge of its picture.</param>
/// <param name="Y">Upper edge.</param>
/// <param name="Width">Width.</param>
/// <param name="Height">Height.</param>
/// <param name="LabelX">Where its name stands.</param>
/// <param name="LabelY">Base line of its name.</param>
/// <param name="Anchor">How the name lies to that place: <c>start</c>, <c>middle</c> or <c>end</c>.</param>
/// <param name="Finger">Which finger presses it; empty where the other hand has it.</param>
public sealed record SketchPart(
    Stave Stave,
    double X,
    double Y,
    double Width,
    double Height,
    double LabelX,
    double LabelY,
    string Anchor,
    string Finger
);

/// <summary>
/// A phone drawn with its keys where they lie. Whoever is right-handed holds it in the left hand, the thumb on its left edge,
/// and moves the cable with the right; left-handed people the other way round.
/// </summary>
/// <param name="Width">Width of the drawing.</param>
/// <param name="Height">Height of the drawing.</param>
/// <param name="Body">The body: x, y, width and height.</param>
/// <param name="Screen">The screen: x, y, width and height.</param>
/// <param name="Parts">Keys, socket and battery.</param>
public sealed record PhoneSketch(
    double Width,
    double Height,
    (double X, double Y, double W, double H) Body,
    (double X, double Y, double W, double H) Screen,
    IReadOnlyList<SketchPart> Parts
)
{
    private const double Margin = 106,
        Top = 12,
        KeyLong = 32,
        KeyThick = 8,
        MinGap = 34;

    /// <summary>Lays out a family's phone.</summary>
    /// <param name="family">The family.</param>
    /// <param name="leftHanded">Whether it is held in the right hand.</param>
    /// <param name="large">Whether its screen must be readable.</param>
    public static PhoneSketch Of(KeyFamily family, bool leftHanded, bool large = false)
    {
        var (bodyWidth, bodyHeight) = large ? (156.0, 270.0) : (112, 200);
        var hasHome = family.Staves.Any(stave => stave.Side == KeySide.Front);
        var body = (X: Margin, Y: Top, W: bodyWidth, H: bodyHeight);
        var screen = (X: Margin + 10, Y: Top + 16, W: bodyWidth - 20, H: bodyHeight - (hasHome ? 62 : 36));
        var parts = new List<SketchPart>();
        foreach (var side in family.Staves.GroupBy(stave => stave.Side))
        {
            var lastY = double.NegativeInfinity;
            foreach (var stave in side.OrderBy(stave => stave.At))
            {
                // Names must not lie on each other, even where two keys are one rocker.
                var y = Math.Max(Top + stave.At * bodyHeight, lastY + MinGap);
                lastY = y;
                if (Draw(stave, y, leftHanded, bodyWidth, bodyHeight) is { } part)
                    parts.Add(part);
            }
        }

        return new PhoneSketch(2 * Margin + bodyWidth, Top + bodyHeight + 40, body, screen, parts);
    }

    private static SketchPart? Draw(Stave stave, double y, bool leftHanded, double bodyWidth, double bodyHeight)
    {
        var (holding, thumb) = leftHanded ? ("right", KeySide.Right) : ("left", KeySide.Left);
        var finger = stave.Side == thumb ? $"{holding} thumb" : $"{holding} forefinger";
        return stave.Side switch
        {
            KeySide.Left => new SketchPart(stave, Margin - KeyThick + 1, y - KeyLong / 2, KeyThick, KeyLong, Margin - 14, y, "end", finger),
            KeySide.Right => new SketchPart(
                stave,
                Margin + bodyWidth - 1,
                y - KeyLong / 2,
                KeyThick,
                KeyLong,
                Margin + bodyWidth + 14,
                y,
                "start",
                finger
            ),
            KeySide.Front => new SketchPart(
                stave,
                Margin + bodyWidth / 2 - 24,
                Top + bodyHeight - 36,
                48,
                22,
                Margin + bodyWidth / 2,
                Top + bodyHeight - 20,
                "middle",
                $"{(leftHanded ? "left" : "right")} thumb"
            ),
            KeySide.Bottom => new SketchPart(
                stave,
                Margin + stave.At * bodyWidth - 13,
                Top + bodyHeight,
                26,
                12,
                Margin + stave.At * bodyWidth,
                Top + bodyHeight + 28,
                "middle",
                $"{(leftHanded ? "left" : "right")} hand"
            ),
            _ => null,
        };
    }
}
