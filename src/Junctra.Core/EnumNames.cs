using System.Text.Json;

namespace Junctra.Core;

/// <summary>
/// Names of the values of an enumeration as files, addresses and links write them: kebab-case, by the serializer's own policy, so that a
/// value has one name wherever it is written.
/// </summary>
public static class EnumNames
{
    /// <summary>The name of a value, for example <c>bootloader-screen</c>.</summary>
    /// <exception cref="ArgumentOutOfRangeException">It is no value of the enumeration.</exception>
    public static string Of<T>(T value)
        where T : struct, Enum =>
        Table<T>.Names.TryGetValue(value, out var name) ? name : throw new ArgumentOutOfRangeException(nameof(value), value, null);

    /// <summary>The value of a name, or null.</summary>
    public static T? Parse<T>(string? name)
        where T : struct, Enum => name is not null && Table<T>.Values.TryGetValue(name, out var value) ? value : null;

    private static class Table<T>
        where T : struct, Enum
    {
        public static Dictionary<T, string> Names { get; } =
            Enum.GetValues<T>().ToDictionary(value => value, value => JsonNamingPolicy.KebabCaseLower.ConvertName(value.ToString()));

        public static Dictionary<string, T> Values { get; } =
            Names.ToDictionary(pair => pair.Value, pair => pair.Key, StringComparer.Ordinal);
    }
}
