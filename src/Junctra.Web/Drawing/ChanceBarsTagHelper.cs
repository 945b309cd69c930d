using Junctra.Core.Triage;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>What may be wrong: a bar for each candidate, the chance in words and figures beside it.</summary>
[HtmlTargetElement("chance-bars", TagStructure = TagStructure.WithoutEndTag)]
public sealed class ChanceBarsTagHelper : TagHelper
{
    private const double RowHeight = 34,
        NameWidth = 250,
        BarWidth = 156,
        Width = 560;

    public required Diagnosis Diagnosis { get; set; }

    /// <summary>How many candidates are drawn.</summary>
    public int Most { get; set; } = 5;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var shown = Diagnosis.Candidates.Take(Most).Where(candidate => candidate.Chance >= 0.005).ToList();
        var rest = Diagnosis.Candidates.Count - shown.Count;
        var height = shown.Count * RowHeight + (rest > 0 ? 20 : 4);
        var svg = new Svg().Title(
            $"What may be wrong: {string.Join("; ", shown.Select(candidate => $"{candidate.Class.Label} {candidate.Words}, {Percent(candidate.Chance)}"))}"
        );
        for (var i = 0; i < shown.Count; i++)
        {
            var y = i * RowHeight;
            svg.Text(0, y + 21, shown[i].Class.Label, i == 0 ? "name leads" : "name");
            svg.Rect(NameWidth, y + 8, BarWidth, 18, "track", 4);
            svg.Rect(NameWidth, y + 8, Math.Max(2, BarWidth * shown[i].Chance), 18, i == 0 ? "chance leads" : "chance", 4);
            svg.Text(NameWidth + BarWidth + 10, y + 21, shown[i].Words, "words");
            svg.Text(Width, y + 21, Percent(shown[i].Chance), "percent", "end");
        }

        if (rest > 0)
            svg.Text(NameWidth, shown.Count * RowHeight + 12, $"and {rest} that hardly fit", "rest");
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "chance-bars");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Width} {Svg.N(height)}");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
    }

    /// <summary>A chance as people say it: never 0 and never 100.</summary>
    public static string Percent(double chance) => chance < 0.01 ? "under 1 %" : $"{Math.Clamp(Math.Round(chance * 100), 1, 99)} %";
}
