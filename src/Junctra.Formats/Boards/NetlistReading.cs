using System.Globalization;
using Junctra.Core;
using Junctra.Core.Boards;

namespace Junctra.Formats.Boards;

/// <summary>A netlist while it is read.</summary>
internal sealed class NetlistReading
{
    private readonly List<BoardPad> pads = [];
    private readonly List<BoardPoint> outline = [];
    private readonly List<NetlistFinding> findings = [];
    private readonly Dictionary<string, string> aliases = new(StringComparer.Ordinal);
    private string job = "";
    private NetlistUnit? unit;
    private int found;
    private bool isEdge;
    private BoardPoint last;

    /// <summary>Whether the record that ends a file was read.</summary>
    public bool IsEnded { get; private set; }

    /// <summary>Whether there is room for more.</summary>
    public bool HasRoom => pads.Count < NetlistReader.MaxRecords && outline.Count < NetlistReader.MaxRecords;

    private long Nanometres => unit == NetlistUnit.Micrometre ? 1000 : 2540;

    public void Find(int line, string text)
    {
        found++;
        if (findings.Count < NetlistReader.MaxFindings)
            findings.Add(new NetlistFinding(line, text));
    }

    public void Take(int number, string line)
    {
        if (line.Length == 0 || line[0] is 'C' or 'c' || line.AsSpan().Trim().IsEmpty)
            return;
        if (line[0] is 'P' or 'p')
        {
            Parameter(number, line[1..].Trim());
            return;
        }

        switch (line.Length < 3 ? "" : line[..3])
        {
            case "999":
                IsEnded = true;
                return;
            case "317":
            case "327":
            case "367":
            case "307":
                isEdge = false;
                Pad(number, line, isContinued: false);
                return;
            case "017":
            case "027":
                Pad(number, line, isContinued: true);
                return;
            case "389":
                // Scores and slots come in the same record; the edge alone is the board's.
                isEdge = Field(line, 4, 17).Contains("EDGE", StringComparison.OrdinalIgnoreCase);
                last = default;
                if (isEdge && outline.Count == 0)
                    Edge(number, line);
                else
                    isEdge = false;
                return;
            case "089":
                if (isEdge)
                    Edge(number, line);
                return;
            case "378":
            case "379":
            case "078":
            case "079":
            case "390":
            case "088":
            case "388":
            case "099":
                return;
            default:
                Find(number, $"“{ShownText.Of(line[..Math.Min(3, line.Length)])}” begins no record that is known.");
                return;
        }
    }

    public Netlist Finish(int lines)
    {
        if (!HasRoom)
            Find(lines, $"A board has at most {NetlistReader.MaxRecords} pads; what comes after them was not read.");
        else if (!IsEnded)
            Find(lines, "The file breaks off: its last record, 999, is missing.");
        if (pads.Count > 0 && unit is null)
            Find(1, "The file does not say its unit; ten-thousandths of an inch are taken, as the form has it where nothing is said.");
        if (found > findings.Count)
            findings.Add(new NetlistFinding(lines, $"And {found - findings.Count} more."));
        return new Netlist(job, unit ?? NetlistUnit.TenthMil, pads, outline) { Findings = findings, IsWhole = IsEnded };
    }

