using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>A job's line with its stations: links, drawn as a railway. The station that waits for somebody is lit.</summary>
[HtmlTargetElement("job-line", TagStructure = TagStructure.WithoutEndTag)]
public sealed class JobLineTagHelper : TagHelper
{
    public required JobView Job { get; set; }

    /// <summary>The station on the page.</summary>
    public Station Here { get; set; }

    /// <summary>Whether the page is the branch to board rescue.</summary>
    public bool RescueHere { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "nav";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "job-line");
        output.Attributes.SetAttribute("aria-label", "Stations of this job");
        var html = new Svg().Open("ol");
        foreach (var station in Stations.All)
        {
            var state =
                Job.Standing.IsDone || station < Job.Standing.At ? "past"
                : station == Job.Standing.At ? "now"
                : "ahead";
            var isPassedBy = state == "past" && Job.PassesBy(station);
            html.Open("li", ("class", state + (isPassedBy ? " passed-by" : "") + (station == Here && !RescueHere ? " here" : "")));
            (string, string)[] link =
            [
                ("href", $"/jobs/{Uri.EscapeDataString(Job.Row.Ticket)}/{station.Slug()}"),
                ("data-station", station.Slug()),
            ];
            html.Open("a", station == Here && !RescueHere ? [.. link, ("aria-current", "step")] : link);
            html.Open("svg", ("viewBox", "0 0 26 26"), ("width", "26"), ("height", "26"), ("aria-hidden", "true"));
            if (state == "now")
                html.Circle(13, 13, 10.5, "halo").Circle(13, 13, 4.5, "lamp");
            else
                html.Circle(13, 13, 7, "stop");
            html.Close("svg").Open("span").Encoded(station.Label()).Close("span");
            html.Open("span", ("class", "sr-only"))
                .Encoded(
                    state switch
                    {
                        "past" => isPassedBy ? ", not needed" : ", done",
                        "now" => ", waits",
                        _ => "",
                    }
                )
                .Close("span");
            html.Close("a").Close("li");
        }

        html.Close("ol");
        if (Job.IsRescue)
            Branch(html);
        output.Content.SetHtmlContent(html.ToString());
    }

    // It leaves the line at the plan and comes back at the write, where the loader has answered.
    private void Branch(Svg html)
    {
        var isHere = RescueHere;
        html.Open("div", ("class", isHere ? "branch here" : "branch"));
        html.Open("svg", ("viewBox", "0 0 100 30"), ("preserveAspectRatio", "none"), ("aria-hidden", "true"))
            .Path("M2 0C20 0 14 24 40 24H60C86 24 80 0 98 0", Job.Row.Rescue.Count > 0 ? "branch-rail taken" : "branch-rail")
            .Close("svg");
        (string, string)[] link = [("href", $"/jobs/{Uri.EscapeDataString(Job.Row.Ticket)}/rescue")];
        html.Open("a", isHere ? [.. link, ("aria-current", "step")] : link).Encoded("Board rescue").Close("a").Close("div");
    }
}

/// <summary>The same line small, for lists. Each of the few pictures there are is drawn once on a page; rows refer to it.</summary>
[HtmlTargetElement("mini-line", TagStructure = TagStructure.WithoutEndTag)]
public sealed class MiniLineTagHelper : TagHelper
{
    private const double Step = 14,
        First = 8,
        Middle = 9;
    private static readonly double Last = First + Step * (Stations.All.Count - 1);
    private static readonly string Pictures = Draw();

    public required JobStanding Standing { get; set; }

    [ViewContext]
    [HtmlAttributeNotBound]
    public ViewContext View { get; set; } = null!;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        if (View.HttpContext.Items.TryAdd(typeof(MiniLineTagHelper), true))
            output.PreElement.SetHtmlContent(Pictures);
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "mini-line");
        output.Attributes.SetAttribute("role", "img");
        output.Attributes.SetAttribute("aria-label", $"At {Standing.At.Label()}, station {(int)Standing.At + 1} of {Stations.All.Count}");
        output.Content.SetHtmlContent($"<use href=\"#line-{(Standing.IsDone ? Stations.All.Count : (int)Standing.At)}\"/>");
    }

    private static string Draw()
    {
        var svg = new Svg().Open("svg", ("class", "mini-line pictures"), ("aria-hidden", "true"));
        for (var place = 0; place <= Stations.All.Count; place++)
        {
            var isDone = place == Stations.All.Count;
            svg.Open("symbol", ("id", $"line-{place}"), ("viewBox", $"0 0 {Last + First} 18"));
            svg.Line(First, Middle, Last, Middle, "mini-rail-ahead")
                .Line(First, Middle, isDone ? Last : First + Step * place, Middle, "mini-rail-past");
            for (var station = 0; station < Stations.All.Count; station++)
            {
                var x = First + Step * station;
                if (station == place)
                    svg.Circle(x, Middle, 5.5, "mini-lamp");
                else
                    svg.Circle(x, Middle, 3.5, station < place ? "mini-past" : "mini-ahead");
            }

            svg.Close("symbol");
        }

        return svg.Close("svg").ToString();
    }
}
