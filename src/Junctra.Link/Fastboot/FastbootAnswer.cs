using System.Globalization;
using System.Text;
using Junctra.Core;

namespace Junctra.Link.Fastboot;

/// <summary>The four kinds of message that a bootloader sends.</summary>
internal enum FastbootAnswerKind
{
    Okay,
    Fail,
    Info,
    Data,
}

/// <summary>One message of a bootloader; its text is cleaned and bounded.</summary>
internal readonly record struct FastbootAnswer(FastbootAnswerKind Kind, string Text, long Bytes)
{
    private const int MaxText = 300;

    public static FastbootAnswer Read(byte[] message)
    {
        var text = ShownText.Of(Encoding.UTF8.GetString(message));
        var rest = Clean(text.Length > 4 ? text[4..] : "");
        return (text.Length >= 4 ? text[..4] : text) switch
        {
            "OKAY" => new FastbootAnswer(FastbootAnswerKind.Okay, rest, 0),
            "FAIL" => new FastbootAnswer(FastbootAnswerKind.Fail, rest.Length > 0 ? rest : "no reason given", 0),
            "INFO" or "TEXT" => new FastbootAnswer(FastbootAnswerKind.Info, rest, 0),
            "DATA" when long.TryParse(rest, NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture, out var bytes) =>
                new FastbootAnswer(FastbootAnswerKind.Data, rest, bytes),
            var head => throw new InvalidDataException($"It answered “{Clean(head)}”."),
        };
    }

    private static string Clean(string text)
    {
        var clean = new string([.. text.Select(c => char.IsControl(c) || c == '\uFFFD' ? ' ' : c)]).Trim();
        return clean.Length <= MaxText ? clean : clean[..MaxText];
    }
}
