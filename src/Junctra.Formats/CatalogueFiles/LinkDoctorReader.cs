using Junctra.Core.Catalogue;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads <c>link-doctor.yaml</c>.</summary>
internal static class LinkDoctorReader
{
    // Signs that a list can be read as by itself; the catalogue must have words for each.
    private static readonly string[] Needed = ["nothing", "warning", "unauthorised", "wrong-mode", "two-listed", "right"];

    public static LinkTables Read(CatalogueNode root)
    {
        var signs = root.Children("signs")
            .Select(node =>
            {
                var sign = new LinkSign(node.Text("id"), node.Text("label"), node.Text("looks"), node.Text("means"), node.Flag("well"));
                node.RejectUnknownKeys();
                return sign;
            })
            .ToList();
        foreach (var missing in Needed.Where(id => !signs.Any(sign => sign.Id == id)))
            root.Problem($"The sign {missing} is missing.", "signs");
        var remedies = root.Children("remedies").Select(node => ReadRemedy(node, signs)).ToList();
        foreach (var twice in remedies.GroupBy(remedy => remedy.Id).Where(group => group.Count() > 1))
            root.Problem($"The remedy {twice.Key} stands here {twice.Count()} times.", "remedies");
        var tables = new LinkTables(signs, remedies, root.Number("weight", 0.1, 1000));
        root.RejectUnknownKeys();
        return tables;
    }

    private static LinkRemedy ReadRemedy(CatalogueNode node, List<LinkSign> signs)
    {
        var chances = new Dictionary<string, double>(StringComparer.Ordinal);
        var group = node.Child("chances");
        foreach (var (sign, _) in group.Entries().ToList())
        {
            if (!signs.Any(known => known.Id == sign))
                group.Problem($"{sign} is no sign of this file.", sign);
            chances[sign] = group.Number(sign, 0.001, 0.999);
        }

        var remedy = new LinkRemedy(
            node.Text("id"),
            node.Text("label"),
            node.Text("words"),
            node.Number("minutes", 0.05, 240),
            node.Has("about") ? node.Word("about", CatalogueWords.Thing, CatalogueWords.Things) : LinkThing.None,
            chances
        );
        node.RejectUnknownKeys();
        return remedy;
    }
}
