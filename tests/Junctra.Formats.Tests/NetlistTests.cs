using System.Text;
using Junctra.Core.Boards;
using Junctra.Formats.Boards;

namespace Junctra.Formats.Tests;

/// <summary>Netlists of boards: read as others write them, written and read back, and spoilt.</summary>
public sealed class NetlistTests
{
    private static Netlist Read(string text) => NetlistReader.Read(new StringReader(text));

    // As tools of several makers write them: by columns, with fields left out, in either unit, with records continued.
    private const string Made = """
        C  Bare board
        P  JOB   Kittiwake main
        P  UNITS CUST 0
        P  NNAME1 A_NET_WITH_A_LONG_NAME
        389BOARD_EDGE    X+000000Y+000000 X+010000 Y+005000
        089              X+000000
        317GND              VIA         D0118PA00X+001000Y+002000X0236Y0000R000 S0
        327NNAME1           U1    -A12        A01X+001500Y-002000X0118Y0236R090 S2
        027                                   A01X+001700Y-002000X0118Y0236R090 S2
        327N/C              TP7   -1   M      A02X+000250Y+000300X0400
        378TRACE_OF_NO_USE  X0010 X+000000Y+000000 X+001000
        367                             D1250UA00X+009000Y+004000X1250
        999
        327LATE             U9    -1          A01X+000000Y+000000
        """;

    [Fact]
    public void Records_are_read_by_their_columns_and_nothing_after_the_end_is()
    {
        var board = Read(Made);
        Assert.Empty(board.Findings);
        Assert.True(board.IsWhole);
        Assert.Equal(("Kittiwake main", NetlistUnit.TenthMil), (board.Job, board.Unit));
        Assert.Equal([new(0, 0), new(25_400_000, 0), new(25_400_000, 12_700_000), new(0, 12_700_000)], board.Outline);
        Assert.Equal(5, board.Pads.Count);
        var via = board.Pads[0];
        Assert.Equal(
            (PadKind.ThroughHole, "GND", "VIA", "", 2_540_000L, 5_080_000L),
            (via.Kind, via.Net, via.Part, via.Pin, via.At.X, via.At.Y)
        );
        Assert.Equal((118 * 2540L, true, 236 * 2540L, 0L, 0), (via.Hole, via.IsPlated, via.Width, via.Height, via.Access));
        Assert.True(via.IsOpenTo(BoardSide.Back, 2));
        var pad = board.Pads[1];
        Assert.Equal(("A_NET_WITH_A_LONG_NAME", "U1", "A12", 1, 90), (pad.Net, pad.Part, pad.Pin, pad.Access, pad.Turned));
        Assert.Equal((236 * 1270L, 118 * 1270L), pad.Reach);
        Assert.True(pad.IsOpenTo(BoardSide.Front, 2));
        Assert.False(pad.IsOpenTo(BoardSide.Back, 2));
        // Continued: net, part and pin are those of the record before.
        Assert.Equal((pad.Net, "U1", "A12", 1700 * 2540L), (board.Pads[2].Net, board.Pads[2].Part, board.Pads[2].Pin, board.Pads[2].At.X));
        Assert.Equal(("", true, true), (board.Pads[3].Net, board.Pads[3].IsTestPoint, board.Pads[3].IsMidpoint));
        Assert.Equal(PadKind.Tooling, board.Pads[4].Kind);
    }

    [Theory]
    [InlineData("P  UNITS CUST 0", 2540)]
    [InlineData("P  UNITS CUST", 2540)]
    [InlineData("P  UNITS CUST 1", 1000)]
    [InlineData("p  units si", 1000)]
    [InlineData("P  UNITS CUST 2", 2540)]
    public void The_unit_is_the_files(string line, long nanometres) =>
        Assert.Equal(
            100 * nanometres,
            Read($"{line}\n327GND              R1    -1          A01X+000100Y+000000X0010Y0010R000 S1\n999\n").Pads.Single().At.X
        );

    [Theory]
    [InlineData("327GND              R1    -1          A01X+0001x0Y+000000\n999\n", 1, "place cannot be read")]
    [InlineData("999\n", 0, "")]
    [InlineData("327GND              R1    -1          A01X+000100Y+000000X00a0\n999\n", 1, "Columns 58 to 62")]
    [InlineData("P  UNITS FURLONG\n999\n", 1, "no unit")]
    [InlineData("027                                   A01X+000100Y+000000\n999\n", 1, "none before it")]
    [InlineData("\n\n!!!\n999\n", 3, "begins no record")]
    [InlineData("P  UNITS CUST 1\n389BOARD_EDGE    X+000000Yfoo\n999\n", 2, "edge cannot be read")]
    [InlineData("P  UNITS CUST 1\n", 1, "breaks off")]
    [InlineData("327GND              R1    -1          A01X+000100Y+000000\n999\n", 1, "does not say its unit")]
    public void What_is_wrong_is_told_with_its_line(string text, int line, string says)
    {
        var findings = Read(text).Findings;
        if (line == 0)
            Assert.Empty(findings);
        else
            Assert.Contains(findings, finding => finding.Line == line && finding.Text.Contains(says, StringComparison.Ordinal));
    }

