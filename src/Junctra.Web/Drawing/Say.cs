using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Web.Drawing;

/// <summary>Times and values in words.</summary>
public static class Say
{
    /// <summary>A time band such as <c>4 min, at worst 9</c>.</summary>
    public static string Band(Band seconds) =>
        seconds.Typical < 90 && seconds.Slow < 90
            ? $"{Math.Ceiling(seconds.Typical)} s, at worst {Math.Ceiling(seconds.Slow)}"
            : $"{Math.Ceiling(seconds.Typical / 60)} min, at worst {Math.Ceiling(seconds.Slow / 60)}";

    /// <summary>A length of time such as <c>0:45</c> or <c>3 min</c>.</summary>
    public static string Length(double seconds) =>
        seconds < 60 ? $"0:{Math.Ceiling(Math.Min(59, seconds)):00}" : $"{Math.Ceiling(seconds / 60)} min";

    /// <summary>Minutes of hands, such as <c>30 s</c> or <c>2 min</c>.</summary>
    public static string Minutes(double minutes) =>
        Math.Round(minutes * 12) * 5 is < 60 and var seconds ? $"{Math.Max(5, seconds)} s" : $"{Math.Round(minutes * 2) / 2} min";

    /// <summary>A chance as whole per cent, never none and never all.</summary>
    public static string Percent(double chance) => $"{Math.Clamp(Math.Round(chance * 100), 1, 99):0} %";

    /// <summary>A moment in the shop's own time: of today as a time, of another day with its date.</summary>
    public static string When(DateTimeOffset at, DateTimeOffset now)
    {
        var local = at.ToLocalTime();
        return local.Date == now.ToLocalTime().Date ? local.ToString("HH:mm") : local.ToString("d MMM HH:mm");
    }

    /// <summary>A fact's value with its unit.</summary>
    public static string Value(FactName name, string value) =>
        name.IsPartitionSize && long.TryParse(value, out var bytes) ? Core.Facts.ByteSize.Text(bytes)
        : name == FactName.Mode
            ? Core.Facts.PhoneModes.Parse(value) is { } mode ? Core.Facts.PhoneModes.Label(mode)
                : value
        : name.Definition.Form.Say(value);
}
