using System.Text;
using Junctra.Core.Boards;
using Junctra.Core.Catalogue;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Drawing;

/// <summary>
/// A board true to scale, as it lies before somebody: edge, shields, landmarks, pads by what their nets do, and the way of the eye from a
/// landmark to the pad that is looked for. Roles differ by shape as well as by colour.
/// </summary>
[HtmlTargetElement("board-drawing", TagStructure = TagStructure.WithoutEndTag)]
public sealed class BoardDrawingTagHelper : TagHelper
{
    // One unit of the drawing is a tenth of a millimetre.
    private const double Unit = 100_000;
    private const double Margin = 12;

    /// <summary>The nearest that a board is looked at: eight times.</summary>
    public const int MaxZoom = 3;

    public required BoardGuide Guide { get; set; }

    public required BoardView View { get; set; }

    /// <summary>The pad that is looked for; null for none.</summary>
    public BoardPad? Pad { get; set; }

    /// <summary>Where it lies, from a landmark.</summary>
    public Place? Place { get; set; }

    /// <summary>How much nearer than all of it, around the pad: 0 to <see cref="MaxZoom"/>, each twice as near.</summary>
    public int Zoom { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var (low, high) = Guide.Board.Bounds;
        var all = View.See(low, high);
        var (left, top, width, height) = (
            all.Left / Unit - Margin,
            all.Top / Unit - Margin,
            all.Width / Unit + 2 * Margin,
            all.Height / Unit + 2 * Margin
        );
        if (Zoom > 0)
        {
            // Around the pad, or the middle of the board where it is on the other side; never past the board's own edge.
            var middle = Pad is null ? (X: (all.Left + all.Right) / 2, Y: (all.Top + all.Bottom) / 2) : View.See(Pad.At);
            var (nearWidth, nearHeight) = (width / Nearer, height / Nearer);
            left = Math.Clamp(middle.X / Unit - nearWidth / 2, left, left + width - nearWidth);
            top = Math.Clamp(middle.Y / Unit - nearHeight / 2, top, top + height - nearHeight);
            (width, height) = (nearWidth, nearHeight);
        }

        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", $"board zoom-{Zoom}");
        output.Attributes.SetAttribute("viewBox", $"{Svg.N(left)} {Svg.N(top)} {Svg.N(width)} {Svg.N(height)}");
        output.Attributes.SetAttribute("role", "img");
        var svg = new Svg();
        svg.Title($"The board, {View.Words.ToLowerInvariant()}. {Place?.Text}");
        Edge(svg);
        Pads(svg);
        foreach (var shield in Guide.Map.Shields.Where(shield => shield.Side == View.Side))
        {
            var box = View.See(shield.Low, shield.High);
            svg.Rect(box.Left / Unit, box.Top / Unit, box.Width / Unit, box.Height / Unit, shield.Lifts ? "tape" : "shield", 3);
            if (Zoom < 2)
                svg.Text(
                    (box.Left + box.Right) / 2 / Unit,
                    (shield.Lifts ? box.Top / Unit + 11 : (box.Top + box.Bottom) / 2 / Unit),
                    shield.Name,
                    "shield-name",
                    "middle"
                );
        }

        Landmarks(svg);
        Target(svg);
        // Five millimetres, to hold against a rule.
        var (scaleX, scaleY, tick) = (left + Margin / Nearer, top + height - Margin / 2 / Nearer, 4 / Nearer);
        svg.Line(scaleX, scaleY, scaleX + 50, scaleY, "scale")
            .Line(scaleX, scaleY - tick, scaleX, scaleY + tick, "scale")
            .Line(scaleX + 50, scaleY - tick, scaleX + 50, scaleY + tick, "scale");
        svg.Text(scaleX + 50 + tick, scaleY + tick * 0.75, "5 mm", "scale-words");
        output.Content.SetHtmlContent(svg.ToString());
    }

    // Marks and words stay as large as they are, however near the board is.
    private double Nearer => 1 << Zoom;

    private void Edge(Svg svg)
    {
        if (Guide.Board.Outline.Count == 0)
            return;
        var path = new StringBuilder();
        foreach (var corner in Guide.Board.Outline)
        {
            var (x, y) = View.See(corner);
            path.Append(path.Length == 0 ? 'M' : 'L').Append(Svg.N(x / Unit)).Append(' ').Append(Svg.N(y / Unit));
        }

        svg.Path(path.Append('Z').ToString(), "edge");
    }

