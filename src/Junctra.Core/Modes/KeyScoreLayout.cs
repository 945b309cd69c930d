namespace Junctra.Core.Modes;

/// <summary>A bar of the drawn score.</summary>
public sealed record DrawnBar(double X, double Y, double Width, double Height, string Label, bool IsCable, bool LabelInside);

/// <summary>A stave of the drawn score.</summary>
public sealed record DrawnStave(double Y, string Name);

/// <summary>A moment on the drawn score; the label's place is chosen so that no two overlap.</summary>
public sealed record DrawnMark(double X, double LabelX, double LabelY, string Label);

/// <summary>
/// Geometry of a key score, in drawing units. One second has the same width on the whole score; labels that do not fit
/// their bar go beside it, and labels of marks take rows of their own until none overlap.
/// </summary>
/// <param name="Width">Width of the drawing.</param>
/// <param name="Height">Height of the drawing.</param>
/// <param name="Left">Where second 0 lies.</param>
/// <param name="UnitsPerSecond">Width of one second.</param>
/// <param name="StaveBottom">Where the staves end and the labels of marks begin.</param>
/// <param name="Staves">Staves, top down.</param>
/// <param name="Bars">Bars.</param>
/// <param name="Marks">Marks.</param>
/// <param name="Ticks">Seconds that carry a number.</param>
public sealed record KeyScoreLayout(
    double Width, double Height, double Left, double UnitsPerSecond, double StaveBottom,
    IReadOnlyList<DrawnStave> Staves, IReadOnlyList<DrawnBar> Bars, IReadOnlyList<DrawnMark> Marks, IReadOnlyList<int> Ticks)
{
    private const double LabelColumn = 120;
    private const double RightMargin = 24;
    private const double Top = 30;
    private const double RowHeight = 40;
    private const double BarHeight = 28;
    private const double MarkRow = 22;

    /// <summary>Average width of a letter at the drawing's text size of 13 units; on the safe side.</summary>
    private const double LetterWidth = 7.6;

    /// <summary>Lays out a recipe.</summary>
    /// <param name="family">The family, for its staves.</param>
    /// <param name="recipe">The recipe.</param>
    /// <param name="width">Width of the drawing in units, at least 400.</param>
    /// <exception cref="ArgumentOutOfRangeException">The width is below 400.</exception>
    public static KeyScoreLayout Of(KeyFamily family, KeyRecipe recipe, double width)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(width, 400);
        var perSecond = (width - LabelColumn - RightMargin) / recipe.LengthSeconds;
        var staves = family.Staves.Select((stave, i) => new DrawnStave(Top + i * RowHeight + RowHeight / 2, stave.Name)).ToList();
        var bottom = Top + family.Staves.Count * RowHeight;

        var bars = recipe.Bars.Select(bar =>
        {
            var row = family.Staves.ToList().FindIndex(stave => stave.Id == bar.StaveId);
            var barWidth = (bar.ToSeconds - bar.FromSeconds) * perSecond;
            return new DrawnBar(
                LabelColumn + bar.FromSeconds * perSecond, staves[row].Y - BarHeight / 2, barWidth, BarHeight,
                bar.Label, bar.StaveId == "cable", bar.Label.Length * LetterWidth + 16 <= barWidth);
        }).ToList();

        var marks = PlaceMarks(recipe, perSecond, width, bottom);
        var every = recipe.LengthSeconds > 15 ? 2 : 1;
        var ticks = Enumerable.Range(0, (int)recipe.LengthSeconds + 1).Where(second => second % every == 0).ToList();
        var height = marks.Count > 0 ? marks.Max(mark => mark.LabelY) + 10 : bottom + 10;
        return new KeyScoreLayout(width, height, LabelColumn, perSecond, bottom, staves, bars, marks, ticks);
    }

    private static List<DrawnMark> PlaceMarks(KeyRecipe recipe, double perSecond, double width, double bottom)
    {
        var rowEnds = new List<double>();
        var marks = new List<DrawnMark>();
        foreach (var mark in recipe.Marks.OrderBy(mark => mark.AtSeconds))
        {
            var x = LabelColumn + mark.AtSeconds * perSecond;
            var half = mark.Screen.Length * LetterWidth / 2;
            var centre = Math.Clamp(x, half, Math.Max(half, width - half));
            var row = rowEnds.FindIndex(end => end + 12 <= centre - half);
            if (row < 0)
            {
                row = rowEnds.Count;
                rowEnds.Add(0);
            }

            rowEnds[row] = centre + half;
            marks.Add(new DrawnMark(x, centre, bottom + 18 + row * MarkRow, mark.Screen));
        }

        return marks;
    }
}
