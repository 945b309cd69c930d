using Junctra.Core;
using Junctra.Core.Plans;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// What a break at each step of a plan would leave: the worse, the higher the bar, by colour and by word. A touch on a bar opens its step.
/// </summary>
[HtmlTargetElement("risk-strip", TagStructure = TagStructure.WithoutEndTag)]
public sealed class RiskStripTagHelper : TagHelper
{
    private const double Bottom = 32,
        LowBar = 12,
        Rise = 7,
        Words = 48;

    public required RiskStrip Strip { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var svg = new Svg().Title($"If it breaks at a step. {string.Join("; ", Strip.Segments.Select(one => one.Text))}.");
        foreach (var segment in Strip.Segments)
        {
            var height = LowBar + Rise * (int)segment.Risk;
            svg.Open("a", ("href", $"?step={segment.Step}#step-{segment.Step}"), ("tabindex", "-1"))
                .Open("g", ("class", "risk " + EnumNames.Of(segment.Risk)), ("data-step", segment.Step.ToString()))
                .Title(segment.Text)
                .Rect(segment.X, Bottom - height, segment.Width, height, "bar", 3)
                .Close("g")
                .Close("a");
        }

        foreach (var label in Strip.Labels)
        {
            var half = label.Text.Length * 3.6;
            svg.Text(
                Math.Clamp(label.X, half, Math.Max(half, Strip.Width - half)),
                Words,
                label.Text,
                "word " + EnumNames.Of(label.Risk),
                "middle"
            );
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "risk-strip");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(Strip.Width)} {Svg.N(Words + 4)}");
        output.Content.SetHtmlContent(svg.ToString());
    }
}
