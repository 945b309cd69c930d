using Junctra.Core.Matching;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// A verdict as a signal: a colour, a shape and a word, never only one of them. <c>compact</c> leaves the word to those who
/// do not see the shape.
/// </summary>
[HtmlTargetElement("signal", TagStructure = TagStructure.WithoutEndTag)]
public sealed class SignalTagHelper : TagHelper
{
    public Verdict Verdict { get; set; }

    public bool Compact { get; set; }

    /// <summary>Another word for the same signal, for example <c>holds</c>.</summary>
    public string? Word { get; set; }

    public static string CssClass(Verdict verdict) => verdict.ToString().ToLowerInvariant();

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "span";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", $"signal signal-{CssClass(Verdict)}");
        output.Content.SetHtmlContent(Shape(Verdict));
        var word = Word ?? Verdict.ToString();
        output.Content.AppendHtml(Compact ? "<span class=\"sr-only\">" : "<span>").Append(word).AppendHtml("</span>");
    }

    private static string Shape(Verdict verdict)
    {
        var svg = new Svg().Open("svg", ("viewBox", "0 0 18 18"), ("width", "18"), ("height", "18"), ("aria-hidden", "true"));
        switch (verdict)
        {
            case Verdict.Go:
                svg.Circle(9, 9, 8, "shape").Path("M5.2 9.4l2.6 2.6 5-5.6", "mark");
                break;
            case Verdict.Care:
                svg.Path("M9 1.6 17.2 16.4H.8Z", "shape").Path("M9 6.6v4.4M9 13.4v.6", "mark");
                break;
            case Verdict.Ask:
                svg.Circle(9, 9, 7.2, "ring").Path("M6.9 7.2a2.1 2.1 0 1 1 3 2c-.6.3-.9.7-.9 1.4M9 12.8v.5", "mark");
                break;
            default:
                svg.Rect(1, 5, 16, 8, "shape", 2).Path("M4.5 9h9", "mark");
                break;
        }

        return svg.Close("svg").ToString();
    }
}
