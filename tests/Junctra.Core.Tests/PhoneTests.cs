using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class PhoneTests
{
    [Fact]
    public void What_nobody_said_is_unknown()
    {
        var fact = Sample.Phone()[FactName.ModelCode];
        Assert.Equal(FactState.Unknown, fact.State);
        Assert.Null(fact.Value);
    }

    [Fact]
    public void Sources_that_agree_make_a_fact_known()
    {
        var fact = Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204", FactSource.Label), Sample.Fact(FactName.ModelCode, "hx204"))[
            FactName.ModelCode
        ];
        Assert.Equal(FactState.Known, fact.State);
        Assert.Equal(FactSource.Link, fact.Best!.Source);
    }

    [Fact]
    public void A_weaker_source_never_replaces_a_stronger_but_makes_it_conflicting()
    {
        var fact = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204"),
            Sample.Fact(FactName.ModelCode, "HX204C", FactSource.Customer, minute: 9)
        )[FactName.ModelCode];
        Assert.Equal(FactState.Conflicting, fact.State);
        Assert.Equal("HX204", fact.Value);
        Assert.Equal(["HX204", "HX204C"], fact.Values);
    }

    [Fact]
    public void A_later_reading_of_one_source_replaces_its_earlier_one_only_where_a_person_can_have_changed_it()
    {
        var sealedIn = Sample.Phone(Sample.Fact(FactName.LockState, "locked"), Sample.Fact(FactName.LockState, "unlocked", minute: 1))[
            FactName.LockState
        ];
        Assert.Equal(FactState.Conflicting, sealedIn.State);
        var byHand = Sample.Phone(Sample.Fact(FactName.UsbDebugging, "off"), Sample.Fact(FactName.UsbDebugging, "on", minute: 1))[
            FactName.UsbDebugging
        ];
        Assert.Equal((FactState.Known, "on"), (byHand.State, byHand.Value));
        var atOnce = Sample.Phone(Sample.Fact(FactName.UsbDebugging, "off"), Sample.Fact(FactName.UsbDebugging, "on"))[
            FactName.UsbDebugging
        ];
        Assert.Equal(FactState.Conflicting, atOnce.State);
    }

    [Fact]
    public void A_battery_that_changed_is_no_conflict()
    {
        var fact = Sample.Phone(
            Sample.Fact(FactName.BatteryPercent, "40", FactSource.Customer),
            Sample.Fact(FactName.BatteryPercent, "71", minute: 5)
        )[FactName.BatteryPercent];
        Assert.Equal((FactState.Known, "71"), (fact.State, fact.Value));
    }

    [Theory]
    [InlineData("rollback-floor", " 3 ", "3")]
    [InlineData("rollback-floor", "03", "3")]
    [InlineData("rollback-floor", "-1", null)]
    [InlineData("rollback-floor", "three", null)]
    [InlineData("battery-percent", "71 %", "71")]
    [InlineData("battery-percent", "101", null)]
    [InlineData("lock-state", "Unlocked", "unlocked")]
    [InlineData("lock-state", "open", null)]
    [InlineData("model-code", "hx204", "HX204")]
    [InlineData("partition-size:system", "0xC000000", "201326592")]
    [InlineData("partition-size:system", "201326592", "201326592")]
    [InlineData("partition-size:system", "0x-1", null)]
    [InlineData("serial", "AB\u0000C", null)]
    [InlineData("serial", "  ", null)]
    public void Values_are_brought_into_one_form_or_refused(string name, string value, string? expected) =>
        Assert.Equal(expected, new FactName(name).Normalise(value));

    [Theory]
    [InlineData("0x200000", null, 0x200000L)]
    [InlineData("200000", null, 200_000L)]
    [InlineData("200000", 0x200000L, 0x200000L)]
    [InlineData("200000", 200_000L, 200_000L)]
    [InlineData("c000000", null, 0xC000000L)]
    [InlineData("", null, null)]
    [InlineData("0x", null, null)]
    [InlineData("2 MB", null, null)]
    [InlineData("99999999999999999999", null, null)]
    [InlineData("ffffffffffffffff", null, null)]
    public void Sizes_are_read_as_bootloaders_write_them(string text, long? expected, long? size) =>
        Assert.Equal(size, FactValues.Size(text, expected));

    [Fact]
    public void The_order_in_which_sources_speak_does_not_matter()
    {
        var anyFact = Gen.Select(Gen.OneOf("HX204", "HX204C"), Gen.Enum<FactSource>(), Gen.Int[0, 1000], (value, source, minute) =>
            Sample.Fact(FactName.ModelCode, value, source, minute)
        );
        anyFact
            .Array[0, 8]
            .Where(facts => facts.Select(f => f.At).Distinct().Count() == facts.Length)
            .Sample(facts =>
            {
                var forth = new Phone(facts)[FactName.ModelCode];
                var back = new Phone(facts.Reverse())[FactName.ModelCode];
                Assert.Equal(forth.State, back.State);
                Assert.Equal(forth.Claims, back.Claims);
            });
    }
}
