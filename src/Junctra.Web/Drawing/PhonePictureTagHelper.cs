using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>A drawn phone whose screen says what the real one should show now.</summary>
[HtmlTargetElement("phone-picture", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PhonePictureTagHelper : TagHelper
{
    /// <summary>What the screen should show.</summary>
    public required string Shows { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "div";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "phone-picture");
        output.Content.SetHtmlContent("<span class=\"phone-screen\" data-screen>").Append(Shows).AppendHtml("</span>");
    }
}
