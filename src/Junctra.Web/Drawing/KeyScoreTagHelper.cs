using Junctra.Core.Catalogue;
using Junctra.Core.Routes;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// A key recipe drawn as a score: one stave a key, bars for holds, whiskers for what may be missed, marks for what the screen shows.
/// </summary>
[HtmlTargetElement("key-score", TagStructure = TagStructure.WithoutEndTag)]
public sealed class KeyScoreTagHelper : TagHelper
{
    public required KeyFamily Family { get; set; }

    public required KeyRecipe Recipe { get; set; }

    /// <summary>Width of the drawing in units.</summary>
    public double Width { get; set; } = 760;

    /// <summary>Whether what somebody really holds is drawn on it while it is tried.</summary>
    public bool Live { get; set; }

    /// <summary>What somebody really held, drawn on it once it is over; null where nobody did.</summary>
    public IReadOnlyList<HeldSpan>? Held { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var layout = KeyScoreLayout.Of(Family, Recipe, Width);
        var svg = new Svg().Title($"{Recipe.Name}: {string.Join(" ", Recipe.Words)}");
        foreach (var second in layout.Ticks)
        {
            var x = layout.Left + second * layout.UnitsPerSecond;
            svg.Line(x, 22, x, layout.StaveBottom, "tick").Text(x, 14, second.ToString(), "tick-text", "middle");
        }

        svg.Text(0, 14, "seconds", "tick-text");
        foreach (var stave in layout.Staves)
        {
            svg.Text(0, stave.Y + 5, stave.Name, "stave-text").Line(layout.Left, stave.Y, layout.Width - 8, stave.Y, "stave");
        }

        foreach (var bar in layout.Bars)
        {
            svg.Rect(bar.X, bar.Y, bar.Width, bar.Height, bar.Kind == "key" ? "bar" : $"bar bar-{bar.Kind}", 7);
            var middle = bar.Y + bar.Height / 2 + 4.5;
            if (bar.LabelInside)
                svg.Text(bar.X + 10, middle, bar.Label, bar.Kind == "key" ? "bar-text" : "bar-text bar-text-dark");
            else if (bar.Label.Length > 0)
                svg.Text(bar.X + bar.Width + 8, middle, bar.Label, "beside-text");
        }

        foreach (var whisker in layout.Whiskers)
        {
            svg.Line(whisker.X, whisker.Y + 17, whisker.X + whisker.Width, whisker.Y + 17, "whisker")
                .Line(whisker.X, whisker.Y + 13, whisker.X, whisker.Y + 20, "whisker")
                .Line(whisker.X + whisker.Width, whisker.Y + 13, whisker.X + whisker.Width, whisker.Y + 20, "whisker");
        }

        if (Live)
            svg.Open(
                    "g",
                    ("class", "played"),
                    ("data-played", string.Join(' ', layout.Staves.Select(stave => $"{stave.Id}={Svg.N(stave.Y)}")))
                )
                .Close("g");

        if (Held is not null)
        {
            svg.Open("g", ("class", "played"));
            foreach (var span in Held)
                if (layout.Staves.FirstOrDefault(stave => stave.Id == span.Stave) is { } stave)
                {
                    var (from, to) = (Math.Min(span.From, Recipe.LengthSeconds), Math.Min(span.To, Recipe.LengthSeconds));
                    svg.Rect(
                        layout.Left + from * layout.UnitsPerSecond,
                        stave.Y + 7,
                        Math.Max(3, (to - from) * layout.UnitsPerSecond),
                        7,
                        "",
                        3
                    );
                }

            svg.Close("g");
        }

        // Names over lines: the line of a later mark may pass below the name of an earlier one.
        foreach (var mark in layout.Marks)
            svg.Line(mark.X, 22, mark.X, mark.LabelY - 14, "mark");
        foreach (var mark in layout.Marks)
            svg.Text(mark.LabelX, mark.LabelY, mark.Label, "mark-text", "middle");

        svg.Open(
                "g",
                ("class", "hand"),
                ("data-hand", ""),
                ("data-left", Svg.N(layout.Left)),
                ("data-unit", Svg.N(layout.UnitsPerSecond)),
                ("data-length", Svg.N(Recipe.LengthSeconds)),
                (
                    "data-beats",
                    string.Join(
                        ' ',
                        Recipe
                            .Bars.SelectMany(bar => new[] { Recipe.Usual(bar.From), Recipe.Usual(bar.To) })
                            .Distinct()
                            .Order()
                            .Select(Svg.N)
                    )
                )
            )
            .Line(layout.Left, 18, layout.Left, layout.StaveBottom, "hand-line")
            .Circle(layout.Left, 20, 5, "hand-knob")
            .Close("g");

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "key-score");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(layout.Width)} {Svg.N(layout.Height)}");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
    }
}
