using System.Text;
using Junctra.Core.Boards;

namespace Junctra.Formats.Boards;

/// <summary>
/// <para>
/// Reads netlists of bare boards in the open form IPC-D-356, and its revision A: parameters (units, job, aliases of long net names),
/// through-hole and surface pads (<c>317</c>, <c>327</c>), tooling holes (<c>367</c>), continued records (<c>017</c>, <c>027</c>) and the
/// board's edge (<c>389</c>, <c>089</c>). Records of conductors and adjacency are passed over: nothing here asks for them.
/// </para>
/// <para>
/// A stranger's file ends in findings with their lines, never in an exception: what cannot be read is left out, the rest is there. Memory
/// is bounded by <see cref="MaxRecords"/> and <see cref="MaxLine"/>.
/// </para>
/// </summary>
public static class NetlistReader
{
    /// <summary>Most access points of a board.</summary>
    public const int MaxRecords = 200_000;

    /// <summary>Longest line, in characters; the form has 80.</summary>
    public const int MaxLine = 512;

    /// <summary>Most findings that are told; more are counted in the last one.</summary>
    public const int MaxFindings = 100;

    // What six digits of the larger unit come to: 100 inches.
    internal const long MaxNanometres = 2_540_000_000;

    /// <summary>Reads a file.</summary>
    public static Netlist Read(Stream from)
    {
        using var text = new StreamReader(from, Encoding.Latin1, leaveOpen: true);
        return Read(text);
    }

    /// <summary>Reads a text.</summary>
    public static Netlist Read(TextReader from)
    {
        var reading = new NetlistReading();
        var number = 0;
        while (!reading.IsEnded && Next(from, out var isTooLong) is { } line)
        {
            number++;
            if (isTooLong)
                reading.Find(number, $"The line is longer than {MaxLine} characters.");
            else
                reading.Take(number, line);
            if (!reading.HasRoom)
                break;
        }

        return reading.Finish(number);
    }

    private static string? Next(TextReader from, out bool isTooLong)
    {
        // A line without an end must not fill the memory.
        var line = new StringBuilder();
        isTooLong = false;
        for (var c = from.Read(); c >= 0; c = from.Read())
        {
            if (c == '\n')
                return line.ToString().TrimEnd('\r');
            if (line.Length < MaxLine)
                line.Append((char)c);
            else
                isTooLong = true;
        }

        return line.Length == 0 ? null : line.ToString().TrimEnd('\r');
    }
}
