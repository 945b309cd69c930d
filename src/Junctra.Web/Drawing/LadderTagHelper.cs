using Junctra.Core.Matching;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// The builds of a model as a ladder: revision as height, builds as points, the floor as a line. Steps are told by shape and word, not by
/// colour alone.
/// </summary>
[HtmlTargetElement("ladder", TagStructure = TagStructure.WithoutEndTag)]
public sealed class LadderTagHelper : TagHelper
{
    private const double Half = 6;

    public required LadderLayout Layout { get; set; }

    public required BuildLadder Builds { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var svg = new Svg().Title(Builds.Words);
        foreach (var (revision, y) in Layout.Rows)
        {
            svg.Line(LadderLayout.Margin, y, Layout.Width, y, "rung");
            svg.Text(0, y + 4, $"revision {revision}", "rung-name");
        }

        if (Layout.FloorY is { } floor)
        {
            svg.Line(LadderLayout.Margin, floor + 14, Layout.Width, floor + 14, Builds.IsFloorRead ? "floor" : "floor bound");
            svg.Text(
                LadderLayout.Margin + 4,
                floor + 27,
                Builds.IsFloorRead
                    ? $"floor {Builds.Floor}: nothing below it is taken"
                    : $"floor at least {Builds.Floor}: not read since the last write",
                "floor-name"
            );
        }

        // The way through time, so that a step up is seen as one.
        if (Layout.Points.Count > 1)
            svg.Path("M" + string.Join(" L", Layout.Points.Select(point => $"{Svg.N(point.X)} {Svg.N(point.Y)}")), "way");
        foreach (var point in Layout.Points)
        {
            svg.Open(
                "g",
                (
                    "class",
                    $"build {Word(point.Build.Step)}{(point.Build.IsOnPhone ? " here" : "")}{(point.Build.PackageIds.Count == 0 ? " missing" : "")}"
                )
            );
            if (point.Build.IsOnPhone)
                svg.Circle(point.X, point.Y, Half + 5, "ring");
            Mark(svg, point);
            var (from, to) = LadderLayout.LabelSpan(point.X, point.Build.Title, Layout.Width);
            svg.Text((from + to) / 2, point.LabelY, point.Build.Title, "name", "middle");
            svg.Close("g");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "ladder");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(Layout.Width)} {Svg.N(Layout.Height + 22)}");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
        output.PostElement.SetHtmlContent(Legend());
    }

    private static void Mark(Svg svg, LadderPoint point)
    {
        var (x, y) = (point.X, point.Y);
        switch (point.Build.Step)
        {
            case LadderStep.OneWay:
                svg.Path(
                    $"M{Svg.N(x - Half)} {Svg.N(y + Half)} L{Svg.N(x)} {Svg.N(y - Half)} L{Svg.N(x + Half)} {Svg.N(y + Half)} Z",
                    "mark"
                );
                break;
            case LadderStep.Refused:
                svg.Path(
                    $"M{Svg.N(x - Half)} {Svg.N(y - Half)} L{Svg.N(x + Half)} {Svg.N(y + Half)} M{Svg.N(x - Half)} {Svg.N(y + Half)} L{Svg.N(x + Half)} {Svg.N(y - Half)}",
                    "mark cross"
                );
                break;
            default:
                svg.Circle(x, y, Half - 1, "mark");
                break;
        }
    }

    private string Legend()
    {
        var steps = Builds.Builds.Select(build => build.Step).ToHashSet();
        List<string> words = [];
        if (Builds.Builds.Any(build => build.IsOnPhone))
            words.Add("ringed: on the phone now");
        if (steps.Contains(LadderStep.OneWay))
            words.Add("wedge: one-way, the floor rises");
        if (steps.Contains(LadderStep.Refused))
            words.Add("cross: refused, below the floor");
        if (steps.Contains(LadderStep.Stays))
            words.Add("dot: the floor stays");
        if (Builds.Builds.Any(build => build.PackageIds.Count == 0))
            words.Add("hollow: not in the library");
        return new Svg().Open("p", ("class", "soft below")).Encoded(string.Join(" · ", words)).Close("p").ToString();
    }

    private static string Word(LadderStep step) =>
        step switch
        {
            LadderStep.OneWay => "one-way",
            LadderStep.Refused => "refused",
            LadderStep.Stays => "stays",
            _ => "open",
        };
}