    private void Parameter(int number, string text)
    {
        var words = text.Split(' ', 2, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (words.Length == 0)
            return;
        var (name, value) = (words[0].ToUpperInvariant(), words.Length > 1 ? words[1] : "");
        switch (name)
        {
            case "UNITS":
                Unit(number, value.ToUpperInvariant());
                break;
            case "JOB":
                job = ShownText.Of(value, 80);
                break;
            // A net whose name is longer than its field is called so in records.
            case var _ when name.StartsWith("NNAME", StringComparison.Ordinal) && value.Length > 0:
                aliases[name] = ShownText.Of(value, 120);
                break;
        }
    }

    private void Unit(int number, string value)
    {
        NetlistUnit? said = value.Replace(" ", "") switch
        {
            "CUST0" or "CUST" or "CUST2" or "ENGLISH" => NetlistUnit.TenthMil,
            "CUST1" or "SI" or "METRIC" => NetlistUnit.Micrometre,
            _ => null,
        };
        if (said is null)
            Find(number, $"“{ShownText.Of(value, 20)}” is no unit of the form.");
        else if (unit is { } before && before != said && pads.Count > 0)
            Find(number, "The unit changes within the file; the first one is kept.");
        else
            unit = said;
    }

    // Columns are counted from 1, as the form counts them; both ends are part of the field.
    private static ReadOnlySpan<char> Span(string line, int from, int to) =>
        line.Length < from ? default : line.AsSpan(from - 1, Math.Min(to, line.Length) - from + 1).Trim();

    private static string Field(string line, int from, int to) => ShownText.Of(Span(line, from, to).ToString());

    private void Pad(int number, string line, bool isContinued)
    {
        if (isContinued && pads.Count == 0)
        {
            Find(number, "It continues a record, and there is none before it.");
            return;
        }

        if (Coordinate(line, 42, 'X') is not { } x || Coordinate(line, 50, 'Y') is not { } y)
        {
            Find(number, "Its place cannot be read: X in column 42 and Y in column 50, each with a sign and six digits.");
            return;
        }

        var net = Field(line, 4, 17);
        var (part, pin) = (Field(line, 21, 26), Field(line, 28, 31));
        var before = isContinued ? pads[^1] : null;
        if (net.Length == 0 && before is not null)
            net = before.Net;
        else
            net = net.Equals("N/C", StringComparison.OrdinalIgnoreCase) ? "" : aliases.GetValueOrDefault(net.ToUpperInvariant(), net);
        var kind = line[1] switch
        {
            '2' => PadKind.Surface,
            '6' => PadKind.Tooling,
            _ => PadKind.ThroughHole,
        };
        long? hole = Length(number, line, 33, 'D', 34, 37),
            width = Length(number, line, 58, 'X', 59, 62),
            height = Length(number, line, 63, 'Y', 64, 67);
        var turned = Length(number, line, 68, 'R', 69, 71);
        var access =
            Span(line, 39, 39) is "A" && int.TryParse(Span(line, 40, 41), NumberStyles.None, CultureInfo.InvariantCulture, out var layer)
                ? layer
            : kind == PadKind.Surface ? 1
            : 0;
        if (hole is null || width is null || height is null || turned is null)
            return;
        pads.Add(
            new BoardPad(
                number,
                kind,
                net,
                part.Length == 0 && before is not null ? before.Part : part,
                pin.Length == 0 && before is not null ? before.Pin : pin,
                new(x, y)
            )
            {
                Hole = hole.Value * Nanometres,
                Width = width.Value * Nanometres,
                Height = height.Value * Nanometres,
                Turned = (int)(turned.Value % 360),
                IsPlated = Span(line, 38, 38) is "P",
                IsMidpoint = Span(line, 32, 32) is "M",
                Access = access,
                Mask = Span(line, 73, 73) is "S" && Span(line, 74, 74) is [>= '0' and <= '3' and var mask] ? mask - '0' : null,
            }
        );
    }

    private long? Coordinate(string line, int column, char letter)
    {
        if (Span(line, column, column) is not [var is_] || char.ToUpperInvariant(is_) != letter)
            return null;
        return
            int.TryParse(Span(line, column + 1, column + 7), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value)
            && Math.Abs(value * Nanometres) <= NetlistReader.MaxNanometres
            ? value * Nanometres
            : null;
    }

    /// <summary>A length behind its letter; 0 where there is none; null, and a finding, where it cannot be read.</summary>
    private long? Length(int number, string line, int column, char letter, int from, int to)
    {
        if (Span(line, column, column) is not [var is_])
            return 0;
        if (char.ToUpperInvariant(is_) == letter && Span(line, from, to).IsEmpty)
            return 0;
        if (
            char.ToUpperInvariant(is_) == letter
            && int.TryParse(Span(line, from, to), NumberStyles.None, CultureInfo.InvariantCulture, out var value)
        )
            return value;
        Find(number, $"Columns {column} to {to} are no “{letter}” with a number; the record was left out.");
        return null;
    }

    // Points stand one after the other with blanks between; a coordinate that is left out is that of the point before.
    private void Edge(int number, string line)
    {
        foreach (var point in line[Math.Min(17, line.Length)..].Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            var at = point.IndexOfAny(['Y', 'y']);
            var (x, y) = at < 0 ? (point, "") : (point[..at], point[at..]);
            if (On(x, 'X', last.X) is not { } across || On(y, 'Y', last.Y) is not { } up)
            {
                Find(number, "A point of the board's edge cannot be read.");
                return;
            }

            last = new BoardPoint(across, up);
            if (HasRoom)
                outline.Add(last);
        }

        long? On(string text, char letter, long before) =>
            text.Length == 0 ? before
            : char.ToUpperInvariant(text[0]) == letter
            && int.TryParse(text.AsSpan(1), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value)
            && Math.Abs(value * Nanometres) <= NetlistReader.MaxNanometres
                ? value * Nanometres
            : null;
    }
}
