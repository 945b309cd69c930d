using Junctra.Core.Facts;
using Junctra.Core.Runs;

namespace Junctra.Core.Tests;

/// <summary>
/// What a port hears while hands are at work is said so that nobody takes the wrong phone, or a mode that idles for the right one.
/// </summary>
public sealed class HearingTests
{
    private static Hearing Of(
        PhoneMode? wanted,
        PhoneMode? mode,
        string? serial = "TNH60418",
        int? listed = null,
        string? known = "TNH60418"
    ) => Hearing.Of("H", known, wanted, mode is { } heard ? (heard, serial) : null, listed);

    [Theory]
    [InlineData(PhoneMode.Download, null, "The warning screen is not download mode")]
    [InlineData(PhoneMode.Fastboot, null, "hears nothing yet")]
    [InlineData(PhoneMode.Download, PhoneMode.Download, "the run goes on by itself")]
    [InlineData(PhoneMode.StockRecovery, PhoneMode.Download, "not yet in stock recovery. It idles there: nothing is being written")]
    [InlineData(PhoneMode.Download, PhoneMode.Fastboot, "in fastboot mode, not yet in download mode")]
    [InlineData(null, PhoneMode.System, "in running system.")]
    public void What_is_heard_is_held_against_what_is_wanted(PhoneMode? wanted, PhoneMode? mode, string words)
    {
        var heard = Of(wanted, mode);
        Assert.False(heard.IsOther);
        Assert.Contains(words, heard.Words);
    }

    [Fact]
    public void Another_phone_is_named_by_its_serial_whatever_its_mode()
    {
        var other = Of(PhoneMode.Download, PhoneMode.Download, "TNG60214");
        Assert.True(other.IsOther);
        Assert.Contains("serial TNG60214, and this job’s is TNH60418", other.Words);
        Assert.DoesNotContain("goes on by itself", other.Words);
        // In whatever case it is written.
        Assert.False(Of(PhoneMode.Download, PhoneMode.Download, "tnh60418").IsOther);
    }

    [Theory]
    [InlineData(null, "TNH60418")]
    [InlineData("TNH60418", null)]
    public void Where_one_serial_is_not_known_nobody_is_told_that_it_goes_on_by_itself(string? told, string? known)
    {
        var heard = Of(PhoneMode.Download, PhoneMode.Download, told, known: known);
        Assert.Contains("whether it is this job’s cannot be told", heard.Words);
        Assert.DoesNotContain("by itself", heard.Words);
    }

    [Fact]
    public void Two_that_are_listed_are_said_with_whatever_is_heard()
    {
        Assert.Contains("lists 2 phones", Of(PhoneMode.Fastboot, null, listed: 2).Words);
        Assert.Contains("lists 2 phones", Of(PhoneMode.Fastboot, PhoneMode.Fastboot, listed: 2).Words);
        Assert.Contains("is listed and does not answer yet", Of(PhoneMode.Fastboot, null, listed: 1).Words);
    }
}
