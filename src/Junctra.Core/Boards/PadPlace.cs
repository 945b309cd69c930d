using System.Globalization;

namespace Junctra.Core.Boards;

/// <summary>
/// <para>
/// Says in words where a pad lies, so that somebody with the board before them finds it (specification: section 12 of the job). Counted are
/// bare pads for probes that lie open on that side; nothing else looks like them.
/// </para>
/// <para>
/// The first way: above, below, left of or right of a landmark, within its own width (or up to so many millimetres beyond its ends) and up
/// to so many millimetres from it, bare pads lie in rows, across the way from it or leading away from it. A row are pads of which each lies
/// less than
/// <see cref="SameRow"/> beside the one before. Said are the row, counted from the landmark or from the left or top, and the pad in it,
/// counted the other way. It is taken only where nobody can count otherwise: no pad lies within <see cref="Clear"/> of what would make it
/// another row or another order, and none lies half in and half out of what is looked at. The second way, where the first fails for every
/// landmark: so far to the right and so far down from a corner of a landmark, or of the board; the bare pad nearest to that point is the
/// one.
/// </para>
/// <para>Last stands a second landmark, to make sure: the pad lies left of, right of, above or below it.</para>
/// </summary>
public sealed class PadPlace
{
    /// <summary>Pads whose distances differ by less are of one row.</summary>
    public const long SameRow = 400_000;

    /// <summary>What differs by less nobody tells apart by eye.</summary>
    public const long Clear = 150_000;

    private const long Millimetre = 1_000_000,
        MaxWiden = 8 * Millimetre,
        MaxAway = 14 * Millimetre;

    private const int MaxRow = 6,
        MaxPad = 12;

    private static readonly string[] Ordinals =
    [
        "first",
        "second",
        "third",
        "fourth",
        "fifth",
        "sixth",
        "seventh",
        "eighth",
        "ninth",
        "tenth",
        "eleventh",
        "twelfth",
    ];

    private readonly BoardView view;
    private readonly List<(BoardPad Pad, long X, long Y)> bare;
    private readonly List<(string Name, SeenBox Box)> landmarks;
    private readonly SeenBox board;

    /// <summary>Looks at a board.</summary>
    /// <param name="netlist">The board.</param>
    /// <param name="map">What is known of it besides.</param>
    /// <param name="view">How it lies.</param>
    public PadPlace(Netlist netlist, BoardMap map, BoardView view)
    {
        this.view = view;
        var back = netlist.BackLayer;
        bare =
        [
            .. netlist
                .Pads.Where(pad => pad.IsTestPoint && pad.IsOpenTo(view.Side, back) && map.Over(pad, view.Side) is null)
                .Select(pad => (pad, view.See(pad.At).X, view.See(pad.At).Y)),
        ];
        landmarks =
        [
            .. map
                .Landmarks.Select(landmark => (landmark.Name, Box: BoxOf(netlist, landmark.Part, view, back)))
                .Where(one => one.Box is not null)
                .Select(one => (one.Name, one.Box!.Value)),
        ];
        var (low, high) = netlist.Bounds;
        board = view.See(low, high);
    }

    /// <summary>Where a landmark is seen; null where it has no pads on that side.</summary>
    public static SeenBox? BoxOf(Netlist netlist, string part, BoardView view, int back)
    {
        var boxes = netlist.Pads.Where(pad => pad.Part == part && pad.IsOpenTo(view.Side, back)).Select(view.See).ToList();
        return boxes.Count == 0
            ? null
            : new(boxes.Min(box => box.Left), boxes.Min(box => box.Top), boxes.Max(box => box.Right), boxes.Max(box => box.Bottom));
    }

    /// <summary>Where a pad lies, in words; how the board lies comes first.</summary>
    public Place Of(BoardPad pad)
    {
        var (x, y) = view.See(pad.At);
        var counted = Fields().Select(field => Counted(field, pad)).OfType<Place>().MinBy(place => place.Effort);
        var place = counted ?? Measured(x, y);
        var sure = landmarks
            .Where(landmark => landmark.Name != place.Landmark)
            .Select(landmark => (landmark.Name, Way: Beside(landmark.Box, x, y), Far: Distance(landmark.Box, x, y)))
            .Where(one => one.Way is not null)
            .OrderBy(one => one.Far)
            .FirstOrDefault();
        return place with
        {
            Text = $"{view.Words}. {place.Text}" + (sure.Name is null ? "" : $" It lies {Word(sure.Way!.Value)} the {sure.Name}."),
        };
    }

