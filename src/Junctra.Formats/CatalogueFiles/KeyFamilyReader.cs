using Junctra.Core.Modes;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads a file of <c>key-families/</c>.</summary>
internal static class KeyFamilyReader
{
    public static KeyFamily Read(CatalogueNode root)
    {
        var staves = root.Children("staves").Select(node =>
        {
            var stave = new Stave(node.Text("id"), node.Text("name"));
            node.RejectUnknownKeys();
            return stave;
        }).ToList();
        var recipes = root.Children("recipes").Select(node => ReadRecipe(node, staves)).ToList();
        var family = new KeyFamily(root.Text("id"), root.Text("name"), staves, recipes);
        root.RejectUnknownKeys();
        foreach (var twice in recipes.GroupBy(recipe => recipe.Id).Where(group => group.Count() > 1))
            root.Problem($"The recipe {twice.Key} stands here {twice.Count()} times.");
        return family;
    }

    private static KeyRecipe ReadRecipe(CatalogueNode node, List<Stave> staves)
    {
        var length = node.Number("length-seconds", 1, 120);
        var recipe = new KeyRecipe(
            node.Text("id"), node.Text("name"),
            [.. node.Texts("from").Select(text => ReadMode(node, text))],
            node.Word("to", PhoneModes.Parse, CatalogueWords.Modes),
            node.Number("minutes", 0.05, 120), length,
            [.. node.Children("bars").Select(bar => ReadBar(bar, staves, length))],
            [.. node.Children("marks").Select(mark => Close(mark, new KeyMark(mark.Number("at", 0, length), mark.Text("screen"))))],
            node.Texts("before"), node.Texts("words"),
            [.. node.Children("wrong").Select(sign => Close(sign, new WrongSign(sign.Text("sees"), sign.Text("means"), sign.Text("then"))))]);
        node.RejectUnknownKeys();
        return recipe;
    }

    private static PhoneMode ReadMode(CatalogueNode node, string text)
    {
        if (PhoneModes.Parse(text) is { } mode) return mode;
        node.Problem($"from names {text}; it must be one of {CatalogueWords.Modes}.");
        return PhoneMode.Unknown;
    }

    private static KeyBar ReadBar(CatalogueNode node, List<Stave> staves, double length)
    {
        var bar = new KeyBar(node.Text("stave"), node.Number("from", 0, length), node.Number("to", 0, length), node.Text("label"));
        if (!staves.Any(stave => stave.Id == bar.StaveId)) node.Problem($"The stave {bar.StaveId} is not among the family's staves.");
        if (bar.ToSeconds <= bar.FromSeconds) node.Problem("A bar must end after it begins.");
        node.RejectUnknownKeys();
        return bar;
    }

    private static T Close<T>(CatalogueNode node, T value)
    {
        node.RejectUnknownKeys();
        return value;
    }
}
