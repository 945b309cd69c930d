using System.Globalization;
using Junctra.Core.Boards;

namespace Junctra.StandIns.Boards;

/// <summary>
/// An invented phone board, made by a seed: an outline with a notch, four shields with fine grids of pads under them, a gap between two of
/// them in which rows of bare pads lie, sockets and coils that people recognise, vias. About 1,200 pads; no board of anybody's.
/// </summary>
public sealed class InventedBoard
{
    private const long Micrometre = 1000,
        Millimetre = 1_000_000;

    /// <summary>The seed of the board that the demo's catalogue has.</summary>
    public const int SeedOfTheDemo = 170;

    private static readonly string[] Supplies = ["VCELL", "VSYS", "V1P8_IO", "VCORE", "VSTORE"];
    private static readonly string[] Resets = ["STORE_RST"];
    private static readonly string[] Selects = ["BOOT_SEL"];
    private const string Ground = "GND";

    private readonly Random random;
    private readonly List<BoardPad> pads = [];
    private readonly List<BoardShield> shields = [];
    private int signals,
        testPoints,
        line;

    private InventedBoard(int seed)
    {
        random = new Random(seed);
        // Not all are of one size, and not all gaps lie alike.
        var (width, height) = (Whole(32, 38), Whole(66, 78));
        var (gapLow, gapHigh) = (height * 0.44, height * 0.44 + Whole(7, 10));
        Outline = [At(0, 0), At(width, 0), At(width, height * 0.8), At(width * 0.7, height * 0.8), At(width * 0.7, height), At(0, height)];
        Shield("upper shield", BoardSide.Front, 2.5, gapHigh, width * 0.62, height * 0.92, false);
        Shield("lower shield", BoardSide.Front, 2.5, height * 0.16, width * 0.62, gapLow, false);
        Shield("shield tape", BoardSide.Front, 2.5, gapLow, width * 0.62, gapHigh, true);
        Shield("storage shield", BoardSide.Back, width * 0.3, height * 0.5, width * 0.9, height * 0.76, false);
        Shield("radio shield", BoardSide.Back, width * 0.25, height * 0.14, width * 0.85, height * 0.4, false);
        foreach (var shield in shields.Where(shield => !shield.Lifts))
            Grid(shield);
        // In the gap, seen from the front: the flex socket at its left end, the coil towards its right.
        var middle = (gapLow + gapHigh) / 2;
        Socket("J2", BoardSide.Front, 4.5, middle - 2.2, 1.2, 4.4, 22);
        Coil("L4", BoardSide.Front, width * 0.52, middle, 2.4);
        Socket("J1", BoardSide.Front, width - 4, height * 0.55, 2.2, 6, 8);
        Socket("J7", BoardSide.Front, width * 0.5, 3, 9, 1.6, 16);
        Coil("L9", BoardSide.Back, width * 0.15, height * 0.6, 3.2);
        Socket("J5", BoardSide.Back, width * 0.55, height * 0.85, 5, 1.4, 14);
        Rows(BoardSide.Front, 6.2, middle - 2.6, width * 0.46, middle + 2.6);
        Rows(BoardSide.Front, width * 0.66, height * 0.2, width - 2, height * 0.4);
        Rows(BoardSide.Front, 3, 5.5, width * 0.6, height * 0.14);
        Rows(BoardSide.Back, 2, height * 0.66, width * 0.26, height * 0.95);
        Rows(BoardSide.Back, 2, height * 0.2, width * 0.2, height * 0.5);
        Rows(BoardSide.Back, width * 0.3, height * 0.42, width * 0.9, height * 0.48);
        Vias(width, height);
        Hole(2, 2);
        Hole(width - 2, 2);
        Hole(2, height - 2);
        Roles();
        Map = new BoardMap(
            new Dictionary<NetRole, IReadOnlyList<string>>
            {
                [NetRole.StorageReset] = Resets,
                [NetRole.BootSelect] = Selects,
                [NetRole.Ground] = [Ground],
                [NetRole.Supply] = Supplies,
            },
            shields,
            [
                new("J2", "flex socket"),
                new("L4", "square coil"),
                new("J1", "battery connector"),
                new("J7", "cable socket"),
                new("L9", "large coil"),
                new("J5", "camera socket"),
            ]
        );
        Board = new Netlist($"Invented board {seed}", NetlistUnit.Micrometre, pads, Outline);
    }

    /// <summary>Makes the board of a seed; the same seed makes the same board.</summary>
    public static InventedBoard Of(int seed) => new(seed);

    /// <summary>The board.</summary>
    public Netlist Board { get; }

    /// <summary>What is known of it besides.</summary>
    public BoardMap Map { get; }

    private IReadOnlyList<BoardPoint> Outline { get; }

    private double Whole(int from, int to) => random.Next(from, to + 1);

    // On the grid of the form, a thousandth of a millimetre.
    private static BoardPoint At(double x, double y) => new(Grid(x), Grid(y));

    private static long Grid(double millimetres) => (long)Math.Round(millimetres * Millimetre / Micrometre) * Micrometre;

