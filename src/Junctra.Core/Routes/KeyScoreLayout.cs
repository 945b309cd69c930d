using Junctra.Core.Catalogue;

namespace Junctra.Core.Routes;

/// <summary>
/// A bar of the drawn score; its kind is <c>key</c>, or the id of a stave that is none. A label that is not inside stands to the right of
/// it.
/// </summary>
public sealed record DrawnBar(double X, double Y, double Width, double Height, string Label, string Kind, bool LabelInside);

/// <summary>How much earlier or later a bar may begin or end, drawn as a thin whisker.</summary>
public sealed record DrawnWhisker(double X, double Y, double Width);

/// <summary>A stave of the drawn score; its middle lies at <paramref name="Y"/>.</summary>
public sealed record DrawnStave(string Id, double Y, string Name);

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
/// <param name="Whiskers">Tolerances.</param>
/// <param name="Marks">Marks.</param>
/// <param name="Ticks">Seconds that carry a number.</param>
public sealed record KeyScoreLayout(
    double Width,
    double Height,
    double Left,
    double UnitsPerSecond,
    double StaveBottom,
    IReadOnlyList<DrawnStave> Staves,
    IReadOnlyList<DrawnBar> Bars,
    IReadOnlyList<DrawnWhisker> Whiskers,
    IReadOnlyList<DrawnMark> Marks,
    IReadOnlyList<int> Ticks
)
{
    private const double LabelColumn = 120;
    private const double RightMargin = 24;
    private const double Top = 30;
    private const double RowHeight = 40;
    private const double BarHeight = 28;
    private const double MarkRow = 22;
    private const double LabelGap = 8;

    /// <summary>Average width of a letter at the drawing's text size of 13 units; on the safe side.</summary>
    private const double LetterWidth = 7.6;

    /// <summary>Lays out a recipe; only what it uses gets a stave.</summary>
    /// <param name="family">The family, for its staves.</param>
    /// <param name="recipe">The recipe.</param>
    /// <param name="width">Width of the drawing in units, at least 400.</param>
    /// <exception cref="ArgumentOutOfRangeException">The width is below 400.</exception>
    public static KeyScoreLayout Of(KeyFamily family, KeyRecipe recipe, double width)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(width, 400);
        var perSecond = (width - LabelColumn - RightMargin) / recipe.LengthSeconds;
        var used = family
            .Staves.Select(stave => stave.Id)
            .Where(id => recipe.Bars.Any(bar => bar.StaveId == id))
            .Concat(recipe.Bars.Select(bar => bar.StaveId).Where(id => !family.Staves.Any(stave => stave.Id == id)))
            .Distinct()
            .ToList();
        var staves = used.Select((id, i) => new DrawnStave(id, Top + i * RowHeight + RowHeight / 2, family.StaveOf(id).Name)).ToList();
        var bottom = Top + used.Count * RowHeight;

        var bars = new List<DrawnBar>();
        var whiskers = new List<DrawnWhisker>();
        foreach (var bar in recipe.Bars)
        {
            var y = staves[used.IndexOf(bar.StaveId)].Y;
            var from = recipe.Usual(bar.From);
            var to = bar.Stays ? recipe.LengthSeconds : recipe.Usual(bar.To);
            var (x, barWidth) = (LabelColumn + from * perSecond, (to - from) * perSecond);
            bars.Add(
                new DrawnBar(
                    x,
                    y - BarHeight / 2,
                    barWidth,
                    BarHeight,
                    bar.Label,
                    family.StaveOf(bar.StaveId).IsKey ? "key" : bar.StaveId,
                    bar.Label.Length * LetterWidth + 2 * LabelGap <= barWidth
                )
            );
            whiskers.AddRange(
                new[] { (from, bar.Press), (to, bar.Stays ? null : bar.Release) }
                    .Where(end => end.Item2 is not null)
                    .Select(end => Whisker(end.Item1, end.Item2!, y, perSecond, recipe.LengthSeconds))
                    .Where(whisker => whisker.Width > 0.5)
            );
        }

        var marks = PlaceMarks(recipe, perSecond, width, bottom);
        var every = recipe.LengthSeconds > 15 ? 2 : 1;
        var ticks = Enumerable.Range(0, (int)recipe.LengthSeconds + 1).Where(second => second % every == 0).ToList();
        var height = marks.Count > 0 ? marks.Max(mark => mark.LabelY) + 10 : bottom + 10;
        return new KeyScoreLayout(width, height, LabelColumn, perSecond, bottom, staves, PlaceLabels(bars, width), whiskers, marks, ticks);
    }

    private static DrawnWhisker Whisker(double at, Tolerance tolerance, double y, double perSecond, double length)
    {
        var (from, to) = (Math.Max(0, at - (tolerance.EarlySeconds ?? 0)), Math.Min(length, at + (tolerance.LateSeconds ?? 0)));
        return new DrawnWhisker(LabelColumn + from * perSecond, y, (to - from) * perSecond);
    }

    /// <summary>
    /// A label that does not fit its bar goes to the right of it where there is room, and is left out where there is none: the words say it
    /// too.
    /// </summary>
    private static List<DrawnBar> PlaceLabels(List<DrawnBar> bars, double width) =>
        [.. bars.Select(bar => bar.LabelInside || bar.Label.Length == 0 || HasRoom(bar, bars, width) ? bar : bar with { Label = "" })];

    private static bool HasRoom(DrawnBar bar, List<DrawnBar> bars, double width)
    {
        var (from, to) = (bar.X + bar.Width, bar.X + bar.Width + LabelGap + bar.Label.Length * LetterWidth);
        return to <= width && !bars.Any(other => other != bar && other.Y == bar.Y && other.X < to && other.X + other.Width > from);
    }

    private static List<DrawnMark> PlaceMarks(KeyRecipe recipe, double perSecond, double width, double bottom)
    {
        var rowEnds = new List<double>();
        var marks = new List<DrawnMark>();
        foreach (var mark in recipe.Marks.OrderBy(mark => mark.AtSeconds))
        {
            var x = LabelColumn + mark.AtSeconds * perSecond;
            var half = mark.Says.Length * LetterWidth / 2;
            var centre = Math.Clamp(x, half, Math.Max(half, width - half));
            var row = rowEnds.FindIndex(end => end + 12 <= centre - half);
            if (row < 0)
            {
                row = rowEnds.Count;
                rowEnds.Add(0);
            }

            rowEnds[row] = centre + half;
            marks.Add(new DrawnMark(x, centre, bottom + 18 + row * MarkRow, mark.Says));
        }

        return marks;
    }
}
