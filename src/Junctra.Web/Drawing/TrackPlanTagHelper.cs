using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>A phone's modes as a track plan: the route as a strong line, and from everywhere else the way that goes on.</summary>
[HtmlTargetElement("track-plan", TagStructure = TagStructure.WithoutEndTag)]
public sealed class TrackPlanTagHelper : TagHelper
{
    public required PlannedRoute Route { get; set; }

    /// <summary>Width of the drawing in units.</summary>
    public double Width { get; set; } = 700;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var plan = TrackPlan.Of(Route, Width);
        var svg = new Svg().Title(
            Route.Legs.Count == 0
                ? $"The phone is in {Route.To.Label()}."
                : $"From {Route.From.Label()} into {Route.To.Label()}: {string.Join(", then ", Route.Legs.Select(leg => $"{leg.Score.Name} to {leg.To.Label()}"))}."
        );
        foreach (var way in plan.Ways.OrderBy(way => way.OnRoute))
        {
            svg.Add("path", ("d", Path(way)), ("class", way.OnRoute ? "track on" : "track"));
        }

        foreach (var way in plan.Ways.Where(way => way.Label.Length > 0))
            svg.Text(way.LabelX, way.LabelY, way.Label, "leg", "middle");
        foreach (var node in plan.Nodes)
        {
            var here = node.Mode == Route.From;
            svg.Circle(node.X, node.Y, TrackPlan.Radius, node.OnRoute ? "stop on" : "stop");
            if (here)
                svg.Circle(node.X, node.Y, 4.5, "train");
            if (node.Mode == Route.To)
                svg.Add("path", ("d", $"M{Svg.N(node.X - 4.5)} {Svg.N(node.Y)}l3 3.4 6 -7"), ("class", "tick-mark"));
            for (var line = 0; line < node.Lines.Count; line++)
                svg.Text(node.X, TrackPlan.LabelY(node, line), node.Lines[line], node.OnRoute ? "name on" : "name", "middle");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "track-plan");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(plan.Width)} {Svg.N(plan.Height)}");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
    }

    /// <summary>Level to the line that it joins, and up into it with a round corner.</summary>
    private static string Path(TrackWay way)
    {
        const double corner = 14;
        return way.FromY == way.ToY
            ? $"M{Svg.N(way.FromX)} {Svg.N(way.FromY)}H{Svg.N(way.ToX)}"
            : $"M{Svg.N(way.FromX)} {Svg.N(way.FromY)}H{Svg.N(way.ToX - corner)}q{corner} 0 {corner} {-corner}V{Svg.N(way.ToY)}";
    }
}
