using System.Globalization;
using Junctra.Core.Boards;

namespace Junctra.Formats.Boards;

/// <summary>Writes netlists in the open form IPC-D-356A, as <see cref="NetlistReader"/> reads them.</summary>
public static class NetlistWriter
{
    private const int MaxName = 14,
        MaxPart = 6,
        MaxPin = 4,
        PointsInALine = 3;

    /// <summary>Writes a board.</summary>
    /// <param name="board">The board; lengths must be whole in its unit.</param>
    /// <param name="to">Where to.</param>
    /// <exception cref="ArgumentException">A name or number does not fit into its field.</exception>
    public static void Write(Netlist board, TextWriter to)
    {
        to.NewLine = "\n";
        long nanometres = board.Unit == NetlistUnit.Micrometre ? 1000 : 2540;
        to.WriteLine("C  A netlist of a bare board.");
        if (board.Job.Length > 0)
            to.WriteLine($"P  JOB   {board.Job}");
        to.WriteLine("P  VER   IPC-D-356A");
        to.WriteLine($"P  UNITS CUST {(board.Unit == NetlistUnit.Micrometre ? 1 : 0)}");
        var aliases = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var net in board.Pads.Select(pad => pad.Net).Where(net => net.Length > MaxName).Distinct())
        {
            aliases[net] = string.Create(CultureInfo.InvariantCulture, $"NNAME{aliases.Count + 1}");
            to.WriteLine($"P  {aliases[net]}  {net}");
        }

        for (var at = 0; at < board.Outline.Count; at += PointsInALine)
            to.WriteLine(
                (at == 0 ? "389BOARD_EDGE    " : "089              ")
                    + string.Join(' ', board.Outline.Skip(at).Take(PointsInALine).Select(point => $"X{Signed(point.X)}Y{Signed(point.Y)}"))
            );
        foreach (var pad in board.Pads)
            to.WriteLine(Record(pad));
        to.WriteLine("999");

        string Record(BoardPad pad)
        {
            var line = new char[80];
            Array.Fill(line, ' ');
            Put(
                1,
                3,
                pad.Kind switch
                {
                    PadKind.Surface => "327",
                    PadKind.Tooling => "367",
                    _ => "317",
                }
            );
            Put(4, 17, pad.Net.Length == 0 ? "N/C" : aliases.GetValueOrDefault(pad.Net, pad.Net));
            Put(21, 20 + MaxPart, pad.Part);
            if (pad.Pin.Length > 0)
            {
                Put(27, 27, "-");
                Put(28, 27 + MaxPin, pad.Pin);
            }

            if (pad.IsMidpoint)
                Put(32, 32, "M");
            if (pad.Hole > 0)
            {
                Put(33, 37, $"D{Number(pad.Hole, 4)}");
                Put(38, 38, pad.IsPlated ? "P" : "U");
            }

            Put(39, 41, string.Create(CultureInfo.InvariantCulture, $"A{pad.Access:00}"));
            Put(42, 49, $"X{Signed(pad.At.X)}");
            Put(50, 57, $"Y{Signed(pad.At.Y)}");
            Put(58, 62, $"X{Number(pad.Width, 4)}");
            Put(63, 67, $"Y{Number(pad.Height, 4)}");
            Put(68, 71, string.Create(CultureInfo.InvariantCulture, $"R{pad.Turned:000}"));
            if (pad.Mask is { } mask)
                Put(73, 74, string.Create(CultureInfo.InvariantCulture, $"S{mask}"));
            return new string(line).TrimEnd();

            void Put(int from, int to, string text)
            {
                if (text.Length > to - from + 1)
                    throw new ArgumentException($"“{text}” does not fit into columns {from} to {to}.");
                text.CopyTo(0, line, from - 1, text.Length);
            }
        }

        string Signed(long value) => (value < 0 ? "-" : "+") + Number(Math.Abs(value), 6);

        string Number(long value, int digits) =>
            value % nanometres != 0 || value / nanometres >= Math.Pow(10, digits)
                ? throw new ArgumentException($"{value} nm is no whole number of {digits} digits in the unit of the file.")
                : (value / nanometres).ToString(CultureInfo.InvariantCulture).PadLeft(digits, '0');
    }
}
