using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

public sealed class CatalogueTests : IDisposable
{
    private readonly string folder = OtherCatalogue.Write();

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

    private int LineOf(string file, string what) =>
        File.ReadLines(Path.Combine(Repo.CatalogueFolder, file)).TakeWhile(line => !line.Contains(what)).Count() + 1;

    [Fact]
    public void The_catalogue_that_ships_is_in_order()
    {
        var catalogue = CatalogueReader.Read(folder);
        Assert.Equal("Cairn", catalogue.Model("hx204")!.ProductName);
        Assert.True(catalogue.MakerOf("HX204")!.HasRollbackFuses);
        Assert.Equal(50, catalogue.Figures.BatteryFloorPercent);
        Assert.Equal(7, catalogue.Regions.Count);
        Assert.Equal(10, catalogue.Models.Count());
        Assert.Equal(15, catalogue.Triage.Classes.Count);
        Assert.Equal(["TN41E", "TN41K", "TN41S"], catalogue.Variants("tern 4").Select(model => model.Code));
        Assert.Contains(catalogue.Guides, guide => guide.Fact == Junctra.Core.Facts.FactName.RollbackFloor);
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
    [InlineData("key-families/bootloader-menu.yaml", "stave: cable, from: menu", "stave: cabel, from: menu", "not among")]
    [InlineData("key-families/bootloader-menu.yaml", "from: menu + 3, to: menu + 5", "from: menu + 3, to: menu + 2", "end after it begins")]
    [InlineData("regions.yaml", "code: KRW", "code: WHM", "2 times")]
    [InlineData("makers/hadrel.yaml", "format: '{model}/", "format: '{modell}/", "every group")]
    [InlineData("makers/hadrel.yaml", "format: '{model}/", "format: '{model}-", "does not read back")]
    [InlineData("makers/hadrel.yaml", "os: { type: number", "os: { type: numbre", "must be one of")]
    [InlineData("makers/hadrel.yaml", "tells: os-version", "tells: os-versoin", "no fact")]
    [InlineData("makers/hadrel.yaml", "week: { type: number, from: 1, to: 53 }", "week: { type: number, from: 11, to: 53 }", "own example")]
    [InlineData("makers/hadrel.yaml", "week: { type", "month: { type", "no group of the pattern")]
    [InlineData("makers/hadrel.yaml", "(?<week>[0-9]{2})", "(?<week>(?:[0-9]{200}){200})", "repeats")]
    [InlineData("makers/hadrel.yaml", "  model-code: { variable: product }", "  model-cod: { variable: product }", "no fact")]
    [InlineData("makers/obrenn.yaml", "package-kind: card-update", "package-kind: card", "must be one of")]
    [InlineData("reading-places.yaml", "fact: chip-family", "fact: chips", "no fact")]
    [InlineData("reading-places.yaml", "fact: chip-family", "fact: model-code", "2 times")]
    [InlineData("reading-places.yaml", "in: [fastboot]", "in: [fastbot]", "must be one of")]
    [InlineData("reading-places.yaml", "source: label", "source: sticker", "must be one of")]
    [InlineData("reading-places.yaml", "matters: rollback-fuses", "matters: sometimes", "must be one of")]
    [InlineData("triage.yaml", "slip: 0.1", "slip: 2", "from 0.001 to 0.5")]
    [InlineData("triage.yaml", "way-out: charge", "way-out: charging", "not among the ways out")]
    [InlineData("triage.yaml", "toll: look", "toll: nothing", "must be one of")]
    [InlineData("triage.yaml", "station: route", "station: road", "must be one of")]
    [InlineData("triage.yaml", "paths: [G]", "paths: [Z]", "letters A to N")]
    [InlineData("triage.yaml", "key-families: { home-key: 12 }", "key-families: { homekey: 12 }", "no key family")]
    [InlineData("triage.yaml", "makers: { Obrenn: 2 }", "makers: { Orbenn: 2 }", "no maker")]
    [InlineData("triage.yaml", "weights: { stale-data: 9", "weights: { stale: 9", "no fault class")]
    [InlineData("triage.yaml", "facts: { mode: [boot-loop] }", "facts: { moode: [boot-loop] }", "no fact")]
    [InlineData("triage.yaml", "facts: { device-status: [custom] }", "facts: { device-status: [odd] }", "no value")]
    [InlineData("triage.yaml", "sign: no-reaction", "sign: none-at-all", "must be one of")]
    [InlineData("triage.yaml", "risk: low", "risk: lowish", "must be one of")]
    [InlineData("triage.yaml", "not-reached: [system]", "not-reached: [sistem]", "must be one of")]
    [InlineData("triage.yaml", "    at: intake", "", "4 outcomes at most")]
    [InlineData("triage.yaml", "- id: wish\n    label", "- id: power\n    label", "2 times")]
    [InlineData("key-families/bootloader-menu.yaml", "hold: [power, volume-down]", "hold: [power, volume-don]", "no key among")]
    [InlineData("key-families/bootloader-menu.yaml", "from-start: true, cable: none", "from-start: true, cable: maybe", "must be one of")]
    [InlineData("key-families/bootloader-menu.yaml", "in: [no-command]", "in: [nocommand]", "must be running or one of")]
    [InlineData("key-families/bootloader-menu.yaml", "to: menu + 0.8", "to: men + 0.8", "no mark of this recipe")]
    [InlineData("key-families/bootloader-menu.yaml", "to: menu + 0.8", "to: menu - 0.8", "such as menu + 0.5")]
    [InlineData("key-families/bootloader-menu.yaml", "shows: fastboot", "shows: fastbot", "must be one of")]
    [InlineData("key-families/bootloader-menu.yaml", "late-shows: system", "late-shows: sistem", "must be one of")]
    [InlineData(
        "key-families/bootloader-menu.yaml",
        "fails: { chance: 0.15, to: start }",
        "fails: { chance: 1.5, to: start }",
        "from 0 to 0.9"
    )]
    [InlineData("key-families/bootloader-menu.yaml", "dark: 2.5", "dark: 0", "from 0.1")]
    [InlineData("key-families/bootloader-menu.yaml", "select-key: power", "select-key: home", "not among the family's staves")]
    [InlineData("key-families/bootloader-menu.yaml", "id: recovery, label: Recovery", "id: start, label: Recovery", "2 times")]
    [InlineData("key-families/two-keys-and-cable.yaml", "fact: unlock-permission", "fact: permission", "no fact")]
    [InlineData("common-ways.yaml", "when: root", "when: rooted", "must be one of")]
    [InlineData("common-ways.yaml", "does: wipe-data", "does: wipe-dat", "must be one of")]
    [InlineData(
        "common-ways.yaml",
        "to: write-mode, minutes: 0.3, fails: 0.03",
        "to: writemode, minutes: 0.3, fails: 0.03",
        "must be recovery, write-mode, start"
    )]
    [InlineData("common-ways.yaml", "id: debugging-recovery", "id: debugging-restart", "2 times")]
    [InlineData("link-doctor.yaml", "chances: { unauthorised: 0.75 }", "chances: { unauthorized: 0.75 }", "no sign of this file")]
    [InlineData("link-doctor.yaml", "chances: { unauthorised: 0.75 }", "chances: { unauthorised: 75 }", "from 0.001 to 0.999")]
    [InlineData("link-doctor.yaml", "id: wrong-mode, label", "id: wrongmode, label", "wrong-mode is missing")]
    [InlineData("link-doctor.yaml", "about: cable", "about: wire", "must be one of")]
    [InlineData(
        "makers/hadrel.yaml",
        "slotted-partitions: [boot, overlay, verify]",
        "slotted-partitions: [boot, overlay, verfy]",
        "not in the layout"
    )]
    public void A_mistake_is_named_with_its_file(string file, string what, string with, string word)
    {
        var problem = Break(file, what, with);
        Assert.Equal(file, problem.File);
        Assert.Contains(word, problem.Text);
    }

    [Fact]
    public void A_grammar_that_reads_another_makers_builds_is_named()
    {
        File.WriteAllText(
            Path.Combine(folder, "makers/other.yaml"),
            """
            maker: Other
            grammar: { example: "AB123/1", pattern: '^(?<model>[A-Z0-9]{5})/(?<rest>.*)$', order: [] }
            link-variables: {}
            models: []
            """
        );
        Assert.Contains(Assert.Throws<CatalogueException>(() => CatalogueReader.Read(folder)).Problems, problem =>
            problem.Text.Contains("The grammar of Other also reads HX204/15.26w10-7.r3")
        );
    }

    [Theory]
    [InlineData("triage.yaml", "toll: look", "toll: nothing")]
    [InlineData("makers/hadrel.yaml", "format: '{model}/", "format: '{modell}/")]
    public void The_mistake_of_a_key_is_named_with_that_keys_line(string file, string what, string with) =>
        Assert.Equal(LineOf(file, what), Break(file, what, with).Line);

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
