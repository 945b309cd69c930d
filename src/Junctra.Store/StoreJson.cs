using System.Text.Json;
using System.Text.Json.Serialization;

namespace Junctra.Store;

/// <summary>How frozen snapshots lie in <c>jsonb</c> columns.</summary>
public static class StoreJson
{
    /// <summary>Names in camel case, enumerations as words. PostgreSQL orders keys anew, so the kind of an event may come late.</summary>
    public static JsonSerializerOptions Options { get; } =
        new(JsonSerializerDefaults.Web)
        {
            AllowOutOfOrderMetadataProperties = true,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            IgnoreReadOnlyProperties = true,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        };
}
