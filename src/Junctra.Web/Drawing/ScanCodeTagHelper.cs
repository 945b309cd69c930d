using System.Globalization;
using System.Text;
using Junctra.Core.Jobs;
using Microsoft.AspNetCore.Razor.TagHelpers;
using QRCoder;

namespace Junctra.Web.Drawing;

/// <summary>
/// A code (QR, ISO/IEC 18004, level M): of a ticket, for a hand scanner, <c>&lt;scan-code ticket="0418" /&gt;</c>, or of a text with a label.
/// </summary>
[HtmlTargetElement("scan-code", TagStructure = TagStructure.WithoutEndTag)]
public sealed class ScanCodeTagHelper : TagHelper
{
    /// <summary>The ticket.</summary>
    public string Ticket { get; set; } = "";

    /// <summary>The text, where it is no ticket's.</summary>
    public string? Text { get; set; }

    /// <summary>What the code of a text is, for whoever does not see it.</summary>
    public string? Label { get; set; }

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        using var generator = new QRCodeGenerator();
        using var code = generator.CreateQrCode(Text ?? TicketCode.Of(Ticket), QRCodeGenerator.ECCLevel.M);
        var rows = code.ModuleMatrix;
        var dark = new StringBuilder();
        for (var y = 0; y < rows.Count; y++)
        for (var x = 0; x < rows[y].Count; x++)
        {
            if (rows[y][x])
                dark.Append(CultureInfo.InvariantCulture, $"M{x} {y}h1v1h-1z");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "scan-code");
        output.Attributes.SetAttribute("viewBox", $"0 0 {rows.Count} {rows.Count}");
        output.Attributes.SetAttribute("shape-rendering", "crispEdges");
        output.Attributes.SetAttribute("role", "img");
        output.Attributes.SetAttribute("aria-label", Label ?? $"Code of ticket {Ticket}, for a scanner");
        // Scanners want dark on light, whatever the paper's colour.
        output.Content.SetHtmlContent($"<path fill=\"#fff\" d=\"M0 0h{rows.Count}v{rows.Count}H0z\"/><path fill=\"#000\" d=\"{dark}\"/>");
    }
}
