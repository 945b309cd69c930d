using System.Globalization;
using Junctra.Core.Boards;
using Junctra.Core.Catalogue;
using Junctra.Formats.Boards;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads a file of <c>boards/</c>, with the netlist that it names.</summary>
internal static class BoardReader
{
    private static readonly Dictionary<string, NetRole> Roles = new(StringComparer.Ordinal)
    {
        ["storage-reset"] = NetRole.StorageReset,
        ["boot-select"] = NetRole.BootSelect,
        ["ground"] = NetRole.Ground,
        ["supply"] = NetRole.Supply,
    };

    public static BoardGuide? Read(CatalogueNode root, string folder, IReadOnlyCollection<string> models)
    {
        var ofModels = root.Texts("models");
        foreach (var unknown in ofModels.Where(code => !models.Contains(code, StringComparer.OrdinalIgnoreCase)))
            root.Problem($"{unknown} is no model of the catalogue.", "models");
        var board = ReadNetlist(root, folder);
        var map = board is null ? null : ReadMap(root, board);
        var size = root.Child("phone");
        var (width, height) = (size.Number("width-mm", 10, 1000), size.Number("height-mm", 10, 1000));
        size.RejectUnknownKeys();
        var screws = root.Children("screws").Select(ReadScrew).ToList();
        foreach (var twice in screws.GroupBy(screw => screw.Id).Where(group => group.Count() > 1))
            root.Problem($"The screw {twice.Key} stands here {twice.Count()} times.", "screws");
        var steps = ReadSteps(root, "opening", RescuePhase.Open)
            .Concat(ReadSteps(root, "closing-for-keys", RescuePhase.CloseForKeys))
            .Concat(ReadSteps(root, "closing-up", RescuePhase.CloseUp))
            .ToList();
        foreach (var twice in steps.GroupBy(step => step.Id).Where(group => group.Count() > 1))
            root.Problem($"The step {twice.Key} stands here {twice.Count()} times.", "opening");
        foreach (var step in steps)
        foreach (var screw in step.Screws.Where(id => screws.TrueForAll(known => known.Id != id)))
            root.Problem($"The step {step.Id} names the screw {screw}, which is none.", "screws");
        foreach (var step in steps)
        foreach (var undone in step.Undoes.Where(id => !steps.Exists(known => known.Id == id && known.Phase == RescuePhase.Open)))
            root.Problem($"The step {step.Id} undoes {undone}, which is no step of the opening.", "closing-up");
        // A screw without a step to put it back would keep the phone open for ever.
        foreach (var (screw, isIn) in screws.SelectMany(screw => new[] { (screw, false), (screw, true) }))
            if (steps.Count(step => step.PutsScrewsIn == isIn && step.Screws.Contains(screw.Id)) is var times and not 1)
                root.Problem($"The screw {screw.Id} {(isIn ? "goes in" : "comes out")} at {times} steps; it must be one.", "screws");
        if (steps.Count(step => step.Disconnects) != 1 || steps.Exists(step => step.Disconnects && step.PutsScrewsIn))
            root.Problem("One step of the opening takes the supply away (disconnects: true), and one alone.", "opening");
        var worth = root.Child("worth");
        var figures = new RescueFigures(
            worth.Number("phone", 0, 1e6),
            worth.Number("parts", 0, 1e6),
            worth.Number("labour-an-hour", 0, 1e5),
            worth.Number("succeeds", 0.01, 0.99)
        );
        worth.RejectUnknownKeys();
        // Without a board nothing else was asked for, and all of it would be told as unknown.
        if (board is not null)
            root.RejectUnknownKeys();
        return board is null || map is null ? null : new BoardGuide(ofModels, board, map, screws, width, height, steps, figures);
    }

    private static Netlist? ReadNetlist(CatalogueNode root, string folder)
    {
        var name = root.Text("netlist");
        if (name.Length == 0)
            return null;
        if (name != Path.GetFileName(name))
        {
            root.Problem("A netlist lies beside its file: give its name alone.", "netlist");
            return null;
        }

        try
        {
            using var file = File.OpenRead(Path.Combine(folder, "boards", name));
            var board = NetlistReader.Read(file);
            foreach (var finding in board.Findings)
                root.Problem($"{name}, line {finding.Line}: {finding.Text}", "netlist");
            return board;
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            root.Problem($"The netlist cannot be read: {error.Message}", "netlist");
            return null;
        }
    }