    private void Pads(Svg svg)
    {
        var back = Guide.Board.BackLayer;
        var byClass = new SortedDictionary<string, StringBuilder>(StringComparer.Ordinal);
        foreach (var pad in Guide.Board.Pads)
        {
            if (pad.Kind == PadKind.Tooling)
            {
                var (x, y) = View.See(pad.At);
                svg.Circle(x / Unit, y / Unit, pad.Reach.X / Unit, "hole");
                continue;
            }

            if (!pad.IsOpenTo(View.Side, back) || Guide.Map.Over(pad, View.Side) is not null)
                continue;
            var kind = Guide.Map.RoleOf(pad.Net) switch
            {
                NetRole.Supply => "pad-supply",
                NetRole.Ground => "pad-ground",
                NetRole.StorageReset or NetRole.BootSelect => "pad-wanted",
                _ => "pad",
            };
            if (!byClass.TryGetValue(kind, out var path))
                byClass[kind] = path = new StringBuilder();
            Draw(path, View.See(pad), pad.Height == 0);
            if (kind == "pad-supply")
                Crossed(path, View.See(pad));
        }

        foreach (var (kind, path) in byClass)
            svg.Path(path.ToString(), kind);
    }

    private static void Draw(StringBuilder path, SeenBox box, bool isRound)
    {
        var (w, h) = (Math.Max(1, box.Width / Unit), Math.Max(1, box.Height / Unit));
        if (isRound)
        {
            var r = Svg.N(w / 2);
            path.Append(
                $"M{Svg.N(box.Left / Unit)} {Svg.N((box.Top + box.Bottom) / 2 / Unit)}a{r} {r} 0 1 0 {Svg.N(w)} 0a{r} {r} 0 1 0 {Svg.N(-w)} 0"
            );
        }
        else
        {
            path.Append($"M{Svg.N(box.Left / Unit)} {Svg.N(box.Top / Unit)}h{Svg.N(w)}v{Svg.N(h)}h{Svg.N(-w)}z");
        }
    }

    // A cross over what must not be touched, for those to whom the colour says nothing.
    private static void Crossed(StringBuilder path, SeenBox box)
    {
        var (l, t, r, b) = (Svg.N(box.Left / Unit), Svg.N(box.Top / Unit), Svg.N(box.Right / Unit), Svg.N(box.Bottom / Unit));
        path.Append($"M{l} {t}L{r} {b}M{r} {t}L{l} {b}");
    }

    private void Landmarks(Svg svg)
    {
        foreach (var landmark in Guide.Map.Landmarks)
        {
            if (PadPlace.BoxOf(Guide.Board, landmark.Part, View, Guide.Board.BackLayer) is not { } box)
                continue;
            var isFrom = Place?.Landmark == landmark.Name;
            svg.Rect(
                box.Left / Unit - 3,
                box.Top / Unit - 3,
                box.Width / Unit + 6,
                box.Height / Unit + 6,
                isFrom ? "landmark from" : "landmark",
                2
            );
            svg.Text((box.Left + box.Right) / 2 / Unit, box.Bottom / Unit + 3 + 10 / Nearer, landmark.Name, "landmark-name", "middle");
        }
    }

    private void Target(Svg svg)
    {
        if (Pad is null)
            return;
        var (x, y) = (View.See(Pad.At).X / Unit, View.See(Pad.At).Y / Unit);
        if (Place is { Landmark.Length: > 0 } place)
        {
            var (fromX, fromY) = ((place.From.Left + place.From.Right) / 2 / Unit, (place.From.Top + place.From.Bottom) / 2 / Unit);
            svg.Line(fromX, fromY, x, y, "eye");
        }

        // Round the pad, never over it.
        var r = Math.Max(12 / Nearer, Math.Max(Pad.Reach.X, Pad.Reach.Y) / Unit + 4 / Nearer);
        var hair = 8 / Nearer;
        svg.Circle(x, y, r, "target");
        svg.Line(x - r - hair, y, x - r, y, "target")
            .Line(x + r, y, x + r + hair, y, "target")
            .Line(x, y - r - hair, x, y - r, "target")
            .Line(x, y + r, x, y + r + hair, "target");
    }
}
