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
}
