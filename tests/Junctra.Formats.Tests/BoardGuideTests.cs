using Junctra.Core.Boards;
using Junctra.Core.Catalogue;
using Junctra.Formats.CatalogueFiles;
using Junctra.StandIns.Boards;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>What a shop writes of a phone's inside.</summary>
public sealed class BoardGuideTests
{
    private static readonly InventedBoard Made = InventedBoard.Of(InventedBoard.SeedOfTheDemo);

    private static BoardGuide Guide => Repo.Catalogue.BoardOf("TN63W")!;

    [Fact]
    public void The_demos_board_is_what_its_generator_makes()
    {
        Assert.Empty(Guide.Board.Findings);
        Assert.Equal(Made.Board.Pads.Select(pad => pad with { Line = 0 }), Guide.Board.Pads.Select(pad => pad with { Line = 0 }));
        Assert.Equal(Made.Board.Outline, Guide.Board.Outline);
        string Of(IEnumerable<BoardShield> shields) =>
            string.Join(
                "\n",
                shields.Select(s =>
                    $"  - {{ name: {s.Name}, side: {s.Side.ToString().ToLowerInvariant()}, left-mm: {s.Low.X / 1e6}, low-mm: {s.Low.Y / 1e6}, right-mm: {s.High.X / 1e6}, high-mm: {s.High.Y / 1e6}{(s.Lifts ? ", lifts: true" : "")} }}"
                )
            );
        Assert.Equal(Of(Made.Map.Shields), Of(Guide.Map.Shields));
        Assert.Equal(Made.Map.Landmarks, Guide.Map.Landmarks);
        foreach (var (role, nets) in Made.Map.Nets)
            Assert.Equal(nets, Guide.Map.Nets[role]);
    }

    [Fact]
    public void Every_screw_comes_out_once_and_goes_back_once_and_the_supply_goes_before_the_board_is_touched()
    {
        foreach (var outOrIn in new[] { false, true })
            Assert.Equal(
                Guide.Screws.Select(screw => screw.Id).Order(),
                Guide.Steps.Where(step => step.PutsScrewsIn == outOrIn).SelectMany(step => step.Screws).Order()
            );
        Assert.Equal(
            Guide.Screws.Where(screw => screw.ForKeys).Select(screw => screw.Id).Order(),
            Guide.Of(RescuePhase.CloseForKeys).SelectMany(step => step.Screws).Order()
        );
        var opening = Guide.Of(RescuePhase.Open).ToList();
        Assert.True(opening.FindIndex(step => step.Disconnects) < opening.FindIndex(step => step.Id == "ribbons"));
    }

    [Theory]
    [InlineData("netlist: tern6w.ipc", "netlist: ../tern6w.ipc", "give its name alone")]
    [InlineData("netlist: tern6w.ipc", "netlist: gone.ipc", "cannot be read")]
    [InlineData("models: [TN63W]", "models: [TN63X]", "TN63X is no model")]
    [InlineData("STORE_RST", "STORE_RESET", "no net STORE_RESET")]
    [InlineData("part: J2", "part: J99", "no part J99")]
    [InlineData("id: A2,", "id: A1,", "A1 stands here 2 times")]
    [InlineData("disconnects: true", "disconnects: false", "takes the supply away")]
    [InlineData("screws: [C1, C2]", "screws: [C1, C9]", "names the screw C9")]
    [InlineData("screws: [C1, C2, A1, A4, A5, B2]", "screws: [C1, C2, A1, A4, A5]", "B2 goes in at 0 steps")]
    [InlineData("screws: [C1, C2]", "screws: [C1, C2, A1]", "A1 comes out at 2 steps")]
    [InlineData(
        "[\"Tray and card as they came.\"]",
        "[Tray, card as they came.]",
        "“card as they came.” does not begin as a sentence does"
    )]
    [InlineData("undoes: [warm]", "undoes: [tray-in]", "undoes tray-in, which is no step of the opening")]
    [InlineData("side: back", "side: underneath", "it must be one of front, back")]
    [InlineData("typical: 8, slow: 20", "typical: 8, slow: 2", "Slow is never quicker")]
    [InlineData("succeeds: 0.6", "succeeds: 60", "from 0.01 to 0.99")]
    public void A_mistake_is_told_with_its_place(string right, string wrong, string says)
    {
        var folder = Directory.CreateTempSubdirectory("junctra-boards-").FullName;
        foreach (var file in Directory.EnumerateFiles(Repo.CatalogueFolder, "*", SearchOption.AllDirectories))
        {
            var to = Path.Combine(folder, Path.GetRelativePath(Repo.CatalogueFolder, file));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
        }

        var path = Path.Combine(folder, "boards", "tern6w.yaml");
        var text = File.ReadAllText(path);
        Assert.Contains(right, text);
        File.WriteAllText(path, text.Replace(right, wrong, StringComparison.Ordinal));
        var refused = Assert.Throws<CatalogueException>(() => CatalogueReader.Read(folder));
        Assert.Contains(refused.Problems, problem =>
            problem.Text.Contains(says, StringComparison.Ordinal) && problem.File.StartsWith("boards", StringComparison.Ordinal)
        );
        Directory.Delete(folder, recursive: true);
    }
}
