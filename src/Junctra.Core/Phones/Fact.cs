namespace Junctra.Core.Phones;

/// <summary>Where a fact's value comes from, least trusted first.</summary>
public enum FactSource
{
    /// <summary>Said by the customer or somebody else.</summary>
    Customer = 0,
    /// <summary>Shown by a system that is not the maker's.</summary>
    CustomSystem = 1,
    /// <summary>Printed on the label, the SIM tray or the box.</summary>
    Label = 2,
    /// <summary>Shown in the settings of the official system.</summary>
    Settings = 3,
    /// <summary>Read off the screen of the bootloader or of download mode.</summary>
    BootloaderScreen = 4,
    /// <summary>Read by Junctra over the bootloader's link.</summary>
    Link = 5,
}

/// <summary>Words for sources.</summary>
public static class FactSources
{
    /// <summary>The source as a technician says it.</summary>
    public static string Label(this FactSource source) => source switch
    {
        FactSource.Customer => "customer",
        FactSource.CustomSystem => "custom system",
        FactSource.Label => "label or box",
        FactSource.Settings => "settings",
        FactSource.BootloaderScreen => "bootloader screen",
        FactSource.Link => "read over the link",
        _ => throw new ArgumentOutOfRangeException(nameof(source), source, null),
    };
}

/// <summary>One value of one fact, as one source gave it at one time. Facts are never changed; they are added, expire by a
/// write, or are withdrawn by a person, and stay in the job's history.</summary>
/// <param name="Name">Which fact.</param>
/// <param name="Value">The value, as <see cref="FactValues.Normalise"/> leaves it.</param>
/// <param name="Source">Where it comes from.</param>
/// <param name="At">When it was read or said.</param>
/// <param name="RecordedBy">Role of who recorded it.</param>
/// <param name="ParsedFrom">The string it was parsed from, or null; it then has that string's source.</param>
public sealed record Fact(
    FactName Name, string Value, FactSource Source, DateTimeOffset At, string RecordedBy, string? ParsedFrom = null);

/// <summary>Brings typed and read values into the one form in which they are compared.</summary>
public static class FactValues
{
    /// <summary>
    /// The value in the form in which it is compared, or null when it is no value of this fact: codes in upper case, revisions
    /// as whole numbers from 0 to 999, percent from 0 to 100, sizes in bytes as decimal numbers, patch levels as months.
    /// </summary>
    public static string? Normalise(FactName name, string? value)
    {
        var text = value?.Trim();
        if (string.IsNullOrEmpty(text) || text.Length > 200 || text.Any(char.IsControl)) return null;
        if (name == FactName.ModelCode || name == FactName.Region) return text.ToUpperInvariant();
        if (name == FactName.SecurityPatch) return PatchMonth(text);
        if (name == FactName.BootloaderRevision || name == FactName.RollbackFloor) return Whole(text, 999);
        if (name == FactName.BatteryPercent) return Whole(text.TrimEnd('%', ' '), 100);
        if (name == FactName.StorageSize) return Whole(text, 4096);
        if (name == FactName.LockState) return text.ToLowerInvariant() is "locked" or "unlocked" ? text.ToLowerInvariant() : null;
        if (name.IsPartitionSize) return Size(text)?.ToString();
        return text;
    }

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
        var asHex = long.TryParse(isMarked ? trimmed.AsSpan(2) : trimmed, System.Globalization.NumberStyles.AllowHexSpecifier, null, out var hex) && hex >= 0 ? hex : (long?)null;
        if (isMarked || asHex == expected) return asHex;
        return long.TryParse(trimmed, System.Globalization.NumberStyles.None, null, out var size) ? size : trimmed.All(char.IsAsciiHexDigit) ? asHex : null;
    }

    /// <summary>A patch level as a month: <c>2026-08</c>, with or without a day after it.</summary>
    private static string? PatchMonth(string text)
    {
        var isMonth = text.Length is 7 or 10 && text[4] == '-' && (text.Length == 7 || text[7] == '-')
            && int.TryParse(text.AsSpan(0, 4), System.Globalization.NumberStyles.None, null, out var year) && year is >= 2000 and < 2100
            && int.TryParse(text.AsSpan(5, 2), System.Globalization.NumberStyles.None, null, out var month) && month is >= 1 and <= 12;
        return isMonth ? text[..7] : null;
    }

    private static string? Whole(string text, int most) =>
        int.TryParse(text, System.Globalization.NumberStyles.None, null, out var number) && number <= most ? number.ToString() : null;
}
