namespace Junctra.Core.Facts;

/// <summary>The form of a fact's values.</summary>
public enum FactForm
{
    /// <summary>Any short text.</summary>
    Text,
    /// <summary>A code in upper case, without blanks.</summary>
    Code,
    /// <summary>One of a few words.</summary>
    Word,
    /// <summary>A whole number within bounds.</summary>
    Whole,
    /// <summary>A month, <c>2026-08</c>.</summary>
    Month,
    /// <summary>Bytes.</summary>
    Size,
    /// <summary>A SHA-256, 64 hexadecimal digits.</summary>
    Digest,
    /// <summary>A version as people write them: <c>15</c>, <c>14c</c>, <c>2.6.118</c>.</summary>
    Version,
}

/// <summary>What a write must touch to make readings of a fact from before it void.</summary>
[Flags]
public enum WriteTouch
{
    /// <summary>No write changes it.</summary>
    None = 0,
    /// <summary>The boot chain.</summary>
    BootChain = 1,
    /// <summary>The software of the mobile radio.</summary>
    Radio = 2,
    /// <summary>The system and what starts it.</summary>
    System = 4,
    /// <summary>The small second system.</summary>
    Recovery = 8,
    /// <summary>The user data, written or erased.</summary>
    UserData = 16,
    /// <summary>Any other partition.</summary>
    Other = 32,
    /// <summary>Whatever was written: the phone restarts, and must be asked again.</summary>
    Anything = BootChain | Radio | System | Recovery | UserData | Other,
}

/// <summary>A fact that has a name of its own: how it is called, what its values look like, and when they become void.</summary>
/// <param name="Id">The name used in files and in the database.</param>
/// <param name="Label">The name as a technician says it.</param>
/// <param name="Form">The form of its values.</param>
/// <param name="TouchedBy">What a write must touch to make earlier readings void.</param>
public sealed record FactDefinition(string Id, string Label, FactForm Form, WriteTouch TouchedBy = WriteTouch.None)
{
    /// <summary>Unit after the value, with its space, or nothing.</summary>
    public string Unit { get; init; } = "";

    /// <summary>The words that are its values, and what a technician says for each.</summary>
    public IReadOnlyList<(string Value, string Label)> Words { get; init; } = [];

    /// <summary>Highest whole number.</summary>
    public int Most { get; init; }

    /// <summary>Lowest whole number.</summary>
    public int Least { get; init; }

    /// <summary>It changes by itself: the newest reading counts, and an older one is no disagreement.</summary>
    public bool IsMomentary { get; init; }

    /// <summary>
    /// A person changes it on the phone, without any write: a newer claim of one source replaces its older one. What is neither this nor momentary can only
    /// have changed by a recorded write, which makes claims from before it void; so until then all of them count, and two that differ are a conflict.
    /// </summary>
    public bool IsChangedByHand { get; init; }

    /// <summary>A person can read it somewhere and note it.</summary>
    public bool IsTypable { get; init; } = true;

    /// <summary>The value in the form in which it is compared, or null when it is none of this fact.</summary>
    public string? Normalise(string text) => Form switch
    {
        FactForm.Code => Codes.Normalise(text) is { Length: > 0 } code ? code : null,
        FactForm.Word => Words.FirstOrDefault(word => word.Value.Equals(text, StringComparison.OrdinalIgnoreCase) || word.Label.Equals(text, StringComparison.OrdinalIgnoreCase)).Value,
        FactForm.Whole => Whole(Unit.Length > 0 ? text.Replace(Unit.Trim(), "", StringComparison.OrdinalIgnoreCase).Trim() : text),
        FactForm.Month => Month(text),
        FactForm.Size => FactValues.Size(text)?.ToString(),
        FactForm.Digest => text.Length == 64 && text.All(char.IsAsciiHexDigit) ? text.ToLowerInvariant() : null,
        FactForm.Version => char.IsAsciiDigit(text[0]) && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-' or '_') ? text : null,
        _ => text,
    };

