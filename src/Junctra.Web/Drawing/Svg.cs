using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;

namespace Junctra.Web.Drawing;

/// <summary>Writes SVG text. Every value goes through one of these methods, so that nothing is written unencoded.</summary>
internal sealed class Svg
{
    private readonly StringBuilder text = new();

    public static string N(double value) => Math.Round(value, 2).ToString(CultureInfo.InvariantCulture);

    /// <summary>An element without content.</summary>
    public Svg Add(string name, params (string Name, string Value)[] attributes)
    {
        Open(name, attributes);
        text.Insert(text.Length - 1, '/');
        return this;
    }

    /// <summary>Opens an element.</summary>
    public Svg Open(string name, params (string Name, string Value)[] attributes)
    {
        text.Append('<').Append(name);
        foreach (var (key, value) in attributes)
            text.Append(' ').Append(key).Append("=\"").Append(HtmlEncoder.Default.Encode(value)).Append('"');
        text.Append('>');
        return this;
    }

    /// <summary>Closes an element.</summary>
    public Svg Close(string name)
    {
        text.Append("</").Append(name).Append('>');
        return this;
    }

    /// <summary>A text at a place.</summary>
    public Svg Text(double x, double y, string content, string cssClass, string anchor = "start")
    {
        Open("text", ("x", N(x)), ("y", N(y)), ("class", cssClass), ("text-anchor", anchor));
        text.Append(HtmlEncoder.Default.Encode(content));
        return Close("text");
    }

    /// <summary>A title, which is the drawing's text for those who do not see it.</summary>
    public Svg Title(string content)
    {
        Open("title");
        text.Append(HtmlEncoder.Default.Encode(content));
        return Close("title");
    }

    public Svg Rect(double x, double y, double width, double height, string cssClass, double radius = 6) =>
        Add(
            "rect",
            ("x", N(x)),
            ("y", N(y)),
            ("width", N(Math.Max(0, width))),
            ("height", N(height)),
            ("rx", N(radius)),
            ("class", cssClass)
        );

    public Svg Line(double x1, double y1, double x2, double y2, string cssClass) =>
        Add("line", ("x1", N(x1)), ("y1", N(y1)), ("x2", N(x2)), ("y2", N(y2)), ("class", cssClass));

    public Svg Circle(double x, double y, double r, string cssClass) =>
        Add("circle", ("cx", N(x)), ("cy", N(y)), ("r", N(r)), ("class", cssClass));

    public Svg Path(string d, string cssClass) => Add("path", ("d", d), ("class", cssClass));

    /// <summary>Text between two elements.</summary>
    public Svg Encoded(string content)
    {
        text.Append(HtmlEncoder.Default.Encode(content));
        return this;
    }

    public override string ToString() => text.ToString();
}
