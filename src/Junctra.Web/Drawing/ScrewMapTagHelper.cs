using System.Globalization;
using Junctra.Core.Rescue;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>The screws of an opened phone, each in its place with its length; what is out is hollow, what lies wrong is marked.</summary>
[HtmlTargetElement("screw-map", TagStructure = TagStructure.WithoutEndTag)]
public sealed class ScrewMapTagHelper : TagHelper
{
    public required RescueState State { get; set; }

    /// <summary>Screws of the step that is on.</summary>
    public IReadOnlyList<string> On { get; set; } = [];

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var guide = State.Guide;
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "screw-map");
        output.Attributes.SetAttribute("viewBox", $"-3 -3 {Svg.N(guide.WidthMm + 6)} {Svg.N(guide.HeightMm + 6)}");
        output.Attributes.SetAttribute("role", "img");
        var wrong = State.Wrong.Select(one => one.Screw.Id).ToHashSet();
        var svg = new Svg();
        svg.Title(
            "Screws of the opened phone, display down and socket below: "
                + string.Join(
                    "; ",
                    guide.Screws.Select(screw =>
                        FormattableString.Invariant(
                            $"{screw.Id}, {screw.LengthMm:0.0} mm, {(wrong.Contains(screw.Id) ? "wrong screw in it" : State.IsOut(screw) ? "out" : "in")}"
                        )
                    )
                )
        );
        svg.Rect(0, 0, guide.WidthMm, guide.HeightMm, "case", 6);
        svg.Rect(guide.WidthMm / 2 - 6, guide.HeightMm - 2.5, 12, 2.5, "socket", 1);
        foreach (var screw in guide.Screws)
        {
            var state =
                wrong.Contains(screw.Id) ? "wrong"
                : State.IsOut(screw) ? "out"
                : "in";
            svg.Circle(screw.X, screw.Y, 2.6, $"screw {state}{(On.Contains(screw.Id) ? " on" : "")}");
            svg.Text(screw.X, screw.Y - 3.8, screw.Id, "screw-id", "middle");
            svg.Text(screw.X, screw.Y + 6.6, screw.LengthMm.ToString("0.0", CultureInfo.InvariantCulture), "screw-length", "middle");
        }

        output.Content.SetHtmlContent(svg.ToString());
    }
}
