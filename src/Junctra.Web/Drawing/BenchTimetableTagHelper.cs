using System.Globalization;
using Junctra.Schedule;
using Junctra.Web.Bench.Days;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// A bench day as a timetable: a line for each pair of hands and each port that is used, and of each job a thin line on which hands' work
/// is thick. Now is a line that moves; a promise is a mark whose shape says how it stands.
/// </summary>
[HtmlTargetElement("bench-timetable", TagStructure = TagStructure.WithoutEndTag)]
public sealed class BenchTimetableTagHelper : TagHelper
{
    private const double Width = 1180,
        Left = 92,
        Top = 24,
        HandsHeight = 42,
        PortHeight = 20,
        JobHeight = 18,
        Letter = 7.2;
    private const int Before = 15,
        Least = 3 * 60,
        Most = 10 * 60;

    public required MadeDay Made { get; set; }

    /// <summary>Now; the timetable may have been made some minutes ago.</summary>
    public DateTimeOffset Now { get; set; }

    /// <summary>Whether jobs lead to their pages: on a screen at the wall they do not.</summary>
    public bool Links { get; set; } = true;

    /// <summary>
    /// So many phones at the most have a line of their own, those that are promised first: a screen at the wall is not scrolled.
    /// </summary>
    public int MaxJobs { get; set; } = int.MaxValue;

    private int Elapsed => (int)Math.Floor((Now - Made.Day.Now).TotalMinutes);

    private int From => Elapsed - Before;

