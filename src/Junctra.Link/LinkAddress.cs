using System.Net;
using System.Net.Sockets;
using System.Globalization;

namespace Junctra.Link;

/// <summary>Where a phone's link answers.</summary>
/// <param name="Host">Host name or address.</param>
/// <param name="Port">TCP port, 1 to 65535.</param>
public readonly record struct LinkAddress(string Host, int Port)
{
    /// <summary>Reads <c>host:port</c>; null when it is none.</summary>
    public static LinkAddress? Parse(string? text)
    {
        var trimmed = text?.Trim() ?? "";
        var colon = trimmed.LastIndexOf(':');
        if (colon <= 0) return null;
        var host = trimmed[..colon].Trim('[', ']');
        return Uri.CheckHostName(host) != UriHostNameType.Unknown
            && int.TryParse(trimmed[(colon + 1)..], NumberStyles.None, CultureInfo.InvariantCulture, out var port) && port is > 0 and <= 65535
            ? new LinkAddress(host, port)
            : null;
    }

    /// <inheritdoc/>
    public override string ToString() => Host.Contains(':', StringComparison.Ordinal) ? $"[{Host}]:{Port}" : $"{Host}:{Port}";

    /// <summary>Whether two addresses lead to one place: by whatever names, and to whatever address of this computer.</summary>
    public static async Task<bool> LeadToOneAsync(string? left, string? right, CancellationToken cancel)
    {
        if (Parse(left) is not { } a || Parse(right) is not { } b || a.Port != b.Port) return false;
        if (a.Host.Equals(b.Host, StringComparison.OrdinalIgnoreCase)) return true;
        var (hosts, others) = (await AddressesAsync(a.Host, cancel).ConfigureAwait(false), await AddressesAsync(b.Host, cancel).ConfigureAwait(false));
        return hosts.Any(others.Contains) || hosts.Any(IPAddress.IsLoopback) && others.Any(IPAddress.IsLoopback);
    }

    private static async Task<IReadOnlyList<IPAddress>> AddressesAsync(string host, CancellationToken cancel)
    {
        try
        {
            var found = IPAddress.TryParse(host.Trim('[', ']'), out var plain) ? [plain] : await Dns.GetHostAddressesAsync(host, cancel).ConfigureAwait(false);
            // A name of all addresses of this computer is a name of each.
            return [.. found.Select(address => address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address).Select(address => address.Equals(IPAddress.Any) || address.Equals(IPAddress.IPv6Any) ? IPAddress.Loopback : address)];
        }
        catch (SocketException)
        {
            return [];
        }
    }
}
