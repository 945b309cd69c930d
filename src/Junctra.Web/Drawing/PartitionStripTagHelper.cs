using Junctra.Core;
using Junctra.Core.Plans;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>The partitions of a phone and what becomes of each: by fill, by hatching and by word.</summary>
[HtmlTargetElement("partition-strip", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PartitionStripTagHelper : TagHelper
{
    private const double BarHeight = 34,
        Top = 2,
        LabelRow = 18;

    public required PartitionStrip Strip { get; set; }

    public static string CssClass(PartitionUse use) => EnumNames.Of(use);

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var svg = new Svg().Title("Partitions. " + string.Join("; ", Strip.Segments.Select(s => s.Text)) + ".");
        svg.Open("defs")
            .Open(
                "pattern",
                ("id", "hatch"),
                ("width", "8"),
                ("height", "8"),
                ("patternUnits", "userSpaceOnUse"),
                ("patternTransform", "rotate(45)")
            )
            .Line(0, 0, 0, 8, "hatch-line")
            .Close("pattern")
            .Close("defs");
        foreach (var segment in Strip.Segments)
        {
            svg.Open(
                "g",
                ("class", $"segment {CssClass(segment.Use)}"),
                ("data-partition", segment.Name),
                ("data-width", Svg.N(segment.Width))
            );
            svg.Rect(segment.X, Top, segment.Width, BarHeight, "box");
            svg.Rect(segment.X, Top, segment.Width * segment.Fill, BarHeight, "fill");
            svg.Rect(segment.X, Top, segment.Width, BarHeight, "edge");
            if (segment.LabelInside)
                svg.Text(segment.X + segment.Width / 2, Top + BarHeight / 2 + 5, segment.Name, "inside", "middle");
            else
                svg.Text(segment.LabelX, Top + BarHeight + 16 + segment.LabelRow * LabelRow, segment.Name, "under", "middle");
            svg.Close("g");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "partition-strip");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(Strip.Width)} {Svg.N(Top + BarHeight + 4 + Strip.LabelRows * LabelRow)}");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
    }
}
