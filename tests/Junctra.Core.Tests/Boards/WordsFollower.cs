using System.Globalization;
using System.Text.RegularExpressions;
using Junctra.Core.Boards;

namespace Junctra.Core.Tests.Boards;

/// <summary>
/// Somebody who has a board before them and follows words to a pad. It shares nothing with the program that says them but the netlist, what
/// is known of the board, and what the words mean.
/// </summary>
internal sealed partial class WordsFollower(Netlist board, BoardMap map)
{
    private sealed record Spot(string Net, int Line, double X, double Y, double W, double H, bool Bare);

    private static readonly string[] Counting = "first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth".Split(
        ' '
    );

    /// <summary>Line of the pad at which it arrives.</summary>
    public int Follow(string words)
    {
        var isBack = words.StartsWith("Back up, turned over like a page", StringComparison.Ordinal);
        Assert.True(isBack || words.StartsWith("Front up", StringComparison.Ordinal), words);
        var head = words[..words.IndexOf('.')];
        var turns =
            head.Contains("quarter turn to the right") ? 1
            : head.Contains("upside down") ? 2
            : head.Contains("quarter turn to the left") ? 3
            : 0;
        var seen = Lay(isBack, turns);
        var found = Counted().Match(words) is { Success: true } counted ? Count(seen, counted) : Measure(seen, isBack, turns, words);
        if (Sure().Match(words) is { Success: true } sure)
        {
            var (l, t, r, b) = Around(seen, Part(sure.Groups[2].Value));
            Assert.True(
                sure.Groups[1].Value switch
                {
                    "left of" => found.X < l,
                    "right of" => found.X > r,
                    "above" => found.Y < t,
                    _ => found.Y > b,
                },
                $"{words}\n{found}"
            );
        }

        return found.Line;
    }

    private string Part(string name) => map.Landmarks.Single(landmark => landmark.Name == name).Part;

    // In millimetres, x to the right and y down, as it lies.
    private List<(string Part, Spot Spot)> Lay(bool isBack, int turns) =>
        [
            .. board
                .Pads.Where(pad => pad.Kind != PadKind.Tooling)
                .Where(pad => pad.Access == 0 || pad.Access == 1 != isBack)
                .Where(pad => pad.Mask is null or 0 || pad.Mask != 3 && pad.Mask != (isBack ? 2 : 1))
                .Where(pad =>
                    !map.Shields.Any(shield =>
                        shield.Side == BoardSide.Back == isBack
                        && !shield.Lifts
                        && shield.Low.X <= pad.At.X
                        && pad.At.X <= shield.High.X
                        && shield.Low.Y <= pad.At.Y
                        && pad.At.Y <= shield.High.Y
                    ) || map.Landmarks.Any(landmark => landmark.Part == pad.Part)
                )
                .Select(pad =>
                {
                    double x = pad.At.X / 1e6,
                        y = -pad.At.Y / 1e6,
                        w = pad.Width / 1e6,
                        h = (pad.Height == 0 ? pad.Width : pad.Height) / 1e6;
                    if (isBack)
                        x = -x;
                    if (pad.Turned % 180 == 90)
                        (w, h) = (h, w);
                    for (var i = 0; i < turns; i++)
                        (x, y, w, h) = (-y, x, h, w);
                    return (pad.Part, new Spot(pad.Net, pad.Line, x, y, w, h, BareName().IsMatch(pad.Part)));
                }),
        ];

    private static (double L, double T, double R, double B) Around(IEnumerable<(string Part, Spot Spot)> seen, string part)
    {
        var its = seen.Where(one => one.Part == part).Select(one => one.Spot).ToList();
        return (its.Min(p => p.X - p.W / 2), its.Min(p => p.Y - p.H / 2), its.Max(p => p.X + p.W / 2), its.Max(p => p.Y + p.H / 2));
    }

