using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;

namespace Junctra.Store.Exchange;

/// <summary>
/// Finds what is missing in a record that came from a stranger. The serializer leaves out what is null, and so takes a record whose list of
/// steps is not there as one that has none: everything that reads it later relies on its types.
/// </summary>
internal static class Gaps
{
    private static readonly ConcurrentDictionary<Type, (PropertyInfo Property, bool MayBeNull)[]> Known = new();

    /// <summary>Name of the first property that is null and must not be; null where there is none.</summary>
    public static string? Find(object? value)
    {
        switch (value)
        {
            case null or string:
                return null;
            case IDictionary dictionary:
                return dictionary
                    .Values.Cast<object?>()
                    .Select(one => one is null ? "a value" : Find(one))
                    .FirstOrDefault(gap => gap is not null);
            case IEnumerable list:
                return list.Cast<object?>().Select(one => one is null ? "an entry" : Find(one)).FirstOrDefault(gap => gap is not null);
        }

        foreach (var (property, mayBeNull) in Known.GetOrAdd(value.GetType(), Of))
        {
            var held = property.GetValue(value);
            if (held is null)
            {
                if (!mayBeNull)
                    return property.Name;
            }
            else if (Find(held) is { } gap)
            {
                return $"{property.Name}.{gap}";
            }
        }

        return null;
    }

    // What is computed is none of the record's own.
    private static (PropertyInfo Property, bool MayBeNull)[] Of(Type type)
    {
        if (type.IsPrimitive || type.IsEnum || type.Namespace?.StartsWith("Junctra", StringComparison.Ordinal) != true)
            return [];
        var nullability = new NullabilityInfoContext();
        return
        [
            .. type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(property => property is { CanWrite: true, CanRead: true } && property.GetIndexParameters().Length == 0)
                .Select(property => (property, nullability.Create(property).ReadState == NullabilityState.Nullable)),
        ];
    }
}
