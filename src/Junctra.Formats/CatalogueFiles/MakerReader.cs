using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads a file of <c>makers/</c>.</summary>
internal static class MakerReader
{
    public static Maker? Read(CatalogueNode root, List<KeyFamily> families, Dictionary<string, string> modelPlaces)
    {
        var name = root.Text("maker");
        var grammarNode = root.Child("grammar");
        var grammar = ReadGrammar(grammarNode, name, out var example);
        var variables = root.Child("link-variables").Entries().Select(entry => ReadVariable(entry.Key, entry.Value)).ToList();
        var models = root.Children("models").Select(node => ReadModel(node, families, modelPlaces)).ToList();
        var fuses = root.Flag("rollback-fuses");
        var forbidsOlder = root.Flag("forbids-older");
        var allRegions = root.Flag("one-build-for-all-regions");
        var radio = root.Has("radio") ? ReadRadio(root.Child("radio"), name) : null;
        var loaders = root.Has("loaders") ? root.Children("loaders").Select(ReadLoader).ToList() : [];
        root.RejectUnknownKeys();
        foreach (var twice in loaders.GroupBy(loader => loader.Chip).Where(group => group.Count() > 1))
            root.Problem($"{twice.Key} has {twice.Count()} emergency loaders; give the one that supports the most.", "loaders");
        return grammar is null
            ? null
            : new Maker(name, fuses, forbidsOlder, allRegions, grammar, variables, models, example) { Radio = radio, Loaders = loaders };
    }

    private static RadioRules? ReadRadio(CatalogueNode node, string maker)
    {
        var older = node.Word("older", CatalogueWords.Older, CatalogueWords.Olders);
        var grammar = ReadGrammar(node.Child("grammar"), maker, out _);
        node.RejectUnknownKeys();
        return grammar is null ? null : new RadioRules(grammar, older);
    }

    private static EmergencyLoader ReadLoader(CatalogueNode node)
    {
        var loader = new EmergencyLoader(node.Text("chip"), (int)node.Number("highest-revision", 0, 999))
        {
            File = node.Has("file") ? node.Text("file") : null,
        };
        if (loader.File is { } file && file != Path.GetFileName(file))
            node.Problem("A loader's file lies in the shop's folder of loaders: give its name alone.", "file");
        node.RejectUnknownKeys();
        return loader;
    }

