using Junctra.Core.Catalogue;
using Junctra.Core.Modes;
using Junctra.Core.Packages;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>The words that catalogue files use for the core's enumerations.</summary>
internal static class CatalogueWords
{
    private static readonly Dictionary<string, PartitionRole> RoleWords = new()
    {
        ["boot-chain"] = PartitionRole.BootChain,
        ["radio"] = PartitionRole.Radio,
        ["boot"] = PartitionRole.Boot,
        ["overlay"] = PartitionRole.Overlay,
        ["verification"] = PartitionRole.Verification,
        ["recovery"] = PartitionRole.Recovery,
        ["system"] = PartitionRole.System,
        ["user-data"] = PartitionRole.UserData,
        ["identity"] = PartitionRole.Identity,
        ["other"] = PartitionRole.Other,
    };

    public static string Roles { get; } = string.Join(", ", RoleWords.Keys);

    public static string Modes { get; } = string.Join(", ", Enum.GetValues<PhoneMode>().Select(mode => mode.Id()));

    public static PartitionRole? Role(string word) => RoleWords.TryGetValue(word, out var role) ? role : null;

    public static PackageKind? Kind(string word) => word == "factory-set" ? PackageKind.FactorySet : null;
}