    [Fact]
    public void A_line_without_an_end_and_more_findings_than_anybody_reads_are_bounded()
    {
        var board = Read("P  UNITS CUST 1\n" + new string('3', 5_000_000) + "\n999\n");
        Assert.Contains(board.Findings, finding => finding is { Line: 2 } && finding.Text.Contains("longer than"));
        board = Read(string.Concat(Enumerable.Repeat("???\n", 500)) + "999\n");
        Assert.Equal(NetlistReader.MaxFindings + 1, board.Findings.Count);
        Assert.Contains("400 more", board.Findings[^1].Text);
    }

    private static Netlist Random(Random random)
    {
        var unit = random.Next(2) == 0 ? NetlistUnit.Micrometre : NetlistUnit.TenthMil;
        var step = unit == NetlistUnit.Micrometre ? 1000L : 2540L;
        string Name(int max) =>
            new([.. Enumerable.Range(0, random.Next(1, max + 1)).Select(_ => "ABCDEFGHJKLMNPQRSTUVWXYZ0123456789_+."[random.Next(37)])]);
        long At() => random.Next(-999_999, 1_000_000) * step;
        BoardPad Pad(int line)
        {
            var net = random.Next(5) == 0 ? "" : Name(random.Next(4) == 0 ? 40 : 14);
            if (net.StartsWith("NNAME", StringComparison.Ordinal) || net == "N/C")
                net = "X";
            var hasPart = random.Next(6) > 0;
            return new(line, (PadKind)random.Next(3), net, hasPart ? Name(6) : "", hasPart ? Name(4) : "", new(At(), At()))
            {
                Width = random.Next(10_000) * step,
                Height = random.Next(10_000) * step,
                Turned = random.Next(360),
                Hole = random.Next(3) == 0 ? random.Next(1, 10_000) * step : 0,
                IsMidpoint = random.Next(4) == 0,
                Access = random.Next(13),
                Mask = random.Next(3) == 0 ? null : random.Next(4),
            };
        }

        return new(
            random.Next(2) == 0 ? "" : "Board 7",
            unit,
            [
                .. Enumerable
                    .Range(0, random.Next(1, 60))
                    .Select(Pad)
                    .Select(pad => pad with { IsPlated = pad.Hole > 0 && random.Next(2) == 0 }),
            ],
            [.. Enumerable.Range(0, random.Next(9)).Select(_ => new BoardPoint(At(), At()))]
        );
    }

    private static string Write(Netlist board)
    {
        using var to = new StringWriter();
        NetlistWriter.Write(board, to);
        return to.ToString();
    }

    [Fact]
    public void What_is_written_is_read_back_the_same()
    {
        var random = new Random(356);
        for (var i = 0; i < 300; i++)
        {
            var board = Random(random);
            var read = Read(Write(board));
            Assert.Empty(read.Findings);
            Assert.Equal((board.Job, board.Unit), (read.Job, read.Unit));
            Assert.Equal(board.Outline, read.Outline);
            Assert.Equal(board.Pads.Select(pad => pad with { Line = 0 }), read.Pads.Select(pad => pad with { Line = 0 }));
        }
    }

    [Fact]
    public void Spoilt_files_end_in_findings_or_in_a_board_and_never_in_an_exception()
    {
        var random = new Random(357);
        var whole = Encoding.Latin1.GetBytes(Write(Random(random)) + Made);
        for (var i = 0; i < 3000; i++)
        {
            var spoilt = whole.ToArray();
            for (var n = random.Next(1, 12); n > 0; n--)
                spoilt[random.Next(spoilt.Length)] = (byte)random.Next(256);
            if (random.Next(4) == 0)
                spoilt = spoilt[..random.Next(spoilt.Length)];
            var board = NetlistReader.Read(new MemoryStream(spoilt));
            Assert.True(board.Pads.Count <= 100);
            Assert.All(board.Findings, finding => Assert.False(string.IsNullOrWhiteSpace(finding.Text)));
            Assert.True(board.IsWhole || board.Findings.Count > 0);
        }
    }
}
