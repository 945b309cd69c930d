using YamlDotNet.Core;
using YamlDotNet.Core.Events;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>
/// Looks through a YAML text event by event before it is made into a tree: a tree that is too deep, or that holds itself, ends the whole
/// program when it is walked, and no exception tells of it.
/// </summary>
internal static class YamlGuard
{
    /// <summary>Longest text.</summary>
    public const int MaxCharacters = 2 << 20;

    private const int MaxDepth = 32;
    private const int MaxEvents = 400_000;
    private const int MaxAliases = 1_000;

    /// <summary>Refuses a text that cannot safely be made into a tree.</summary>
    /// <exception cref="YamlException">It is no YAML, or is refused; the message says why.</exception>
    public static void Check(string text)
    {
        if (text.Length > MaxCharacters)
            throw new YamlException($"It has more than {MaxCharacters} characters.");
        // The scanner itself goes as deep as the brackets of one flow do, before any event comes of them.
        var depth = 0;
        foreach (var c in text)
        {
            if (c is '[' or '{' && ++depth > MaxDepth * 4)
                throw new YamlException("It has more brackets in each other than any file of this kind.");
            if (c is ']' or '}' or '\n' && depth > 0)
                depth--;
        }

        var parser = new Parser(new StringReader(text));
        var open = new Stack<Level>();
        var (events, aliases) = (0, 0);
        while (parser.MoveNext())
        {
            var what = parser.Current!;
            if (++events > MaxEvents)
                throw Refused(what, "It has more in it than any file of this kind.");
            switch (what)
            {
                case MappingStart or SequenceStart:
                    if (open.TryPeek(out var outer) && outer.WantsKey)
                        throw Refused(what, "A key must be a text.");
                    outer?.Turn();
                    open.Push(new Level(what is MappingStart, ((NodeEvent)what).Anchor is { IsEmpty: false } anchor ? anchor.Value : null));
                    if (open.Count > MaxDepth)
                        throw Refused(what, $"It is more than {MaxDepth} deep.");
                    break;
                case MappingEnd or SequenceEnd:
                    open.Pop();
                    break;
                case AnchorAlias alias:
                    if (open.TryPeek(out var around) && around.WantsKey)
                        throw Refused(what, "A key must be a text.");
                    around?.Turn();
                    if (open.Any(level => level.Anchor == alias.Value.Value))
                        throw Refused(what, $"{alias.Value.Value} holds itself.");
                    if (++aliases > MaxAliases)
                        throw Refused(what, "It repeats itself more often than any file of this kind.");
                    break;
                case Scalar:
                    if (open.TryPeek(out var holder))
                        holder.Turn();
                    break;
            }
        }
    }

    private static YamlException Refused(ParsingEvent at, string why) => new(at.Start, at.End, why);

    /// <summary>A mapping or a list that is open. In a mapping, keys and values take turns.</summary>
    private sealed class Level(bool isMapping, string? anchor)
    {
        private bool isValue;

        public string? Anchor => anchor;

        public bool WantsKey => isMapping && !isValue;

        public void Turn() => isValue = isMapping && !isValue;
    }
}
