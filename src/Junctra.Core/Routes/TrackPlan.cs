using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Routes;

/// <summary>A mode on the drawn track plan.</summary>
/// <param name="Mode">The mode.</param>
/// <param name="X">Its place.</param>
/// <param name="Y">Its place.</param>
/// <param name="Lines">Its name, in one line or two, drawn above it.</param>
/// <param name="OnRoute">Whether the route passes it.</param>
public sealed record TrackNode(PhoneMode Mode, double X, double Y, IReadOnlyList<string> Lines, bool OnRoute);

/// <summary>A way on the drawn track plan: level at the height of its beginning, then up to the line that it joins.</summary>
/// <param name="Way">The way.</param>
/// <param name="FromX">Where it begins.</param>
/// <param name="FromY">Where it begins.</param>
/// <param name="ToX">Where it ends.</param>
/// <param name="ToY">Where it ends, at or above its beginning.</param>
/// <param name="OnRoute">Whether it is part of the route.</param>
/// <param name="Label">What it takes, drawn below a way of the route; empty on others.</param>
/// <param name="LabelX">Middle of the label.</param>
/// <param name="LabelY">Base line of the label.</param>
public sealed record TrackWay(
    Way Way,
    double FromX,
    double FromY,
    double ToX,
    double ToY,
    bool OnRoute,
    string Label,
    double LabelX,
    double LabelY
);

/// <summary>
/// The track plan of a phone: the route as a straight line, and from every other mode in which the phone may find itself the
/// way that goes on from there. Those ways are a tree that grows from the wanted mode, so that it can be drawn without any crossing: every
/// branch has rows of its own.
/// </summary>
/// <param name="Width">Width of the drawing in units.</param>
/// <param name="Height">Height of the drawing.</param>
/// <param name="Nodes">Modes.</param>
/// <param name="Ways">Ways.</param>
public sealed record TrackPlan(double Width, double Height, IReadOnlyList<TrackNode> Nodes, IReadOnlyList<TrackWay> Ways)
{
    /// <summary>Radius of a mode.</summary>
    public const double Radius = 11;

    private const double Side = 74;
    private const double RowBase = 37;
    private const double Bottom = 26;
    private const double LineHeight = 15;

    /// <summary>Width of a letter at the drawing's text size of 13 units; on the safe side.</summary>
    public const double LetterWidth = 7.2;

    private static readonly PhoneMode[] Usual = [PhoneMode.Off, PhoneMode.System, PhoneMode.StockRecovery, PhoneMode.NoCommand];

    // What passes by itself, and what nobody steers for, is shown only where the route goes through it.
    private static readonly PhoneMode[] Passing = [PhoneMode.Starting, PhoneMode.LockChange, PhoneMode.UpdateRunning, PhoneMode.Unknown];

    /// <summary>Lays out a route and what lies beside it.</summary>
    /// <param name="route">The route.</param>
    /// <param name="width">Width of the drawing in units, at least 500.</param>
    /// <exception cref="ArgumentOutOfRangeException">The width is below 500.</exception>
    public static TrackPlan Of(PlannedRoute route, double width)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(width, 500);
        var shown = Shown(route);
        var depth = shown.ToDictionary(mode => mode, mode => DepthOf(mode, route));
        var columns = Math.Max(1, depth.Values.Max());
        var step = (width - 2 * Side) / columns;
        var children = shown.Where(mode => mode != route.To).ToLookup(mode => route.Next[mode].To);
        var line = route.Legs.Select(leg => leg.From).Append(route.To).ToHashSet();
        var rows = new Dictionary<PhoneMode, int>();
        var next = 0;
        PlaceRows(route.To);