    private Spot Count(List<(string Part, Spot Spot)> seen, Match words)
    {
        var name = words.Groups["name"].Value;
        var (l, t, r, b) = Around(seen, Part(name));
        var way = words.Groups["way"].Value;
        var far = int.Parse(words.Groups["far"].Value, CultureInfo.InvariantCulture);
        var beyond = words.Groups["beyond"].Success ? int.Parse(words.Groups["beyond"].Value, CultureInfo.InvariantCulture) : 0;
        var (row, index) = (Array.IndexOf(Counting, words.Groups["row"].Value), Array.IndexOf(Counting, words.Groups["pad"].Value));
        var isUpright = way is "Above" or "Below";
        double Away(Spot p) =>
            way switch
            {
                "Above" => t - p.Y,
                "Below" => p.Y - b,
                "Left of" => l - p.X,
                _ => p.X - r,
            };
        double Along(Spot p) => isUpright ? p.X : p.Y;
        var field = seen.Select(one => one.Spot)
            .Where(p => p.Bare && Away(p) > 0 && Away(p) < far)
            .Where(p => Along(p) > (isUpright ? l : t) - beyond && Along(p) < (isUpright ? r : b) + beyond)
            .ToList();
        // Which way rows run is said by from where they are counted.
        var rowsFromIt = words.Groups["rowfrom"].Value == name;
        Func<Spot, double> rank = rowsFromIt ? Away : Along,
            inRow = rowsFromIt ? Along : Away;
        Assert.Equal(rowsFromIt ? (isUpright ? "left" : "top") : name, words.Groups["padfrom"].Value);
        var rows = new List<List<Spot>>();
        foreach (var pad in field.OrderBy(rank))
        {
            if (rows.Count == 0 || rank(pad) - rows[^1].Max(rank) >= 0.4)
                rows.Add([]);
            rows[^1].Add(pad);
        }

        return rows[row].OrderBy(inRow).ElementAt(index);
    }

    private Spot Measure(List<(string Part, Spot Spot)> seen, bool isBack, int turns, string words)
    {
        var said = Measured().Match(words);
        Assert.True(said.Success, words);
        double l,
            t,
            r,
            b;
        if (said.Groups[3].Value.Length > 0)
            (l, t, r, b) = Around(seen, Part(said.Groups[3].Value));
        else
        {
            var corners = board
                .Outline.Select(at =>
                {
                    double x = (isBack ? -1 : 1) * at.X / 1e6,
                        y = -at.Y / 1e6;
                    for (var i = 0; i < turns; i++)
                        (x, y) = (-y, x);
                    return (X: x, Y: y);
                })
                .ToList();
            (l, t, r, b) = (corners.Min(c => c.X), corners.Min(c => c.Y), corners.Max(c => c.X), corners.Max(c => c.Y));
        }

        double Number(int group) => double.Parse(said.Groups[group].Value, CultureInfo.InvariantCulture);
        var toX = (said.Groups[2].Value == "left" ? l : r) + Number(4) * (said.Groups[5].Value == "right" ? 1 : -1);
        var toY = (said.Groups[1].Value == "upper" ? t : b) + Number(6) * (said.Groups[7].Value == "down" ? 1 : -1);
        return seen.Select(one => one.Spot).Where(p => p.Bare).MinBy(p => Math.Pow(p.X - toX, 2) + Math.Pow(p.Y - toY, 2))!;
    }

    [GeneratedRegex(
        "(?<way>Above|Below|Left of|Right of) the (?<name>[^,]+), up to (?<far>[0-9]+) mm from it(?: and up to (?<beyond>[0-9]+) mm beyond its ends)?, bare pads lie in rows[^:]*: the (?<row>\\w+) row from the (?<rowfrom>[^,]+), there the (?<pad>\\w+) pad from the (?<padfrom>[^.]+)\\."
    )]
    private static partial Regex Counted();

    [GeneratedRegex(
        "From the (upper|lower) (left|right) corner of the (?:board|(.+?)) go ([0-9.]+) mm to the (right|left) and ([0-9.]+) mm (down|up): the bare pad nearest"
    )]
    private static partial Regex Measured();

    [GeneratedRegex("It lies (left of|right of|above|below) the (.+?)\\.$")]
    private static partial Regex Sure();

    [GeneratedRegex("^TP[0-9]+$")]
    private static partial Regex BareName();
}
