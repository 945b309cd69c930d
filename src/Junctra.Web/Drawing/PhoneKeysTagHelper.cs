using Junctra.Core.Catalogue;
using Junctra.Core.Routes;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>A phone drawn with its keys where they lie; those that a score uses are marked, and lit while they are down.</summary>
[HtmlTargetElement("phone-keys", TagStructure = TagStructure.NormalOrSelfClosing)]
public sealed class PhoneKeysTagHelper : TagHelper
{
    public required KeyFamily Family { get; set; }

    /// <summary>The score whose keys are marked; null where none are.</summary>
    public KeyRecipe? Recipe { get; set; }

    /// <summary>Whether it is held in the right hand.</summary>
    public bool LeftHanded { get; set; }

    /// <summary>Whether its keys can be pressed; its screen then holds what stands between the tags.</summary>
    public bool Live { get; set; }

    public override async Task ProcessAsync(TagHelperContext context, TagHelperOutput output)
    {
        var sketch = PhoneSketch.Of(Family, LeftHanded, Live);
        var used = (Recipe?.Bars ?? []).Select(bar => bar.StaveId).ToHashSet();
        var svg = new Svg();
        if (!Live)
            svg.Title(
                $"Where the keys lie: {string.Join(", ", sketch.Parts.Where(part => used.Contains(part.Stave.Id)).Select(part => $"{part.Stave.Name}, {part.Finger}"))}."
            );
        foreach (var part in sketch.Parts)
        {
            var isUsed = used.Contains(part.Stave.Id);
            svg.Open(
                "g",
                (
                    "class",
                    isUsed || Live
                        ? isUsed
                            ? "part used"
                            : "part"
                        : "part idle"
                ),
                ("data-part", part.Stave.Id),
                ("data-bars", isUsed ? Bars(part.Stave.Id) : "")
            );
            svg.Rect(part.X, part.Y, part.Width, part.Height, "key", part.Stave.Side == KeySide.Front ? 11 : 4);
            svg.Text(
                part.LabelX,
                part.LabelY + (part.Anchor == "middle" && part.Stave.Side == KeySide.Front ? 0 : 2),
                part.Stave.Name,
                "key-name",
                part.Anchor
            );
            if (isUsed && part.Stave.Side is KeySide.Left or KeySide.Right)
                svg.Text(part.LabelX, part.LabelY + 16, part.Finger, "finger", part.Anchor);
            svg.Close("g");
        }

        svg.Rect(sketch.Body.X, sketch.Body.Y, sketch.Body.W, sketch.Body.H, "body", 16)
            .Rect(sketch.Screen.X, sketch.Screen.Y, sketch.Screen.W, sketch.Screen.H, "glass", 7);
        foreach (var part in sketch.Parts.Where(part => part.Stave.Side == KeySide.Front))
        {
            svg.Open(
                "g",
                ("class", used.Contains(part.Stave.Id) ? "part used" : "part"),
                ("data-part", part.Stave.Id),
                ("data-bars", used.Contains(part.Stave.Id) ? Bars(part.Stave.Id) : "")
            );
            svg.Rect(part.X, part.Y, part.Width, part.Height, "key", 11)
                .Text(part.LabelX, part.LabelY, part.Stave.Name, "key-name front", "middle")
                .Close("g");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", Live ? "phone-keys live" : "phone-keys");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(sketch.Width)} {Svg.N(sketch.Height)}");
        if (!Live)
            output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
        if (!Live)
            return;
        output
            .Content.AppendHtml(
                $"""<foreignObject x="{Svg.N(sketch.Screen.X)}" y="{Svg.N(sketch.Screen.Y)}" width="{Svg.N(sketch.Screen.W)}" height="{Svg.N(sketch.Screen.H)}">"""
            )
            .AppendHtml(await output.GetChildContentAsync())
            .AppendHtml("</foreignObject>");
    }

    private string Bars(string stave) =>
        string.Join(
            ' ',
            Recipe!
                .Bars.Where(bar => bar.StaveId == stave)
                .Select(bar => $"{Svg.N(Recipe!.Usual(bar.From))}-{Svg.N(bar.Stays ? Recipe.LengthSeconds : Recipe.Usual(bar.To))}")
        );
}
