using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// A package to scale: part by part, each image as wide as its expanded bytes, and beneath it how far it fills its partition.
/// </summary>
[HtmlTargetElement("package-map", TagStructure = TagStructure.WithoutEndTag)]
public sealed class PackageMapTagHelper : TagHelper
{
    private const double Width = 1000,
        BarHeight = 42,
        FillHeight = 8,
        LabelRow = 17,
        Gap = 3,
        Least = 7,
        LetterWidth = 7.4;

    public required Package Package { get; set; }

    public required IReadOnlyList<ImageFit> Fits { get; set; }

    /// <summary>Where the images of a package lie on the strip.</summary>
    /// <param name="bytes">Expanded size of each.</param>
    /// <param name="width">Width of the strip.</param>
    /// <returns>Left edge and width of each, in order; small ones are as wide as can still be seen, and the rest share what is left to
    /// scale.</returns>
    internal static IReadOnlyList<(double X, double Width)> Lay(IReadOnlyList<long> bytes, double width)
    {
        var room = width - Gap * Math.Max(0, bytes.Count - 1);
        var least = Math.Min(Least, room / Math.Max(1, bytes.Count));
        var small = new HashSet<int>();
        double left,
            sum;
        while (true)
        {
            left = room - small.Count * least;
            sum = Enumerable.Range(0, bytes.Count).Where(i => !small.Contains(i)).Sum(i => (double)bytes[i]);
            // Making small ones wider takes room from the others, which may make the next one small.
            var more = Enumerable
                .Range(0, bytes.Count)
                .Where(i => !small.Contains(i) && (sum <= 0 || bytes[i] / sum * left < least))
                .ToList();
            if (more.Count == 0)
                break;
            small.UnionWith(more);
        }

        var places = new List<(double, double)>();
        double x = 0;
        for (var i = 0; i < bytes.Count; i++)
        {
            var own = small.Contains(i) ? least : bytes[i] / sum * left;
            places.Add((x, own));
            x += own + Gap;
        }

        return places;
    }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var ordered = Package
            .Parts.SelectMany(part => part.Images.Select(image => (Part: part, Fit: Fits.First(fit => fit.Image == image))))
            .ToList();
        var places = Lay([.. ordered.Select(one => one.Fit.Image.Body.ExpandedBytes)], Width);
        var svg = new Svg().Title(
            "What is in the package, by size: "
                + string.Join(
                    "; ",
                    ordered.Select(one =>
                        $"{one.Fit.Image.Partition} {ByteSize.Text(one.Fit.Image.Body.ExpandedBytes)}{(one.Fit.Fill is { } fill ? $", fills {fill * 100:0} % of its partition" : "")}"
                    )
                )
                + "."
        );
        var rows = new List<double>();
        for (var i = 0; i < ordered.Count; i++)
        {
            var ((x, width), (part, fit)) = (places[i], ordered[i]);
            svg.Open(
                "g",
                ("class", $"image {Css(part, fit.Image)}{(fit.Fill > 1 ? " over" : "")}"),
                ("data-partition", fit.Image.Partition),
                ("data-width", Svg.N(width))
            );
            svg.Rect(x, 2, width, BarHeight, "box", 4);
            svg.Rect(x, 2 + BarHeight + 3, width, FillHeight, "track", 2);
            if (fit.Fill is { } fill)
                svg.Rect(x, 2 + BarHeight + 3, width * Math.Min(1, fill), FillHeight, "fill", 2);
            var label =
                fit.Image.Partition
                + part.Kind switch
                {
                    PartKind.KeepDataPack => " (keep)",
                    PartKind.CleanPack when fit.Image.Role != PartitionRole.UserData => " (clean)",
                    _ => "",
                };
            var needed = label.Length * LetterWidth + 8;
            if (needed <= width)
            {
                svg.Text(x + width / 2, 2 + BarHeight / 2 + 5, label, "inside", "middle");
            }
            else
            {
                // The first row beneath in which nothing stands there yet.
                var left = Math.Min(x, Width - needed);
                var row = rows.FindIndex(end => end <= left);
                if (row < 0)
                {
                    row = rows.Count;
                    rows.Add(0);
                }

                rows[row] = left + needed;
                svg.Text(left, 2 + BarHeight + FillHeight + 20 + row * LabelRow, label, "under");
            }

            svg.Close("g");
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "package-map");
        output.Attributes.SetAttribute("viewBox", $"0 0 {Svg.N(Width)} {Svg.N(2 + BarHeight + FillHeight + 10 + rows.Count * LabelRow)}");
        output.Attributes.SetAttribute("role", "img");
        output.Content.SetHtmlContent(svg.ToString());
    }

    private static string Css(PackagePart part, PackageImage image) =>
        image.Digest == DigestState.Differs ? "spoilt"
        : part.Kind == PartKind.CleanPack || image.Role == PartitionRole.UserData ? "erases"
        : part.Kind == PartKind.KeepDataPack ? "keeps"
        : image.Role == PartitionRole.BootChain ? "chain"
        : image.Role is null ? "unknown"
        : "plain";
}