    private static BoardMap ReadMap(CatalogueNode root, Netlist board)
    {
        var nets = new Dictionary<NetRole, IReadOnlyList<string>>();
        var group = root.Child("nets");
        var known = board.Pads.Select(pad => pad.Net).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var (name, role) in Roles.Where(role => group.Has(role.Key)))
        {
            nets[role] = group.Texts(name);
            foreach (var net in nets[role].Where(net => !known.Contains(net)))
                group.Problem($"The netlist has no net {net}.", name);
        }

        if (!nets.ContainsKey(NetRole.StorageReset) && !nets.ContainsKey(NetRole.BootSelect))
            group.Problem("Neither storage-reset nor boot-select names a net: there is nothing to hold a needle to.");
        group.RejectUnknownKeys();
        var shields = root.Children("shields")
            .Select(node =>
            {
                var shield = new BoardShield(
                    node.Text("name"),
                    node.Word(
                        "side",
                        text =>
                            text switch
                            {
                                "front" => BoardSide.Front,
                                "back" => BoardSide.Back,
                                _ => (BoardSide?)null,
                            },
                        "front, back"
                    ),
                    new(Nanometres(node, "left-mm"), Nanometres(node, "low-mm")),
                    new(Nanometres(node, "right-mm"), Nanometres(node, "high-mm")),
                    node.Flag("lifts")
                );
                if (shield.Low.X >= shield.High.X || shield.Low.Y >= shield.High.Y)
                    node.Problem($"The {shield.Name} has no area: left and low come before right and high.");
                node.RejectUnknownKeys();
                return shield;
            })
            .ToList();
        var landmarks = root.Children("landmarks")
            .Select(node =>
            {
                var landmark = new Landmark(node.Text("part"), node.Text("name"));
                if (!board.Pads.Any(pad => pad.Part == landmark.Part))
                    node.Problem($"The netlist has no part {landmark.Part}.", "part");
                node.RejectUnknownKeys();
                return landmark;
            })
            .ToList();
        return new BoardMap(nets, shields, landmarks);
    }

    private static long Nanometres(CatalogueNode node, string key) => (long)Math.Round(node.Number(key, -2000, 2000) * 1e6);

    private static Screw ReadScrew(CatalogueNode node)
    {
        var screw = new Screw(
            node.Text("id"),
            node.Number("x-mm", 0, 1000),
            node.Number("y-mm", 0, 1000),
            node.Number("length-mm", 0.5, 30),
            node.Text("holds"),
            node.Flag("for-keys")
        );
        node.RejectUnknownKeys();
        return screw;
    }

    // A sentence with a comma in it that stands in no quotes is read as several.
    private static IReadOnlyList<string> Sentences(CatalogueNode node, string key)
    {
        var sentences = node.Texts(key);
        foreach (var part in sentences.Where(sentence => sentence.Length > 0 && char.IsLower(sentence[0])))
            node.Problem($"“{part}” does not begin as a sentence does: one with a comma in it stands in quotes.", key);
        return sentences;
    }

    private static IEnumerable<RescueStep> ReadSteps(CatalogueNode root, string key, RescuePhase phase) =>
        root.Children(key)
            .Select(node =>
            {
                var minutes = node.Child("minutes");
                var step = new RescueStep(
                    node.Text("id"),
                    phase,
                    node.Text("title"),
                    Sentences(node, "words"),
                    new Band(minutes.Number("typical", 0.1, 600), minutes.Number("slow", 0.1, 600))
                )
                {
                    Cautions = node.Has("cautions") ? Sentences(node, "cautions") : [],
                    Screws = node.Has("screws") ? node.Texts("screws") : [],
                    Disconnects = node.Flag("disconnects"),
                    Opens = node.Flag("opens"),
                    Undoes = node.Has("undoes") ? node.Texts("undoes") : [],
                };
                if (step.Minutes.Slow < step.Minutes.Typical)
                    node.Problem(
                        string.Create(CultureInfo.InvariantCulture, $"Slow is never quicker than typical, {step.Minutes.Typical} minutes."),
                        "minutes"
                    );
                minutes.RejectUnknownKeys();
                node.RejectUnknownKeys();
                return step;
            });
}