    /// <summary>What to write instead, when a value was none.</summary>
    public string Hint => Form switch
    {
        FactForm.Word => $"Write {string.Join(" or ", Words.Select(word => word.Label))}.",
        FactForm.Whole => $"Write a whole number from {Least} to {Most}.",
        FactForm.Month => "Write year and month, such as 2026-08.",
        FactForm.Code => "Write the code without blanks.",
        FactForm.Digest => "Paste the 64 hexadecimal digits of its SHA-256.",
        FactForm.Version => "Write the number, such as 15, 14c or 2.6.118.",
        _ => "Read it again.",
    };

    /// <summary>A value as a technician says it, with its unit.</summary>
    public string Say(string value) =>
        Words.FirstOrDefault(word => word.Value == value).Label ?? value + Unit;

    /// <summary>A patch level as a month: <c>2026-08</c>, with or without a day after it.</summary>
    private static string? Month(string text)
    {
        var isMonth = text.Length is 7 or 10 && text[4] == '-' && (text.Length == 7 || text[7] == '-')
            && int.TryParse(text.AsSpan(0, 4), System.Globalization.NumberStyles.None, null, out var year) && year is >= 2000 and < 2100
            && int.TryParse(text.AsSpan(5, 2), System.Globalization.NumberStyles.None, null, out var month) && month is >= 1 and <= 12;
        return isMonth ? text[..7] : null;
    }

    private string? Whole(string text) =>
        int.TryParse(text, System.Globalization.NumberStyles.None, null, out var number) && number >= Least && number <= Most ? number.ToString() : null;
}

/// <summary>All facts that have a name of their own, in the order in which they are shown (specification: the facts of the job, section 3).</summary>
public static class FactDefinitions
{
    private static readonly (string, string)[] YesNo = [("yes", "yes"), ("no", "no")];

