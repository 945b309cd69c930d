using System.Net.NetworkInformation;
using System.Net.Sockets;

namespace Junctra.Link.Tests;

/// <summary>A port is where it leads: by whatever name an address is written.</summary>
public sealed class LinkAddressTests
{
    [Theory]
    [InlineData("127.0.0.1:7001", "localhost:7001", true)]
    [InlineData("127.0.0.1:7001", "[::1]:7001", true)]
    [InlineData("127.0.0.1:7001", "[::ffff:127.0.0.1]:7001", true)]
    [InlineData("127.0.0.1:7001", "127.0.0.2:7001", true)]
    [InlineData("127.0.0.1:7001", "0.0.0.0:7001", true)]
    [InlineData("LocalHost:7001", "localhost:7001", true)]
    [InlineData("127.0.0.1:7001", "127.0.0.1:7002", false)]
    [InlineData("127.0.0.1:7001", "192.0.2.7:7001", false)]
    [InlineData("127.0.0.1:7001", "nowhere.invalid:7001", false)]
    [InlineData("nothing", "nothing", false)]
    public async Task Two_addresses_lead_to_one_place_or_not(string left, string right, bool one)
    {
        Assert.Equal(one, await LinkAddress.LeadToOneAsync(left, right, default));
        Assert.Equal(one, await LinkAddress.LeadToOneAsync(right, left, default));
    }

    [Fact]
    public async Task Every_address_of_this_computer_leads_here()
    {
        var own = NetworkInterface
            .GetAllNetworkInterfaces()
            .SelectMany(card => card.GetIPProperties().UnicastAddresses)
            .Select(one => one.Address)
            .Where(address => address.AddressFamily == AddressFamily.InterNetwork)
            .ToList();
        Assert.NotEmpty(own);
        foreach (var address in own)
            Assert.True(await LinkAddress.LeadToOneAsync("localhost:7001", $"{address}:7001", default), $"{address}");
    }
}
