using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads <c>reading-places.yaml</c>: where facts can be found, and what they decide.</summary>
internal static class GuideReader
{
    public static IReadOnlyList<FactGuide> Read(CatalogueNode root)
    {
        var guides = root.Children("facts").Select(ReadGuide).OfType<FactGuide>().ToList();
        root.RejectUnknownKeys();
        foreach (var twice in guides.GroupBy(guide => guide.Fact).Where(group => group.Count() > 1))
            root.Problem($"The fact {twice.Key} stands here {twice.Count()} times.");
        return guides;
    }

    private static FactGuide? ReadGuide(CatalogueNode node)
    {
        var name = FactName.Parse(node.Text("fact"));
        if (name is null)
            node.Problem($"{node.Text("fact")} is no fact.", "fact");
        var guide = new FactGuide(
            name ?? FactName.ModelCode,
            node.Text("decides"),
            node.Has("matters") ? node.Word("matters", CatalogueWords.Condition, CatalogueWords.Conditions) : MattersWhen.Always,
            [.. node.Children("places").Select(ReadPlace)]
        );
        node.RejectUnknownKeys();
        return name is null ? null : guide;
    }

    private static FactPlace ReadPlace(CatalogueNode node)
    {
        var modes = node.Has("in") ? node.Texts("in").Select(text => ModeOf(node, text)).ToList() : [];
        var place = new FactPlace(
            node.Text("where"),
            modes,
            node.Word("source", CatalogueWords.Source, CatalogueWords.Sources),
            node.Number("minutes", 0.1, 240)
        );
        node.RejectUnknownKeys();
        return place;
    }

    private static PhoneMode ModeOf(CatalogueNode node, string text)
    {
        if (PhoneModes.Parse(text) is { } mode)
            return mode;
        node.Problem($"in names {text}; it must be one of {CatalogueWords.Modes}.", "in");
        return PhoneMode.Unknown;
    }
}
