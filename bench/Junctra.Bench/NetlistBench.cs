using System.Diagnostics;
using System.Text;
using Junctra.Formats.Boards;
using Junctra.Formats.CatalogueFiles;

namespace Junctra.Bench;

/// <summary>A board's netlist of 20,000 records, against reading the same lines and nothing else.</summary>
internal static class NetlistBench
{
    private const int Records = 20_000,
        Rounds = 15;
    private const double MaxMilliseconds = 200;

    public static IReadOnlyList<BenchRow> Run(string root)
    {
        var board = CatalogueReader.Read(Path.Combine(root, "catalogue")).Boards[0].Board;
        // The same board again and again, its parts called anew.
        var pads = Enumerable
            .Range(0, Records)
            .Select(i => board.Pads[i % board.Pads.Count] with { Part = $"U{i / board.Pads.Count}" })
            .ToList();
        var text = new StringWriter();
        NetlistWriter.Write(board with { Pads = pads }, text);
        var bytes = Encoding.ASCII.GetBytes(text.ToString());
        // The first rounds bring it to where it is in a program that has run for a while.
        for (var warm = 0; warm < 5; warm++)
            if (NetlistReader.Read(new MemoryStream(bytes)).Pads.Count != Records || Lines(bytes) < Records)
                throw new InvalidOperationException("The netlist was not read whole.");
        var (ours, plain) = (new List<double>(), new List<double>());
        var before = GC.GetTotalAllocatedBytes(true);
        NetlistReader.Read(new MemoryStream(bytes));
        var allocated = GC.GetTotalAllocatedBytes(true) - before;
        for (var round = 0; round < Rounds; round++)
        {
            ours.Add(Timed(() => NetlistReader.Read(new MemoryStream(bytes))));
            plain.Add(Timed(() => Lines(bytes)));
        }

        var (median, high, lines) = (BenchRow.Median(ours), ours.Max(), BenchRow.Median(plain));
        return
        [
            new BenchRow(
                $"read a netlist of {Records:N0} records, {bytes.Length / 1e6:0.0} MB; {allocated / 1e6:0} MB allocated",
                "its lines alone",
                $"{median:0.0} ms",
                $"{lines:0.0} ms",
                $"slowest of {Rounds} {high:0.0} ms",
                $"at most {MaxMilliseconds:0} ms",
                high <= MaxMilliseconds
            ),
        ];
    }

    private static int Lines(byte[] bytes)
    {
        using var reader = new StreamReader(new MemoryStream(bytes), Encoding.ASCII);
        var count = 0;
        while (reader.ReadLine() is not null)
            count++;
        return count;
    }

    private static double Timed(Action act)
    {
        var watch = Stopwatch.StartNew();
        act();
        return watch.Elapsed.TotalMilliseconds;
    }
}
