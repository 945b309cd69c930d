using System.Text.Json;
using System.Text.Json.Serialization;

namespace Junctra.Core.Facts;

/// <summary>Whether the bootloader accepts only signed software.</summary>
public enum LockState
{
    /// <summary>Only what its maker signed.</summary>
    Locked,

    /// <summary>Anything.</summary>
    Unlocked,
}

/// <summary>The switch in developer options that allows changing the lock; not the lock itself.</summary>
public enum UnlockSwitch
{
    /// <summary>Allowed.</summary>
    On,

    /// <summary>Not allowed.</summary>
    Off,

    /// <summary>Not shown, as after a reset until the phone was online.</summary>
    Hidden,

    /// <summary>On and fixed, as while the lock is open.</summary>
    Greyed,
}

/// <summary>What the phone says of its software.</summary>
public enum DeviceStatus
{
    /// <summary>Its maker's.</summary>
    Official,

    /// <summary>Changed.</summary>
    Custom,
}

/// <summary>One-time mark that modified software was started.</summary>
public enum TamperFuse
{
    /// <summary>Never started.</summary>
    Intact,

    /// <summary>Started once, for ever.</summary>
    Tripped,
}

/// <summary>Whose recovery the phone has.</summary>
public enum RecoveryKind
{
    /// <summary>Its maker's.</summary>
    Stock,

    /// <summary>Another, which also backs up, restores and formats.</summary>
    Custom,
}

/// <summary>Whether something is there: root, a storage card.</summary>
public enum Presence
{
    /// <summary>It is not.</summary>
    None,

    /// <summary>It is.</summary>
    Present,
}

/// <summary>The debugging switch of a running system.</summary>
public enum Debugging
{
    /// <summary>Off.</summary>
    Off,

    /// <summary>On, and this computer was not allowed yet.</summary>
    On,

    /// <summary>On, and this computer is allowed.</summary>
    Authorised,
}

/// <summary>Whether an account is signed in, which the phone asks for after a wipe.</summary>
public enum AccountState
{
    /// <summary>None.</summary>
    None,

    /// <summary>One is.</summary>
    SignedIn,
}

/// <summary>Where a copied card update lies.</summary>
public enum CardPlace
{
    /// <summary>In the root of the external card, where recovery looks.</summary>
    Root,

    /// <summary>In a folder of the external card.</summary>
    Folder,

    /// <summary>On internal storage.</summary>
    Internal,

    /// <summary>It was not copied.</summary>
    None,
}

/// <summary>Whether an own backup image exists.</summary>
public enum BackupState
{
    /// <summary>One does.</summary>
    Exists,

    /// <summary>None does.</summary>
    None,
}

/// <summary>What the phone's own search for updates answers.</summary>
public enum UpdateAnswer
{
    /// <summary>It has the newest.</summary>
    UpToDate,

    /// <summary>A newer one is offered, and can be put in.</summary>
    NewerOffered,

    /// <summary>It refuses, or says that the phone was changed.</summary>
    Odd,
}

/// <summary>Whether the phone is in its network.</summary>
public enum NetworkState
{
    /// <summary>It is, with a card in it.</summary>
    Registers,

    /// <summary>It is not, with a card in it that works elsewhere.</summary>
    DoesNot,

    /// <summary>No card is at hand, so that nobody knows.</summary>
    NoCard,
}

/// <summary>The identity numbers that the system shows, held against label or box.</summary>
public enum IdentityState
{
    /// <summary>They are there, and the same.</summary>
    Unchanged,

    /// <summary>None are there, or only noughts.</summary>
    Missing,

    /// <summary>Others are there.</summary>
    Differ,
}

/// <summary>How the home screen looks.</summary>
public enum HomeScreenState
{
    /// <summary>As its owner arranged it.</summary>
    Own,

    /// <summary>As when new.</summary>
    New,
}

/// <summary>A bootloader revision: what a boot chain carries, and what a rollback floor is counted in. In JSON a number.</summary>
[JsonConverter(typeof(RevisionJson))]
public readonly record struct Revision : IComparable<Revision>
{
    /// <summary>Highest number.</summary>
    public const int Max = 999;

    /// <summary>Takes its number.</summary>
    /// <param name="number">0 to <see cref="Max"/>.</param>
    /// <exception cref="ArgumentOutOfRangeException">It is none.</exception>
    public Revision(int number)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(number);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(number, Max);
        Number = number;
    }

    /// <summary>Its number.</summary>
    public int Number { get; }

    /// <summary>A number as a revision.</summary>
    public static implicit operator Revision(int number) => new(number);

    /// <summary>Whether one is lower.</summary>
    public static bool operator <(Revision left, Revision right) => left.Number < right.Number;

    /// <summary>Whether one is higher.</summary>
    public static bool operator >(Revision left, Revision right) => left.Number > right.Number;

    /// <summary>Whether one is not higher.</summary>
    public static bool operator <=(Revision left, Revision right) => left.Number <= right.Number;

    /// <summary>Whether one is not lower.</summary>
    public static bool operator >=(Revision left, Revision right) => left.Number >= right.Number;

    /// <inheritdoc/>
    public int CompareTo(Revision other) => Number.CompareTo(other.Number);

    /// <inheritdoc/>
    public override string ToString() => Number.ToString();
}

/// <summary>A share in whole percent, 0 to 100.</summary>
/// <param name="Number">The percent.</param>
public readonly record struct Percent(int Number)
{
    /// <inheritdoc/>
    public override string ToString() => Number.ToString();
}

/// <summary>A version of an operating system, as people write them: <c>15</c>, <c>14c</c>, <c>2.6.118</c>.</summary>
/// <param name="Text">The whole of it.</param>
public readonly record struct OsVersion(string Text)
{
    /// <summary>The number before its first other character.</summary>
    public int? Major =>
        int.TryParse(Text.TakeWhile(char.IsAsciiDigit).ToArray(), System.Globalization.NumberStyles.None, null, out var number)
            ? number
            : null;

    /// <summary>Below zero when this is older; null when the two are not built alike.</summary>
    public int? CompareWith(OsVersion other) => VersionOrder.Compare(Text, other.Text);

    /// <summary>Reads one.</summary>
    /// <returns>Whether the text begins with a digit and has only letters, digits, dots, hyphens and underscores.</returns>
    public static bool TryParse(string text, out OsVersion version)
    {
        var isVersion =
            text.Length > 0 && char.IsAsciiDigit(text[0]) && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-' or '_');
        version = isVersion ? new OsVersion(text) : default;
        return isVersion;
    }

    /// <inheritdoc/>
    public override string ToString() => Text;
}

/// <summary>Writes a revision as a number.</summary>
internal sealed class RevisionJson : JsonConverter<Revision>
{
    public override Revision Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TryGetInt32(out var number) && number is >= 0 and <= Revision.Max
            ? number
            : throw new JsonException($"A revision is a whole number from 0 to {Revision.Max}.");

    public override void Write(Utf8JsonWriter writer, Revision value, JsonSerializerOptions options) =>
        writer.WriteNumberValue(value.Number);
}
