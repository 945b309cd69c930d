using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

public sealed class CatalogueTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-catalogue-").FullName;

    public CatalogueTests()
    {
        foreach (var file in Directory.EnumerateFiles(Repo.CatalogueFolder, "*.yaml", SearchOption.AllDirectories))
        {
            var to = Path.Combine(folder, Path.GetRelativePath(Repo.CatalogueFolder, file));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
        }
    }

    public void Dispose() => Directory.Delete(folder, true);

    private CatalogueProblem Break(string file, string what, string with)
    {
        var path = Path.Combine(folder, file);
        var text = File.ReadAllText(path);
        Assert.Contains(what, text);
        var at = text.IndexOf(what, StringComparison.Ordinal);
        File.WriteAllText(path, text[..at] + with + text[(at + what.Length)..]);
        return Assert.Throws<CatalogueException>(() => CatalogueReader.Read(folder)).Problems[0];
    }

    private int LineOf(string file, string what) => File.ReadLines(Path.Combine(Repo.CatalogueFolder, file)).TakeWhile(line => !line.Contains(what)).Count() + 1;

    [Fact]
    public void The_catalogue_that_ships_is_in_order()
    {
        var catalogue = CatalogueReader.Read(folder);
        Assert.Equal("Cairn", catalogue.Model("hx204")!.ProductName);
        Assert.True(catalogue.MakerOf("HX204")!.HasRollbackFuses);
        Assert.Equal(50, catalogue.Figures.BatteryFloorPercent);
        Assert.Equal(7, catalogue.Regions.Count);
    }

    [Theory]
    [InlineData("makers/hadrel.yaml", "role: radio", "role: radioo", "must be one of")]
    [InlineData("makers/hadrel.yaml", "size: 16 MiB", "size: 16 MB", "must be a size")]
    [InlineData("makers/hadrel.yaml", "chip: Dolan Major", "chips: Dolan Major", "")]
    [InlineData("makers/hadrel.yaml", "key-family: bootloader-menu", "key-family: other", "not described")]
    [InlineData("makers/hadrel.yaml", "example: HX204/15", "example: HX204-15", "own example")]
    [InlineData("makers/hadrel.yaml", "(?<model>", "(?<modell>", "no group named model")]
    [InlineData("makers/hadrel.yaml", "code: HX204C", "code: HX204", "described already")]
    [InlineData("figures.yaml", "battery-floor-percent: 50", "battery-floor-percent: 150", "from 1 to 100")]
    [InlineData("key-families/bootloader-menu.yaml", "stave: cable, from: 7", "stave: cabel, from: 7", "not among")]
    [InlineData("key-families/bootloader-menu.yaml", "from: 7, to: 9", "from: 7, to: 6", "end after it begins")]
    [InlineData("regions.yaml", "code: KRW", "code: WHM", "2 times")]
    public void A_mistake_is_named_with_its_file(string file, string what, string with, string word)
    {
        var problem = Break(file, what, with);
        Assert.Equal(file, problem.File);
        Assert.Contains(word, problem.Text);
    }

    [Fact]
    public void A_mistake_is_named_with_its_line() =>
        Assert.Equal(LineOf("makers/hadrel.yaml", "role: radio"), Break("makers/hadrel.yaml", "role: radio", "role: radioo").Line);

    [Fact]
    public void What_is_no_yaml_is_named_with_its_line()
    {
        var problem = Break("regions.yaml", "- { code: PLI", "- { code: [PLI");
        Assert.Equal("regions.yaml", problem.File);
        Assert.InRange(problem.Line, LineOf("regions.yaml", "PLI"), LineOf("regions.yaml", "SRV"));
    }

    [Fact]
    public void Every_mistake_is_told_at_once()
    {
        File.AppendAllText(Path.Combine(folder, "figures.yaml"), "\nfourth: 1\nfifth: 2\n");
        Assert.Equal(2, Assert.Throws<CatalogueException>(() => CatalogueReader.Read(folder)).Problems.Count);
    }

    [Fact]
    public void A_folder_that_is_not_there_is_named() =>
        Assert.Contains("missing", Assert.Throws<CatalogueException>(() => CatalogueReader.Read(Path.Combine(folder, "none"))).Message);
}