    private enum Direction
    {
        Above,
        Below,
        LeftOf,
        RightOf,
    }

    private static string Word(Direction way) =>
        way switch
        {
            Direction.Above => "above",
            Direction.Below => "below",
            Direction.LeftOf => "left of",
            _ => "right of",
        };

    /// <summary>A field of bare pads beside a landmark, as far as it is looked at, and how its rows run.</summary>
    private sealed record Field(string Name, SeenBox Box, Direction Way, long Beyond, bool RowsLeadAway);

    private static readonly long[] Wider = [.. Enumerable.Range(0, 7).Select(beyond => beyond * Millimetre)];
    private static readonly bool[] Ways = [false, true];

    private IEnumerable<Field> Fields() =>
        from landmark in landmarks
        from way in Enum.GetValues<Direction>()
        from beyond in Wider
        from leadAway in Ways
        select new Field(landmark.Name, landmark.Box, way, beyond, leadAway);

    private Place? Counted(Field field, BoardPad pad)
    {
        var (box, way) = (field.Box, field.Way);
        var isUpright = way is Direction.Above or Direction.Below;
        // How far away from the landmark, and how far along it.
        (long Away, long Along) Seen(long x, long y) =>
            way switch
            {
                Direction.Above => (box.Top - y, x),
                Direction.Below => (y - box.Bottom, x),
                Direction.LeftOf => (box.Left - x, y),
                _ => (x - box.Right, y),
            };
        var (from, to) = isUpright ? (box.Left, box.Right) : (box.Top, box.Bottom);
        (from, to) = (from - field.Beyond, to + field.Beyond);
        var seen = bare.Select(one => (one.Pad, At: Seen(one.X, one.Y))).Where(one => one.At.Away > -Millimetre).ToList();
        var mine = seen.FirstOrDefault(one => one.Pad == pad);
        if (mine.Pad is null || mine.At.Along < from || mine.At.Along > to || mine.At.Away > MaxAway)
            return null;
        // As far as the first whole millimetre behind it on which no pad lies: what is looked at must be plain to every eye.
        long Half(BoardPad one) => Math.Max(one.Reach.X, one.Reach.Y) + Clear;
        var limit = ((mine.At.Away + Half(pad)) / Millimetre + 1) * Millimetre;
        var last = limit + MaxWiden;
        var within = seen.Where(one => one.At.Along > from - Half(one.Pad) && one.At.Along < to + Half(one.Pad)).ToList();
        while (limit < last && within.Exists(one => Math.Abs(one.At.Away - limit) < Half(one.Pad)))
            limit += Millimetre;
        var near = within.Where(one => one.At.Away < limit).ToList();
        if (
            limit == last
            || near.Exists(one =>
                Math.Abs(one.At.Along - from) < Half(one.Pad) || Math.Abs(one.At.Along - to) < Half(one.Pad) || one.At.Away < Half(one.Pad)
            )
        )
            return null;

        // Rows lie across the way from the landmark, or lead away from it.
        long Rank((long Away, long Along) at) => field.RowsLeadAway ? at.Along : at.Away;
        long InRow((long Away, long Along) at) => field.RowsLeadAway ? at.Away : at.Along;
        var all = near.OrderBy(one => Rank(one.At)).ToList();
        var (row, inRow, isPast) = (-1, new List<(BoardPad Pad, (long Away, long Along) At)>(), false);
        for (var i = 0; i < all.Count && !isPast; i++)
        {
            var step = i == 0 ? long.MaxValue : Rank(all[i].At) - Rank(all[i - 1].At);
            // Up to the end of its row, nobody must be able to count otherwise.
            if (Math.Abs(step - SameRow) < Clear)
                return null;
            if (step >= SameRow)
            {
                isPast = inRow.Exists(one => one.Pad == pad);
                if (isPast)
                    break;
                row++;
                inRow.Clear();
            }

            inRow.Add(all[i]);
        }

        inRow = [.. inRow.OrderBy(one => InRow(one.At))];
        var index = inRow.FindIndex(one => one.Pad == pad);
        if (row >= MaxRow || index >= MaxPad || inRow.Zip(inRow.Skip(1)).Any(two => InRow(two.Second.At) - InRow(two.First.At) < Clear))
            return null;
        var side = isUpright ? "left" : "top";
        var (rowFrom, padFrom) = field.RowsLeadAway
            ? ($"from the {side}", $"from the {field.Name}")
            : ($"from the {field.Name}", $"from the {side}");
        var text =
            $"{Sentence(Word(way))} the {field.Name}, up to {limit / Millimetre} mm from it{(field.Beyond > 0 ? $" and up to {field.Beyond / Millimetre} mm beyond its ends" : "")}, bare pads lie in rows{(field.RowsLeadAway ? " that lead away from it" : "")}: the {Ordinals[row]} row {rowFrom}, there the {Ordinals[index]} pad {padFrom}.";
        return new Place(text, field.Name, box, row * 2 + index + mine.At.Away / 3e6 + field.Beyond / 1e6);
    }