        // A name must fit between its neighbours, and between the edges of the drawing; a row is as high as its longest name needs.
        var names = shown.ToDictionary(mode => mode, mode => Wrap(mode.Label(), Math.Min(step, 2 * Side) - 8));
        var heights = Enumerable
            .Range(0, next)
            .Select(row => RowBase + LineHeight * shown.Where(mode => rows[mode] == row).Max(mode => names[mode].Count))
            .ToList();
        var nodes = shown
            .Select(mode => new TrackNode(
                mode,
                width - Side - depth[mode] * step,
                heights.Take(rows[mode] + 1).Sum() - Radius,
                names[mode],
                line.Contains(mode)
            ))
            .ToDictionary(node => node.Mode);
        var ways = shown.Where(mode => mode != route.To).Select(mode => Draw(route.Next[mode], nodes, line, step)).ToList();
        return new TrackPlan(
            width,
            heights.Sum() - Radius + Bottom,
            [.. nodes.Values.OrderBy(node => node.Y).ThenBy(node => node.X)],
            ways
        );

        // The branch that the route takes keeps the height of the line it joins; every further one gets rows below.
        void PlaceRows(PhoneMode mode)
        {
            rows[mode] = next;
            var branches = children[mode]
                .OrderByDescending(line.Contains)
                .ThenByDescending(child => depth.Values.Max() - child.Label().Length * 0.001)
                .ToList();
            if (branches.Count == 0)
                next++;
            foreach (var branch in branches)
                PlaceRows(branch);
        }
    }

    private static TrackWay Draw(Way way, Dictionary<PhoneMode, TrackNode> nodes, HashSet<PhoneMode> line, double step)
    {
        var (from, to) = (nodes[way.From], nodes[way.To]);
        var onRoute = line.Contains(way.From) && line.Contains(way.To);
        var label = onRoute ? Minutes(way.Minutes) : "";
        return new TrackWay(way, from.X, from.Y, to.X, to.Y, onRoute, label, (from.X + to.X) / 2, from.Y + 20);
    }

    /// <summary>Minutes as they are said: seconds below one.</summary>
    public static string Minutes(double minutes) =>
        minutes < 0.95
            ? $"{Math.Max(5, Math.Round(minutes * 12) * 5):0} s"
            : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{minutes:0.#} min");

    /// <summary>The modes worth showing: the route, where its steps may end up instead, and those that every phone knows.</summary>
    private static List<PhoneMode> Shown(PlannedRoute route)
    {
        var wanted = new List<PhoneMode> { route.From, route.To };
        foreach (var leg in route.Legs)
        {
            wanted.Add(leg.FailsTo);
            wanted.AddRange(leg.Score.Wrong.Select(sign => sign.Is));
        }

        wanted.AddRange(Usual.Where(route.Reachable.Contains));
        var shown = new List<PhoneMode>();
        foreach (var mode in wanted.Where(mode => mode == route.From || mode == route.To || !Passing.Contains(mode)))
        {
            if (Line(mode, route) is { } line)
                shown.AddRange(line.Where(at => !shown.Contains(at)));
        }

        return shown;
    }

    private static int DepthOf(PhoneMode mode, PlannedRoute route) => Line(mode, route)!.Count - 1;

    /// <summary>The modes from one to the wanted one, both included; null where no way leads on.</summary>
    private static List<PhoneMode>? Line(PhoneMode mode, PlannedRoute route)
    {
        List<PhoneMode> line = [mode];
        while (line[^1] != route.To)
        {
            if (!route.Next.TryGetValue(line[^1], out var way) || line.Contains(way.To))
                return null;
            line.Add(way.To);
        }

        return line;
    }

    private static List<string> Wrap(string text, double width)
    {
        if (text.Length * LetterWidth <= width)
            return [text];
        var words = text.Split(' ');
        var lines = new List<string> { "" };
        foreach (var word in words)
        {
            if (lines[^1].Length > 0 && (lines[^1].Length + 1 + word.Length) * LetterWidth > width)
                lines.Add("");
            lines[^1] = lines[^1].Length == 0 ? word : lines[^1] + " " + word;
        }

        return lines;
    }

    /// <summary>Base line of a line of a mode's name.</summary>
    public static double LabelY(TrackNode node, int line) => node.Y - Radius - 8 - (node.Lines.Count - 1 - line) * LineHeight;
}
