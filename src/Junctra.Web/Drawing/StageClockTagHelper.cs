using Junctra.Core.Runs;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// How long a phone has been on its way up: usual, slow and stuck as stretches of one line, and where it is now. The script beside it moves
/// the hand while the page is open.
/// </summary>
[HtmlTargetElement("stage-clock", TagStructure = TagStructure.WithoutEndTag)]
public sealed class StageClockTagHelper : TagHelper
{
    private const double Width = 640,
        Height = 64,
        Top = 22,
        Bar = 18,
        // Beyond the time at which it is stuck nothing is told apart any more.
        Beyond = 1.2;

    public required StageClock Clock { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var end = Clock.StuckMinutes * Beyond;
        double X(double minutes) => Math.Min(Width, minutes / end * Width);
        var svg = new Svg().Title(Clock.Words);
        svg.Rect(0, Top, X(Clock.Usual.Typical), Bar, "usual", 3);
        svg.Rect(X(Clock.Usual.Typical), Top, X(Clock.StuckMinutes) - X(Clock.Usual.Typical), Bar, "slow", 3);
        svg.Rect(X(Clock.StuckMinutes), Top, Width - X(Clock.StuckMinutes), Bar, "stuck", 3);
        foreach (var minutes in new[] { Clock.Usual.Typical, Clock.Usual.Slow, Clock.StuckMinutes }.Distinct())
        {
            svg.Line(X(minutes), Top - 4, X(minutes), Top + Bar + 4, "tick");
            svg.Text(X(minutes), Top + Bar + 19, $"{minutes:0} min", "minutes", "middle");
        }

        svg.Text(4, Top - 7, "usual", "word");
        svg.Text(X(Clock.Usual.Typical) + 4, Top - 7, "slow, no fault", "word");
        svg.Text(X(Clock.StuckMinutes) + 4, Top - 7, "stuck", "word");
        if (Clock.Pace is not StagePace.Up)
        {
            var x = X(Math.Min(Clock.Minutes, end));
            svg.Open("g", ("class", "hand"), ("data-hand", ""), ("transform", $"translate({Svg.N(x)} 0)"));
            svg.Path($"M0 {Svg.N(Top - 5)} V{Svg.N(Top + Bar + 5)} M-5 {Svg.N(Top - 5)} H5 M-5 {Svg.N(Top + Bar + 5)} H5", "stroke");
            svg.Close("g");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "stage-clock");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Width} {Height}");
        output.Attributes.SetAttribute("role", "img");
        output.Attributes.SetAttribute("data-minutes", Svg.N(Clock.Minutes));
        output.Attributes.SetAttribute("data-scale", Svg.N(Width / end));
        output.Attributes.SetAttribute("data-turns", $"{Svg.N(Clock.Usual.Typical)} {Svg.N(Clock.StuckMinutes)}");
        output.Content.SetHtmlContent(svg.ToString());
    }
}
