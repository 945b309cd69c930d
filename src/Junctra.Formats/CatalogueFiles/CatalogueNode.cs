using System.Globalization;
using YamlDotNet.Core;
using YamlDotNet.RepresentationModel;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>
/// One mapping of a catalogue file. Reading a key marks it as known; whatever is wrong is added to the problems with its
/// file and line, and reading goes on with a stand-in value, so that one look shows every mistake of a file.
/// </summary>
internal sealed class CatalogueNode(string file, YamlNode node, List<CatalogueProblem> problems)
{
    private readonly HashSet<string> known = [];
    private readonly YamlMappingNode? map = node as YamlMappingNode;

    public string File => file;

    public int Line => (int)node.Start.Line;

    public void Problem(string text, YamlNode? at = null) => problems.Add(new CatalogueProblem(file, (int)(at ?? node).Start.Line, text));

    /// <summary>A problem at one key of this group, or at the group where it has no such key.</summary>
    public void Problem(string text, string key) => Problem(text, Find(key));

    public string Text(string key) => OptionalText(key) ?? Missing(key, "");

    public string? OptionalText(string key)
    {
        if (Find(key) is not { } value)
            return null;
        if (value is YamlScalarNode { Value: { Length: > 0 } text } scalar && !IsNothing(scalar))
            return text;
        Problem($"{key} must be a text.", value);
        return "";
    }

    public double Number(string key, double least, double most)
    {
        if (Find(key) is not { } value)
            return Missing(key, least);
        if (
            value is YamlScalarNode { Value: { } text }
            && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            && number >= least
            && number <= most
        )
            return number;
        Problem($"{key} must be a number from {least} to {most}.", value);
        return least;
    }

    public bool Flag(string key, bool otherwise = false)
    {
        if (Find(key) is not { } value)
            return otherwise;
        if (value is YamlScalarNode { Value: "true" or "false" } scalar)
            return scalar.Value == "true";
        Problem($"{key} must be true or false.", value);
        return otherwise;
    }

    /// <summary>A size such as <c>4 MiB</c>, <c>256 KiB</c>, <c>6 GiB</c> or <c>512 bytes</c>.</summary>
    public long Size(string key)
    {
        var text = Text(key);
        var parts = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        long unit =
            parts.Length == 2
                ? parts[1] switch
                {
                    "bytes" => 1,
                    "KiB" => 1L << 10,
                    "MiB" => 1L << 20,
                    "GiB" => 1L << 30,
                    _ => 0,
                }
                : 0;
        if (
            unit > 0
            && long.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            && number is > 0 and < 1 << 20
        )
            return number * unit;
        if (text.Length > 0)
            Problem($"{key} must be a size such as 4 MiB.", Find(key));
        return 1;
    }

    public T Word<T>(string key, Func<string, T?> read, string allowed)
        where T : struct
    {
        var text = Text(key);
        if (text.Length == 0)
            return default;
        if (read(text) is { } value)
            return value;
        Problem($"{key} is {text}; it must be one of {allowed}.", Find(key));
        return default;
    }

    public CatalogueNode Child(string key)
    {
        if (Find(key) is YamlMappingNode child)
            return new CatalogueNode(file, child, problems);
        Problem($"{key} is missing, or is no group of keys.", Find(key));
        return new CatalogueNode(file, new YamlMappingNode(), []);
    }

    public IReadOnlyList<CatalogueNode> Children(string key) => [.. Items(key).Select(item => new CatalogueNode(file, item, problems))];

    public IReadOnlyList<string> Texts(string key) =>
        [
            .. Items(key)
                .Select(item =>
                {
                    if (item is YamlScalarNode { Value: { Length: > 0 } text })
                        return text;
                    Problem($"{key} must be a list of texts.", item);
                    return "";
                }),
        ];

    /// <summary>The keys of a mapping whose keys are data, with their values.</summary>
    public IEnumerable<(string Key, CatalogueNode Value)> Entries()
    {
        foreach (var (key, value) in map?.Children ?? Enumerable.Empty<KeyValuePair<YamlNode, YamlNode>>())
        {
            var name = (key as YamlScalarNode)?.Value ?? "";
            known.Add(name);
            yield return (name, new CatalogueNode(file, value, problems));
        }
    }

    /// <summary>Whether a key holds a group of keys.</summary>
    public bool IsGroup(string key) => Find(key) is YamlMappingNode;

    public bool IsList => node is YamlSequenceNode;

    /// <summary>The items of a list.</summary>
    public IReadOnlyList<CatalogueNode> Items() =>
        node is YamlSequenceNode list ? [.. list.Children.Select(item => new CatalogueNode(file, item, problems))] : [];

    public bool Has(string key) => Find(key) is not null;

    /// <summary>Whether it is there and says nothing: <c>null</c>, a tilde, or no value at all.</summary>
    public bool IsNull => node is YamlScalarNode scalar && IsNothing(scalar);

    private static bool IsNothing(YamlScalarNode scalar) =>
        scalar.Style is ScalarStyle.Plain or ScalarStyle.Any && (scalar.Value is null or "" or "~" or "null" or "Null" or "NULL");

    public string? Scalar => (node as YamlScalarNode)?.Value;

    /// <summary>Says of every key that nobody read that it is unknown: most are misspelt.</summary>
    public void RejectUnknownKeys()
    {
        if (map is null)
        {
            if (node is not YamlMappingNode)
                Problem("A group of keys is expected here.");
            return;
        }

        foreach (var key in map.Children.Keys.OfType<YamlScalarNode>().Where(key => !known.Contains(key.Value ?? "")))
            Problem($"The key {key.Value} is not known here.", key);
    }

    private IEnumerable<YamlNode> Items(string key)
    {
        switch (Find(key))
        {
            case YamlSequenceNode sequence:
                return sequence.Children;
            case null:
                Missing(key, 0);
                return [];
            case var other:
                Problem($"{key} must be a list.", other);
                return [];
        }
    }

    private YamlNode? Find(string key)
    {
        known.Add(key);
        return map is not null && map.Children.TryGetValue(new YamlScalarNode(key), out var value) ? value : null;
    }

    private T Missing<T>(string key, T otherwise)
    {
        Problem($"{key} is missing.");
        return otherwise;
    }
}