    private int To { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var last = Made.Timetable.Slots.Select(slot => slot.End).DefaultIfEmpty().Max();
        To = Elapsed + Math.Clamp(last + 15 - Elapsed, Least, Most);
        var svg = new Svg();
        var ports = PortStay.Lanes(Made.Day, Made.Timetable.Slots);
        var jobs = Made.Day.Jobs.OrderBy(job => job.Promised ?? int.MaxValue).ThenBy(job => job.Came).Take(MaxJobs).ToList();
        Hours(svg, Top + Made.Day.Hands.Count * HandsHeight + ports.Count * PortHeight + jobs.Count * JobHeight + 18);
        var y = Top;
        foreach (var hands in Made.Day.Hands)
        {
            Away(svg, hands, y);
            Lane(
                svg,
                hands.Name,
                y,
                HandsHeight,
                Made.Timetable.Of(hands.Name)
                    .Select(slot => (slot.Ticket, slot.Task.Title, slot.Start, slot.End, slot.Task.BegunAt is not null)),
                "work"
            );
            y += HandsHeight;
        }

        y += 6;
        var port = 0;
        foreach (var lane in ports)
        {
            Lane(svg, $"port {++port}", y, PortHeight, lane.Select(stay => (stay.Ticket, "", stay.From, stay.To, false)), "stay");
            y += PortHeight;
        }

        y += 6;
        foreach (var job in jobs)
        {
            Job(svg, job, y);
            y += JobHeight;
        }

        var height = y + 6;
        svg.Open(
                "g",
                ("class", "now"),
                ("data-now", Now.ToUnixTimeMilliseconds().ToString(CultureInfo.InvariantCulture)),
                ("data-minute", Svg.N(Scale))
            )
            .Line(X(Elapsed), Top - 6, X(Elapsed), height, "now-line")
            .Close("g");
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "timetable");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(Width)} {Svg.N(height)}");
        // Its jobs are links: it is no picture alone.
        output.Attributes.SetAttribute("role", "group");
        output.Attributes.SetAttribute(
            "aria-label",
            $"Timetable of the bench: {Made.Day.Jobs.Count} phones, {Made.Day.Hands.Count} pairs of hands"
        );
        output.Content.SetHtmlContent(svg.ToString());
    }

    private double Scale => (Width - Left - 8) / (To - From);

    private double X(int minute) => Left + (Math.Clamp(minute, From, To) - From) * Scale;

    private string Clock(int minute) => Made.Day.Now.AddMinutes(minute).ToLocalTime().ToString("HH:mm", CultureInfo.InvariantCulture);

    private void Hours(Svg svg, double height)
    {
        var start = Made.Day.Now.AddMinutes(From).ToLocalTime();
        var first = From + (60 - start.Minute) % 60;
        for (var minute = first; minute < To; minute += 60)
            svg.Line(X(minute), Top - 6, X(minute), height, "hour").Text(X(minute), Top - 10, Clock(minute), "hour-text", "middle");
    }

    private void Away(Svg svg, BenchHands hands, double y)
    {
        var at = Elapsed;
        foreach (var there in hands.At.Append(new Stretch(To, To)))
        {
            if (there.From > at && at < To)
                svg.Rect(X(at), y + 3, X(there.From) - X(at), HandsHeight - 6, "away", 0);
            at = Math.Max(at, there.To);
        }
    }

    private void Lane(
        Svg svg,
        string name,
        double y,
        double height,
        IEnumerable<(string Ticket, string Title, int From, int To, bool IsBegun)> work,
        string kind
    )
    {
        svg.Text(0, y + height / 2 + 4, name.Length > 12 ? name[..11] + "…" : name, "lane-name")
            .Line(Left, y + height, Width - 8, y + height, "lane");
        foreach (var (ticket, title, from, to, isBegun) in work.Where(one => one.To > From && one.From < To))
        {
            var (x, width) = (X(from) + 0.5, Math.Max(2, X(to) - X(from) - 1));
            Begin(svg, ticket, $"{ticket}{(title.Length > 0 ? ", " + title.ToLowerInvariant() : "")}: {Clock(from)} to {Clock(to)}");
            svg.Rect(x, y + 4, width, height - 7, isBegun ? kind + " begun" : kind, 4);
            if (width >= 4 * Letter + 6)
                svg.Text(x + 4, y + (title.Length > 0 && height > 30 ? 17 : height / 2 + 4.5), ticket, "work-ticket");
            var letters = (int)((width - 8) / 5.6);
            if (title.Length > 0 && letters >= 5)
                svg.Text(x + 4, y + 31, title.Length <= letters ? title : title[..(letters - 1)].TrimEnd() + "…", "work-title");
            End(svg);
        }
    }

    private void Job(Svg svg, DayJob job, double y)
    {
        Begin(svg, job.Ticket, $"{job.Ticket}: ready {Clock(Made.Timetable.ReadyAt(job.Ticket) ?? 0)}");
        svg.Text(0, y + 12, job.Ticket, "job-ticket");
        End(svg);
        var middle = y + JobHeight / 2;
        foreach (var slot in Made.Timetable.Slots.Where(slot => slot.Ticket == job.Ticket && slot.End > From && slot.Start < To))
            if (slot.Hands is not null)
                svg.Rect(X(slot.Start), middle - 4, Math.Max(1.5, X(slot.End) - X(slot.Start)), 8, "job-hands", 1.5);
            else
                svg.Line(X(slot.Start), middle, Math.Max(X(slot.Start) + 1.5, X(slot.End)), middle, "job-alone");
        if (job.Promised is not { } promised || Made.Chances.FirstOrDefault(one => one.Ticket == job.Ticket) is not { } chance)
            return;
        var (x, words) = (X(promised), $"{job.Ticket} is promised for {Clock(promised)}: holds in {chance.Chance * 100:0} of 100");
        svg.Open("g", ("class", "promise")).Title(words);
        if (promised < To)
            svg.Line(x, y + 1, x, y + JobHeight - 1, "promise-post");
        else
            svg.Text(x - 9, middle + 4, Clock(promised), "hour-text", "end");
        // Full, half or barred: the shape says it as well as the colour.
        if (chance.Chance >= PromiseAdvice.Good)
            svg.Circle(x, middle, 5, "promise-go");
        else if (chance.Chance >= 0.5)
            svg.Path($"M{Svg.N(x)} {Svg.N(middle - 6)}l6 11h-12z", "promise-care");
        else
            svg.Rect(x - 6, middle - 3.5, 12, 7, "promise-stop", 1);
        svg.Close("g");
    }

    private void Begin(Svg svg, string ticket, string title)
    {
        if (Links)
            svg.Open("a", ("href", $"/find?q={Uri.EscapeDataString(ticket)}"));
        else
            svg.Open("g");
        svg.Title(title);
    }

    private void End(Svg svg) => svg.Close(Links ? "a" : "g");
}