    /// <summary>All of them.</summary>
    public static IReadOnlyList<FactDefinition> All { get; } =
    [
        new("model-code", "Model code", FactForm.Code),
        new("product-name", "Product name", FactForm.Text),
        new("maker", "Maker", FactForm.Text),
        new("serial", "Serial", FactForm.Text),
        new("mode", "Mode now", FactForm.Word, WriteTouch.Anything) { Words = [.. Enum.GetValues<PhoneMode>().Select(mode => (PhoneModes.Id(mode), PhoneModes.Label(mode)))], IsMomentary = true, IsTypable = false },
        new("chip-family", "Chip family", FactForm.Text),
        new("storage-gb", "Storage size", FactForm.Whole) { Unit = " GB", Least = 1, Most = 4096 },
        new("region", "Region code", FactForm.Code, WriteTouch.System),
        new("region-group", "Region group", FactForm.Text, WriteTouch.System),
        new("carrier-locked", "Carrier-locked", FactForm.Word) { Words = YesNo },
        new("build", "Build", FactForm.Text, WriteTouch.System),
        new("os-version", "OS version", FactForm.Version, WriteTouch.System),
        new("security-patch", "Security patch", FactForm.Month, WriteTouch.System),
        new("radio-build", "Radio build", FactForm.Text, WriteTouch.Radio),
        new("bootloader-revision", "Bootloader revision", FactForm.Whole, WriteTouch.BootChain) { Most = 999 },
        // Only a floor read since the last write allows another one, whatever that write was.
        new("rollback-floor", "Rollback floor", FactForm.Whole, WriteTouch.Anything) { Most = 999 },
        new("lock-state", "Lock state", FactForm.Word, WriteTouch.Anything) { Words = [("locked", "locked"), ("unlocked", "unlocked")] },
        new("unlock-permission", "Unlock-permission switch", FactForm.Word, WriteTouch.UserData) { Words = [("on", "on"), ("off", "off"), ("hidden", "hidden"), ("greyed", "greyed")], IsChangedByHand = true },
        new("device-status", "Device status", FactForm.Word, WriteTouch.System) { Words = [("official", "official"), ("custom", "custom")] },
        new("tamper-fuse", "Tamper fuse", FactForm.Word, WriteTouch.System | WriteTouch.Recovery) { Words = [("intact", "intact"), ("tripped", "tripped")] },
        new("recovery", "Recovery", FactForm.Word, WriteTouch.Recovery) { Words = [("stock", "stock"), ("custom", "custom")] },
        new("root", "Root", FactForm.Word, WriteTouch.System) { Words = [("none", "none"), ("present", "present")] },
        new("root-manager", "Root manager's version", FactForm.Text, WriteTouch.System | WriteTouch.UserData),
        new("usb-debugging", "USB debugging", FactForm.Word, WriteTouch.UserData) { Words = [("off", "off"), ("on", "on"), ("authorised", "authorised for this computer")], IsChangedByHand = true },
        new("account", "Account signed in", FactForm.Word, WriteTouch.UserData) { Words = [("none", "none"), ("signed-in", "signed in")], IsChangedByHand = true },
        new("encryption", "Encryption", FactForm.Word, WriteTouch.UserData) { Words = [("on", "on"), ("off", "off")] },
        new("battery-percent", "Battery", FactForm.Whole, WriteTouch.Anything) { Unit = " %", Most = 100, IsMomentary = true },
        new("battery-out", "Battery can be taken out", FactForm.Word) { Words = YesNo },
        new("card", "Storage card", FactForm.Word) { Words = [("none", "none"), ("present", "present")], IsMomentary = true },
        new("card-free-mb", "Free on the card", FactForm.Whole) { Unit = " MB", Most = 100_000_000, IsMomentary = true },
        new("card-place", "Update on the card", FactForm.Word) { Words = [("root", "in the root of the external card"), ("folder", "in a folder of the external card"), ("internal", "on internal storage"), ("none", "not copied")], IsMomentary = true },
        new("card-file-name", "Name of the copy", FactForm.Text) { IsMomentary = true },
        new("card-file-digest", "Digest of the copy", FactForm.Digest) { IsMomentary = true },
        new("home-key", "Home key", FactForm.Word) { Words = YesNo },
        new("last-good-build", "Last good build", FactForm.Text),
        new("own-backup", "Own backup image", FactForm.Word) { Words = [("exists", "exists"), ("none", "none")], IsChangedByHand = true },
        new("app-count", "Apps installed", FactForm.Whole, WriteTouch.UserData) { Most = 9999, IsChangedByHand = true },
        new("networks", "Networks set up", FactForm.Text, WriteTouch.UserData) { IsChangedByHand = true },
    ];

    private static readonly Dictionary<string, FactDefinition> ById = All.ToDictionary(definition => definition.Id, StringComparer.Ordinal);

    /// <summary>The definition of a fact; facts whose name carries a partition or a mode get one made for them.</summary>
    public static FactDefinition Of(FactName name)
    {
        if (ById.TryGetValue(name.Value, out var definition)) return definition;
        if (name.IsPartitionSize) return new FactDefinition(name.Value, $"Size of {name.Detail}", FactForm.Size) { Unit = " bytes", IsTypable = false };
        if (name.IsReached)
        {
            var touched = name.ReachedMode switch
            {
                PhoneMode.System or PhoneMode.SetupWizard => WriteTouch.System,
                PhoneMode.StockRecovery or PhoneMode.CustomRecovery => WriteTouch.Recovery,
                _ => WriteTouch.BootChain,
            };
            return new FactDefinition(name.Value, $"Reaches {PhoneModes.Label(name.ReachedMode)}", FactForm.Word, touched) { Words = YesNo, IsTypable = false };
        }

        return new FactDefinition(name.Value, name.Value, FactForm.Text) { IsTypable = false };
    }

    /// <summary>The definition under an id, or null.</summary>
    public static FactDefinition? Find(string? id) => id is not null && ById.TryGetValue(id, out var definition) ? definition : null;
}
