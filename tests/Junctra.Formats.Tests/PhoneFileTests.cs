using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.PhoneFiles;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

public sealed class PhoneFileTests : IDisposable
{
    private readonly string path = Path.GetTempFileName();

    public void Dispose() => File.Delete(path);

    private PhoneFile Read(string text)
    {
        File.WriteAllText(path, text);
        return PhoneFileReader.Read(path, Repo.Catalogue);
    }

    private string Mistakes(string text) => Assert.Throws<CatalogueException>(() => Read(text)).Message;

    [Fact]
    public void Facts_with_one_source_and_with_several_are_read()
    {
        var file = Read(
            """
            source: link
            facts:
              model-code: hx204
              rollback-floor: 3
              partition-size:system: 0xC000000
              lock-state:
                - { value: unlocked, source: settings, at: "2026-09-03T12:00:00Z", by: counter }
                - locked
            before-last-write:
              rollback-floor: { value: 2, source: bootloader-screen }
            wishes: { data: may-go, region: group }
            """
        );
        Assert.Equal("HX204", file.Phone[FactName.ModelCode].Value);
        Assert.Equal("201326592", file.Phone[FactName.PartitionSize("system")].Value);
        Assert.Equal(FactState.Conflicting, file.Phone[FactName.LockState].State);
        Assert.Contains(file.Phone[FactName.LockState].Claims, claim =>
            claim is { Source: FactSource.Settings, RecordedBy: "counter" }
            && claim.At == new DateTimeOffset(2026, 9, 3, 12, 0, 0, TimeSpan.Zero)
        );
        Assert.Equal("2", Assert.Single(file.Phone.Earlier).Value);
        Assert.Equal(new MatchPolicy(RegionSchool.Group, true), file.Policy);
    }

    [Fact]
    public void A_build_brings_what_its_grammar_reads_with_the_same_source()
    {
        var phone = Read("source: settings\nfacts: { build: HX204/15.26w10-7.r3 }\n").Phone;
        Assert.Equal(
            ("HX204", "3", "15"),
            (phone[FactName.ModelCode].Value, phone[FactName.BootloaderRevision].Value, phone[FactName.OsVersion].Value)
        );
        Assert.All(phone.All, fact => Assert.Equal(FactSource.Settings, fact.Source));
    }

    [Fact]
    public void Json_is_read_too() =>
        Assert.Equal("HX204C", Read("""{ "source": "label", "facts": { "model-code": "HX204C" } }""").Phone[FactName.ModelCode].Value);

    [Fact]
    public void Every_mistake_is_told_with_its_line()
    {
        var text = Mistakes(
            "source: link\nfacts:\n  model-code: HX204\n  colour: blue\n  rollback-floor: many\n  serial: { value: X, source: rumour }\nwishes: { data: perhaps }\nmore: 1\n"
        );
        Assert.Matches(@":4: colour is no fact", text);
        Assert.Matches(@":5: many is no value of rollback-floor", text);
        Assert.Matches(@":6: source is rumour", text);
        Assert.Matches(@":7: data is perhaps", text);
        Assert.Matches(@":8: The key more is not known", text);
    }

    [Fact]
    public void A_claim_without_a_source_is_refused() =>
        Assert.Contains("Where model-code was read is not said", Mistakes("facts: { model-code: HX204 }\n"));

    [Theory]
    [InlineData("facts: [1, 2]\n")]
    [InlineData("just a text\n")]
    [InlineData("a: b: c\n")]
    [InlineData("")]
    [InlineData("facts: { ? [1] : x }\nsource: link\n")]
    public void What_is_no_phone_file_is_named(string text) => Assert.NotEmpty(Mistakes(text));

    [Fact]
    public void A_file_that_is_not_there_is_named() =>
        Assert.Contains(
            "cannot be read",
            Assert.Throws<CatalogueException>(() => PhoneFileReader.Read("/nowhere/phone.yaml", Repo.Catalogue)).Message
        );
}
