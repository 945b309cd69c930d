using Junctra.Core.Jobs;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>A job's line with its stations: links, drawn as a railway. The station that waits for somebody is lit.</summary>
[HtmlTargetElement("job-line", TagStructure = TagStructure.WithoutEndTag)]
public sealed class JobLineTagHelper : TagHelper
{
    public required JobView Job { get; set; }

    /// <summary>The station on the page.</summary>
    public Station Here { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "nav";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "job-line");
        output.Attributes.SetAttribute("aria-label", "Stations of this job");
        var html = new Svg().Open("ol");
        foreach (var station in Stations.All)
        {
            var state = Job.Standing.IsDone || station < Job.Standing.At ? "past" : station == Job.Standing.At ? "now" : "ahead";
            html.Open("li", ("class", state + (station == Here ? " here" : "")));
            (string, string)[] link = [("href", $"/jobs/{Uri.EscapeDataString(Job.Row.Ticket)}/{station.Slug()}"), ("data-station", station.Slug())];
            html.Open("a", station == Here ? [.. link, ("aria-current", "step")] : link);
            html.Open("svg", ("viewBox", "0 0 26 26"), ("width", "26"), ("height", "26"), ("aria-hidden", "true"));
            if (state == "now") html.Circle(13, 13, 10.5, "halo").Circle(13, 13, 4.5, "lamp");
            else html.Circle(13, 13, 7, "stop");
            html.Close("svg").Open("span").Encoded(station.Label()).Close("span");
            html.Open("span", ("class", "sr-only")).Encoded(state switch { "past" => ", done", "now" => ", waits", _ => "" }).Close("span");
            html.Close("a").Close("li");
        }

        output.Content.SetHtmlContent(html.Close("ol").ToString());
    }
}

/// <summary>The same line small, for lists.</summary>
[HtmlTargetElement("mini-line", TagStructure = TagStructure.WithoutEndTag)]
public sealed class MiniLineTagHelper : TagHelper
{
    private const double Step = 14, First = 8, Middle = 9;

    public required JobStanding Standing { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var last = First + Step * (Stations.All.Count - 1);
        var at = Standing.IsDone ? last : First + Step * (int)Standing.At;
        var svg = new Svg().Title($"At {Standing.At.Label()}, station {(int)Standing.At + 1} of {Stations.All.Count}")
            .Line(First, Middle, last, Middle, "rail-ahead").Line(First, Middle, at, Middle, "rail-past");
        foreach (var station in Stations.All)
        {
            var x = First + Step * (int)station;
            if (station == Standing.At && !Standing.IsDone) svg.Circle(x, Middle, 5.5, "lamp");
            else svg.Circle(x, Middle, 3.5, Standing.IsDone || station < Standing.At ? "past" : "ahead");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "mini-line");
        output.Attributes.SetAttribute("viewBox", $"0 0 {last + First} 18");
        output.Attributes.SetAttribute("width", $"{last + First}");
        output.Attributes.SetAttribute("height", "18");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
    }
}