    private static BuildGrammar? ReadGrammar(CatalogueNode node, string maker, out string example)
    {
        var pattern = node.Text("pattern");
        var order = node.Texts("order");
        example = node.Text("example");
        var format = node.OptionalText("format");
        var fields = node.Has("fields") ? node.Child("fields").Entries().Select(entry => ReadField(entry.Key, entry.Value)).ToList() : [];
        node.RejectUnknownKeys();
        if (pattern.Length == 0)
            return null;
        try
        {
            var grammar = new BuildGrammar(maker, pattern, order, fields, format);
            if (grammar.Read(example) is not { } reading)
                node.Problem($"The grammar does not read its own example {example}.", "example");
            else if (format is not null && grammar.Format(reading.Fields) != example)
                node.Problem($"The format makes {grammar.Format(reading.Fields)} out of the example {example}.", "format");
            return grammar;
        }
        catch (ArgumentException error)
        {
            // The framework adds the parameter's name; whoever edits the file has no use for it.
            node.Problem(
                $"The grammar cannot be used: {error.Message.Split(" (Parameter")[0]}",
                error.ParamName is "format" ? "format"
                    : error.ParamName is "order" ? "order"
                    : "pattern"
            );
            return null;
        }
    }

    private static GrammarField ReadField(string name, CatalogueNode node)
    {
        var form = node.Word("type", CatalogueWords.Field, CatalogueWords.Fields);
        FactName? tells = null;
        if (node.Has("tells"))
        {
            tells = FactName.Parse(node.Text("tells"));
            if (tells is null)
                node.Problem($"tells names {node.Text("tells")}, which is no fact.", "tells");
        }

        var reads = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        if (node.Has("reads"))
        {
            foreach (var (letters, meaning) in node.Child("reads").Entries())
                reads[letters.ToUpperInvariant()] = meaning.Scalar ?? "";
        }

        var field = new GrammarField(
            name,
            form,
            tells,
            node.Has("from") ? (long)node.Number("from", 0, 1e12) : 0,
            node.Has("to") ? (long)node.Number("to", 0, 1e12) : long.MaxValue,
            reads,
            node.OptionalText("within")
        );
        node.RejectUnknownKeys();
        return field;
    }

    private static LinkVariable ReadVariable(string fact, CatalogueNode node)
    {
        var reads = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        var variable = node.Text("variable");
        if (node.Has("reads"))
        {
            foreach (var (word, meaning) in node.Child("reads").Entries())
                reads[word] = meaning.Scalar ?? "";
        }

        node.RejectUnknownKeys();
        if (fact.Length > 0 && FactName.Parse(fact) is null)
            node.Problem($"{fact} is no fact.");
        if (fact.Length > 0)
            return new LinkVariable(new FactName(fact), variable, reads);
        node.Problem("A link variable needs the name of its fact.");
        return new LinkVariable(FactName.Mode, variable, reads);
    }

    private static PhoneModel ReadModel(CatalogueNode node, List<KeyFamily> families, Dictionary<string, string> modelPlaces)
    {
        var place = node.Child("find-model-code");
        var partitions = node.Children("partitions")
            .Select(part =>
            {
                var spec = new PartitionSpec(
                    part.Text("name"),
                    part.Word("role", CatalogueWords.Role, CatalogueWords.Roles),
                    part.Size("size"),
                    part.Flag("stock")
                );
                part.RejectUnknownKeys();
                return spec;
            })
            .ToList();
        var model = new PhoneModel(
            node.Text("code").ToUpperInvariant(),
            node.Text("name"),
            node.Text("chip"),
            node.Text("key-family"),
            node.Word("write-mode", PhoneModes.Parse, CatalogueWords.Modes),
            node.Word("package-kind", CatalogueWords.Kind, CatalogueWords.Kinds),
            node.Flag("battery-out"),
            node.Flag("relock-erases", true),
            [.. node.Texts("storage-gb").Select(text => int.TryParse(text, out var size) ? size : 0)],
            new ReadingPlace(place.Text("where"), place.Number("minutes", 0.1, 120)),
            partitions,
            node.Flag("carrier-locked"),
            node.Flag("tamper-fuse"),
            node.Has("slots") ? (int)node.Number("slots", 1, 2) : 1,
            node.Flag("sold-both-ways")
        );
        if (node.Has("card-update"))
        {
            var card = node.Child("card-update");
            model = model with { CardUpdate = new CardUpdateSpec(card.Text("file-name"), card.Text("card-name")) };
            card.RejectUnknownKeys();
        }

        if (node.Has("slotted-partitions"))
            model = model with { SlottedPartitions = [.. node.Texts("slotted-partitions")] };
        if (node.Has("dynamic-partitions"))
            model = model with { DynamicPartitions = [.. node.Texts("dynamic-partitions")] };
        place.RejectUnknownKeys();
        node.RejectUnknownKeys();
        if (model.Slots < 2 && (model.SlottedPartitions.Count > 0 || model.DynamicPartitions.Count > 0))
            node.Problem("A model with one slot has neither slotted nor dynamic partitions.", "slots");
        foreach (var name in model.SlottedPartitions.Where(name => model.Partition(name) is null))
            node.Problem($"slotted-partitions names {name}, which is not in the layout.", "slotted-partitions");

        if (model.StorageSizesGb.Any(size => size <= 0))
            node.Problem("storage-gb must list whole numbers of gigabytes.");
        if (!families.Any(family => family.Id == model.KeyFamily))
            node.Problem($"The key family {model.KeyFamily} is not described in key-families.");
        foreach (var twice in partitions.GroupBy(p => p.Name).Where(group => group.Count() > 1))
            node.Problem($"The partition {twice.Key} stands in {model.Code} {twice.Count()} times.");
        if (!partitions.Any(p => p.Role == PartitionRole.BootChain))
            node.Problem($"The layout of {model.Code} has no boot chain.");
        if (!modelPlaces.TryAdd(model.Code, $"{node.File}:{node.Line}"))
            node.Problem($"The model {model.Code} is described already at {modelPlaces[model.Code]}.");
        return model;
    }
}
