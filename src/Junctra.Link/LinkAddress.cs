using System.Globalization;
using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;

namespace Junctra.Link;

/// <summary>Where a phone's link answers.</summary>
/// <param name="Host">Host name or address.</param>
/// <param name="Port">TCP port, 1 to 65535.</param>
public readonly record struct LinkAddress(string Host, int Port)
{
    private static readonly TimeSpan NamePatience = TimeSpan.FromSeconds(5);

    /// <summary>Reads <c>host:port</c>; null when it is none.</summary>
    public static LinkAddress? Parse(string? text)
    {
        var trimmed = text?.Trim() ?? "";
        var colon = trimmed.LastIndexOf(':');
        if (colon <= 0)
            return null;
        var host = trimmed[..colon].Trim('[', ']');
        return
            Uri.CheckHostName(host) != UriHostNameType.Unknown
            && int.TryParse(trimmed[(colon + 1)..], NumberStyles.None, CultureInfo.InvariantCulture, out var port)
            && port is > 0 and <= 65535
            ? new LinkAddress(host, port)
            : null;
    }

    /// <inheritdoc/>
    public override string ToString() => Host.Contains(':', StringComparison.Ordinal) ? $"[{Host}]:{Port}" : $"{Host}:{Port}";

    /// <summary>Whether two addresses lead to one place: by whatever names, and to whatever address of this computer.</summary>
    public static async Task<bool> LeadToOneAsync(string? left, string? right, CancellationToken cancel)
    {
        if (Parse(left) is not { } a || Parse(right) is not { } b || a.Port != b.Port)
            return false;
        if (a.Host.Equals(b.Host, StringComparison.OrdinalIgnoreCase))
            return true;
        var (hosts, others) = (
            await AddressesAsync(a.Host, cancel).ConfigureAwait(false),
            await AddressesAsync(b.Host, cancel).ConfigureAwait(false)
        );
        // A name that nobody tells in time may be any: of two that may be one, they are.
        return hosts is null || others is null || hosts.Any(others.Contains);
    }

    /// <summary>
    /// What a host stands for, every address of this computer being one; empty where nobody knows the name, null where nobody says so in
    /// time.
    /// </summary>
    private static async Task<IReadOnlyList<IPAddress>?> AddressesAsync(string host, CancellationToken cancel)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(NamePatience);
        try
        {
            var found = IPAddress.TryParse(host.Trim('[', ']'), out var plain)
                ? [plain]
                : await Dns.GetHostAddressesAsync(host, limit.Token).ConfigureAwait(false);
            var own = NetworkInterface
                .GetAllNetworkInterfaces()
                .SelectMany(card => card.GetIPProperties().UnicastAddresses)
                .Select(one => one.Address)
                .ToHashSet();
            return
            [
                .. found
                    .Select(address => address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address)
                    .Select(address =>
                        IPAddress.IsLoopback(address)
                        || address.Equals(IPAddress.Any)
                        || address.Equals(IPAddress.IPv6Any)
                        || own.Contains(address)
                            ? IPAddress.Loopback
                            : address
                    ),
            ];
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return null;
        }
        catch (SocketException)
        {
            return [];
        }
    }
}
