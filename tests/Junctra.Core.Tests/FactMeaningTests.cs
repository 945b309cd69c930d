using System.Text.Json;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Tests;

public class FactMeaningTests
{
    private static readonly DateTimeOffset At = new(2026, 10, 5, 9, 0, 0, TimeSpan.Zero);

    [Fact]
    public void Every_word_of_every_fact_is_a_value_and_reads_back()
    {
        foreach (var (word, _) in FactName.All.SelectMany(name => name.Definition.Form.Words.Select(word => (word.Value, name))))
            Assert.DoesNotContain(word, char.IsUpper);
        Assert.All(Enum.GetValues<LockState>(), state => ReadsBack(FactName.LockState, state));
        Assert.All(Enum.GetValues<UnlockSwitch>(), state => ReadsBack(FactName.UnlockPermission, state));
        Assert.All(Enum.GetValues<DeviceStatus>(), status => ReadsBack(FactName.DeviceStatus, status));
        Assert.All(Enum.GetValues<TamperFuse>(), fuse => ReadsBack(FactName.TamperFuse, fuse));
        Assert.All(Enum.GetValues<RecoveryKind>(), kind => ReadsBack(FactName.Recovery, kind));
        Assert.All(Enum.GetValues<Presence>(), there => ReadsBack(FactName.Root, there));
        Assert.All(Enum.GetValues<Debugging>(), state => ReadsBack(FactName.UsbDebugging, state));
        Assert.All(Enum.GetValues<AccountState>(), state => ReadsBack(FactName.Account, state));
        Assert.All(Enum.GetValues<CardPlace>(), place => ReadsBack(FactName.CardPlace, place));
        Assert.All(Enum.GetValues<BackupState>(), state => ReadsBack(FactName.OwnBackup, state));
        Assert.All(Enum.GetValues<PhoneMode>(), mode => ReadsBack(FactName.Mode, mode));
        Assert.All([true, false], yes => ReadsBack(FactName.CarrierLocked, yes));
        Assert.All([0, 7, Revision.Max], number => ReadsBack(FactName.RollbackFloor, new Revision(number)));
        ReadsBack(FactName.BatteryPercent, new Percent(83));
        ReadsBack(FactName.PartitionSize("system"), 2147483648);
    }

    private static void ReadsBack<T>(FactOf<T> fact, T value)
    {
        var text = fact.Write(value);
        Assert.Equal(text, fact.Name.Normalise(text));
        Assert.True(fact.TryRead(text, out var back));
        Assert.Equal(value, back);
    }

    [Fact]
    public void What_is_no_value_means_nothing()
    {
        Assert.False(FactName.LockState.TryRead("open", out _));
        Assert.False(FactName.RollbackFloor.TryRead("1000", out _));
        Assert.False(FactName.RollbackFloor.TryRead("-1", out _));
        Assert.False(FactName.OsVersion.TryRead("v15", out _));
        Assert.Throws<ArgumentOutOfRangeException>(() => new Revision(1000));
        var odd = new Phone([new Fact(FactName.LockState, "open", FactSource.Link, At, "bench")]);
        Assert.False(odd.Of(FactName.LockState).TryGet(out _));
        Assert.Null(odd.Of(FactName.LockState).Best());
        Assert.False(odd.Of(FactName.LockState).Is(LockState.Locked));
    }

    [Fact]
    public void The_best_claim_is_one_thing_and_what_may_be_another()
    {
        var phone = new Phone([
            FactName.LockState.Claim(LockState.Unlocked, FactSource.Link, At, "bench"),
            FactName.LockState.Claim(LockState.Locked, FactSource.Label, At, "counter"),
        ]);
        var state = phone.Of(FactName.LockState);
        Assert.Equal(FactState.Conflicting, state.Fact.State);
        Assert.Equal(LockState.Unlocked, state.Best());
        Assert.False(state.Is(LockState.Locked));
        Assert.True(state.MayBe(LockState.Locked));
    }

    [Theory]
    [InlineData("15", 15)]
    [InlineData("14c", 14)]
    [InlineData("2.6.118", 2)]
    public void A_version_tells_its_major_number(string text, int major)
    {
        Assert.True(OsVersion.TryParse(text, out var version));
        Assert.Equal(major, version.Major);
    }

    [Fact]
    public void A_revision_lies_in_stored_plans_as_a_number()
    {
        Assert.Equal("7", JsonSerializer.Serialize(new Revision(7)));
        Assert.Equal(new Revision(7), JsonSerializer.Deserialize<Revision>("7"));
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<Revision>("-1"));
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<Revision>("\"x\""));
    }
}
