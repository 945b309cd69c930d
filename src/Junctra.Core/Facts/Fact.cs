namespace Junctra.Core.Facts;

/// <summary>Where a fact's value comes from, least trusted first.</summary>
public enum FactSource
{
    /// <summary>Said by the customer or somebody else.</summary>
    Customer = 0,

    /// <summary>Noted by the shop at an earlier visit: what was, not what is.</summary>
    Logbook = 1,

    /// <summary>Shown by a system that is not the maker's.</summary>
    CustomSystem = 2,

    /// <summary>Printed on the label, the SIM tray or the box.</summary>
    Label = 3,

    /// <summary>Shown in the settings of the official system.</summary>
    Settings = 4,

    /// <summary>Seen on the phone itself: what it does and shows, without anything in it being asked.</summary>
    Seen = 5,

    /// <summary>Read off the screen of the bootloader or of download mode.</summary>
    BootloaderScreen = 6,

    /// <summary>Read by Junctra over the bootloader's link.</summary>
    Link = 7,
}

/// <summary>Words for sources.</summary>
public static class FactSources
{
    /// <summary>All sources, the most trusted first.</summary>
    public static IReadOnlyList<FactSource> All { get; } = [.. Enum.GetValues<FactSource>().OrderDescending()];

    /// <summary>The source as files write it, for example <c>bootloader-screen</c>.</summary>
    public static string Id(this FactSource source) => EnumNames.Of(source);

    /// <summary>The source of that name, or null.</summary>
    public static FactSource? Parse(string? id) => EnumNames.Parse<FactSource>(id);

    /// <summary>The source as a technician says it.</summary>
    public static string Label(this FactSource source) =>
        source switch
        {
            FactSource.Customer => "customer",
            FactSource.Logbook => "logbook",
            FactSource.CustomSystem => "custom system",
            FactSource.Label => "label or box",
            FactSource.Settings => "settings",
            FactSource.Seen => "seen on the phone",
            FactSource.BootloaderScreen => "bootloader screen",
            FactSource.Link => "read over the link",
            _ => throw new ArgumentOutOfRangeException(nameof(source), source, null),
        };
}

/// <summary>One value of one fact, as one source gave it at one time. Facts are never changed; they are added, expire by a
/// write, or are withdrawn by a person, and stay in the job's history.</summary>
/// <param name="Name">Which fact.</param>
/// <param name="Value">The value, as <see cref="FactName.Normalise"/> leaves it.</param>
/// <param name="Source">Where it comes from.</param>
/// <param name="At">When it was read or said.</param>
/// <param name="RecordedBy">Role of who recorded it.</param>
/// <param name="ParsedFrom">The string it was parsed from, or null; it then has that string's source.</param>
public sealed record Fact(FactName Name, string Value, FactSource Source, DateTimeOffset At, string RecordedBy, string? ParsedFrom = null);

/// <summary>Reads values that are written in more than one way.</summary>
public static class FactValues
{
    /// <summary>
    /// A size as bootloaders write it: hexadecimal after <c>0x</c>, or without it. Digits alone may be either; they are
    /// taken as decimal, the smaller reading and so the careful one, unless the other is exactly what is expected.
    /// </summary>
    /// <param name="text">The bootloader's words.</param>
    /// <param name="expected">The size that the catalogue gives, or null.</param>
    /// <returns>Bytes, or null when the text is no size.</returns>
    public static long? Size(string text, long? expected = null)
    {
        var trimmed = text.Trim();
        var isMarked = trimmed.StartsWith("0x", StringComparison.OrdinalIgnoreCase);
        var asHex =
            long.TryParse(isMarked ? trimmed.AsSpan(2) : trimmed, System.Globalization.NumberStyles.AllowHexSpecifier, null, out var hex)
            && hex >= 0
                ? hex
                : (long?)null;
        if (isMarked || asHex == expected)
            return asHex;
        return long.TryParse(trimmed, System.Globalization.NumberStyles.None, null, out var size) ? size
            : trimmed.All(char.IsAsciiHexDigit) ? asHex
            : null;
    }
}