    private void Shield(string name, BoardSide side, double left, double low, double right, double high, bool lifts) =>
        shields.Add(new BoardShield(name, side, At(left, low), At(right, high), lifts));

    private void Add(
        PadKind kind,
        string net,
        string part,
        string pin,
        double x,
        double y,
        double width,
        double height,
        int access,
        double hole = 0
    ) =>
        pads.Add(
            new BoardPad(++line, kind, net, part, pin, At(x, y))
            {
                Width = Grid(width),
                Height = Grid(height),
                Access = access,
                Hole = Grid(hole),
                IsPlated = hole > 0 && kind == PadKind.ThroughHole,
                Mask =
                    kind == PadKind.Tooling ? null
                    : access == 0 && part == "VIA" ? 3
                    : 0,
            }
        );

    private static int Layer(BoardSide side) => side == BoardSide.Front ? 1 : 2;

    private string Signal() => string.Create(CultureInfo.InvariantCulture, $"N{++signals:0000}");

    private string Net() =>
        random.Next(100) switch
        {
            < 22 => Ground,
            < 33 => Supplies[random.Next(Supplies.Length)],
            _ => Signal(),
        };

    // The chips under a shield: fine grids, that no needle is held to.
    private void Grid(BoardShield shield)
    {
        const double pitch = 0.65;
        var (left, low) = (shield.Low.X / (double)Millimetre + 2, shield.Low.Y / (double)Millimetre + 2);
        var part = string.Create(CultureInfo.InvariantCulture, $"U{shields.IndexOf(shield) + 1}");
        for (var row = 0; row < 15; row++)
        for (var column = 0; column < 15; column++)
            Add(
                PadKind.Surface,
                Net(),
                part,
                string.Create(CultureInfo.InvariantCulture, $"{(char)('A' + row)}{column + 1}"),
                left + column * pitch,
                low + row * pitch,
                0.32,
                0,
                Layer(shield.Side)
            );
    }

    private void Socket(string part, BoardSide side, double x, double y, double width, double height, int pins)
    {
        var isUpright = height > width;
        for (var pin = 0; pin < pins; pin++)
        {
            var along = (pin / 2 + 0.5) / (pins / 2.0);
            var across = pin % 2 == 0 ? 0.0 : 1.0;
            Add(
                PadKind.Surface,
                pin < 2 ? Ground : Net(),
                part,
                string.Create(CultureInfo.InvariantCulture, $"{pin + 1}"),
                x - width / 2 + (isUpright ? across : along) * width,
                y + (isUpright ? along : across) * height - (isUpright ? 0 : height / 2),
                isUpright ? 0.6 : 0.22,
                isUpright ? 0.22 : 0.6,
                Layer(side)
            );
        }
    }

    private void Coil(string part, BoardSide side, double x, double y, double size)
    {
        foreach (var end in new[] { -1, 1 })
            Add(
                PadKind.Surface,
                end < 0 ? Signal() : Supplies[1],
                part,
                end < 0 ? "1" : "2",
                x + end * size / 2,
                y,
                0.7,
                size,
                Layer(side)
            );
    }

    // Bare pads, more or less in rows, as hands laid them out.
    private void Rows(BoardSide side, double left, double low, double right, double high)
    {
        for (var y = low; y <= high; y += 0.9 + random.NextDouble() * 0.7)
        for (var x = left + random.NextDouble(); x <= right; x += 0.9 + random.NextDouble() * 1.1)
        {
            var size = 0.4 + random.Next(0, 7) * 0.1;
            Add(
                PadKind.Surface,
                Net(),
                string.Create(CultureInfo.InvariantCulture, $"TP{++testPoints}"),
                "1",
                x,
                y + (random.Next(6) == 0 ? 0.2 : 0.06) * (random.NextDouble() - 0.5),
                size,
                0,
                Layer(side)
            );
        }
    }

    private void Vias(double width, double height)
    {
        for (var i = 0; i < 90; i++)
            Add(
                PadKind.ThroughHole,
                random.Next(2) == 0 ? Ground : Signal(),
                "VIA",
                "",
                1 + random.NextDouble() * (width * 0.68),
                1 + random.NextDouble() * (height - 2),
                0.4,
                0,
                0,
                0.2
            );
    }

    private void Hole(double x, double y) => Add(PadKind.Tooling, "", "", "", x, y, 1.6, 0, 0, 1.6);

    // One to three bare pads of each wanted net on each side, wherever they came to lie: in the open, under the tape, beside a supply.
    private void Roles()
    {
        foreach (var side in Enum.GetValues<BoardSide>())
        foreach (var net in Resets.Concat(Selects))
        foreach (var _ in Enumerable.Range(0, random.Next(1, 4)))
        {
            var bare = pads.Where(pad => pad.IsTestPoint && pad.Access == Layer(side) && !Resets.Concat(Selects).Contains(pad.Net))
                .ToList();
            var taken = bare[random.Next(bare.Count)];
            pads[pads.IndexOf(taken)] = taken with { Net = net };
        }

        // And one under a shield, where only the chip itself is.
        var chip = pads.FindIndex(pad => pad.Part == "U4");
        pads[chip + 60] = pads[chip + 60] with { Net = Resets[0] };
    }
}