    private static string Sentence(string words) => char.ToUpperInvariant(words[0]) + words[1..];

    private Place Measured(long x, long y)
    {
        // From the corner that is nearest, of anything; where two pads lie as near to what is said, another corner says it better.
        var corners = landmarks
            .Select(landmark => (Name: $"the {landmark.Name}", landmark.Box, Mark: landmark.Name))
            .Append((Name: "the board", Box: board, Mark: ""))
            .SelectMany(one =>
                new[]
                {
                    (one.Box.Left, one.Box.Top, "upper left"),
                    (one.Box.Right, one.Box.Top, "upper right"),
                    (one.Box.Left, one.Box.Bottom, "lower left"),
                    (one.Box.Right, one.Box.Bottom, "lower right"),
                }.Select(corner => (one.Name, one.Box, one.Mark, X: corner.Item1, Y: corner.Item2, Corner: corner.Item3))
            )
            .OrderBy(corner => Math.Abs(corner.X - x) + Math.Abs(corner.Y - y))
            .ToList();
        var best = corners.FirstOrDefault(corner => IsClear(corner.X, corner.Y, x, y), corners[0]);
        var (across, down) = (Tenths(x - best.X), Tenths(y - best.Y));
        var text =
            $"From the {best.Corner} corner of {best.Name} go {Far(across, "to the right", "to the left")} and {Far(down, "down", "up")}: the bare pad nearest to that point.";
        return new Place(text, best.Mark, best.Box, double.MaxValue);

        bool IsClear(long fromX, long fromY, long x, long y)
        {
            var (saidX, saidY) = (fromX + Tenths(x - fromX) * 100_000, fromY + Tenths(y - fromY) * 100_000);
            var far = bare.Select(pad => Math.Sqrt(Math.Pow(pad.X - saidX, 2) + Math.Pow(pad.Y - saidY, 2))).Order().Take(2).ToList();
            return far.Count < 2 || far[1] - far[0] >= Clear;
        }
    }

    private static long Tenths(long nanometres) => (long)Math.Round(nanometres / 1e5, MidpointRounding.AwayFromZero);

    private static string Far(long tenths, string more, string less) =>
        string.Create(CultureInfo.InvariantCulture, $"{Math.Abs(tenths) / 10.0:0.0} mm {(tenths >= 0 ? more : less)}");

    private static Direction? Beside(SeenBox box, long x, long y)
    {
        var (across, down) = (Math.Max(box.Left - x, x - box.Right), Math.Max(box.Top - y, y - box.Bottom));
        // Said only where it is plain: clear of the landmark, and far more beside it than askew.
        return Math.Max(across, down) < Clear || Math.Abs(Math.Max(0, across) - Math.Max(0, down)) < Clear ? null
            : across > down ? (x < box.Left ? Direction.LeftOf : Direction.RightOf)
            : y < box.Top ? Direction.Above
            : Direction.Below;
    }

    private static double Distance(SeenBox box, long x, long y) =>
        Math.Sqrt(
            Math.Pow(Math.Max(0, Math.Max(box.Left - x, x - box.Right)), 2)
                + Math.Pow(Math.Max(0, Math.Max(box.Top - y, y - box.Bottom)), 2)
        );
}

/// <summary>Where a pad lies.</summary>
/// <param name="Text">The same in words.</param>
/// <param name="Landmark">The landmark that it is told from; empty for the board's corner.</param>
/// <param name="From">Where that is seen.</param>
/// <param name="Effort">How hard it is to follow: what is nearer and counted shorter is less.</param>
public sealed record Place(string Text, string Landmark, SeenBox From, double Effort);
