using Junctra.Core.Insight;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// A figure of what the log teaches as a bar, on one scale with those beside it: where it should lie is a band behind it, what so few cases
/// cannot tell is a line through its end.
/// </summary>
[HtmlTargetElement("insight-bar", TagStructure = TagStructure.WithoutEndTag)]
public sealed class InsightBarTagHelper : TagHelper
{
    private const double Width = 300,
        Height = 22,
        Bar = 12;

    public required InsightSection Section { get; set; }

    public required InsightFigure Figure { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var most = Section.AreShares ? 1 : Math.Max(1e-9, Section.Figures.Max(figure => figure.Value));
        var svg = new Svg();
        svg.Rect(0, (Height - Bar) / 2, Width, Bar, "track", 3);
        if (Section.Aim is { } aim)
            svg.Rect(aim.From * Width, 0, (aim.To - aim.From) * Width, Height, "aim", 0);
        svg.Rect(0, (Height - Bar) / 2, Math.Max(2, Figure.Value / most * Width), Bar, "value", 3);
        if (Figure.Between is { } between)
        {
            svg.Line(between.Low * Width, Height / 2, between.High * Width, Height / 2, "between");
            svg.Line(between.Low * Width, Height / 2 - 4, between.Low * Width, Height / 2 + 4, "between");
            svg.Line(between.High * Width, Height / 2 - 4, between.High * Width, Height / 2 + 4, "between");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "insight-bar");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(Width)} {Svg.N(Height)}");
        // Its words stand beside it.
        output.Attributes.SetAttribute("aria-hidden", "true");
        output.Content.SetHtmlContent(svg.ToString());
    }
}
