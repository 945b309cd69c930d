using Junctra.Core.Jobs;

namespace Junctra.Core.Tests;

/// <summary>What goes over the counter with a phone.</summary>
public class GoesBackTests
{
    [Theory]
    [InlineData("", false, false, false, "")]
    [InlineData("SIM, case", false, true, false, "SIM|case")]
    [InlineData(" sim ;case,, box", true, true, false, "sim|case|box|storage card")]
    [InlineData("", true, false, false, "SIM")]
    [InlineData("storage card", true, true, true, "storage card|SIM|the data that was saved, on the customer's own medium")]
    public void Each_thing_goes_back_once(string accessories, bool out1, bool card, bool kept, string things) =>
        Assert.Equal(things, string.Join('|', GoesBack.Of(accessories, out1, card, kept)));

    [Fact]
    public void Nothing_goes_before_all_of_it_is_ticked_off()
    {
        IReadOnlyList<string> things = ["SIM", "case"];
        Assert.Equal("Still to be ticked off: SIM, case.", GoesBack.WhyNot(things, []));
        Assert.Equal("Still to be ticked off: case.", GoesBack.WhyNot(things, ["sim", "box"]));
        Assert.Null(GoesBack.WhyNot(things, ["case", "SIM"]));
        Assert.Null(GoesBack.WhyNot([], []));
    }
}
