using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;

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
        ["region-pack"] = PartitionRole.RegionPack,
        ["other"] = PartitionRole.Other,
    };

    public static string Roles { get; } = string.Join(", ", RoleWords.Keys);

    public static string Modes { get; } = string.Join(", ", Enum.GetValues<PhoneMode>().Select(mode => mode.Id()));

    public static PartitionRole? Role(string word) => RoleWords.TryGetValue(word, out var role) ? role : null;

    private static readonly Dictionary<string, PackageKind> KindWords = new()
    {
        ["single-bundle"] = PackageKind.SingleBundle,
        ["four-part-bundle"] = PackageKind.FourPartBundle,
        ["factory-set"] = PackageKind.FactorySet,
        ["card-update"] = PackageKind.CardUpdate,
        ["backup-set"] = PackageKind.BackupSet,
        ["single-image"] = PackageKind.SingleImage,
    };

    public static string Kinds { get; } = string.Join(", ", KindWords.Keys);

    public static PackageKind? Kind(string word) => KindWords.TryGetValue(word, out var kind) ? kind : null;

    public static string Fields { get; } = string.Join(", ", Enum.GetNames<FieldForm>().Select(name => name.ToLowerInvariant()));

    public static FieldForm? Field(string word) => Named<FieldForm>(word);

    public static string Tolls { get; } = Hyphened<Toll>();

    public static Toll? Toll(string word) => Named<Toll>(word);

    public static string Risks { get; } = Hyphened<CheckRisk>();

    public static CheckRisk? Risk(string word) => Named<CheckRisk>(word);

    public static string Signs { get; } = Hyphened<BenchSign>();

    public static BenchSign? Sign(string word) => Named<BenchSign>(word);

    public static string Conditions { get; } = Hyphened<MattersWhen>();

    public static MattersWhen? Condition(string word) => Named<MattersWhen>(word);

    public static string Stages { get; } = Hyphened<PhoneStage>();

    public static string Sides { get; } = Hyphened<KeySide>();

    public static KeySide? Side(string word) => Named<KeySide>(word);

    public static string CableNeeds { get; } = Hyphened<CableNeed>();

    public static CableNeed? CableNeed(string word) => Named<CableNeed>(word);

    public static string CablesAtStart { get; } = Hyphened<CableAtStart>();

    public static CableAtStart? CableAtStart(string word) => Named<CableAtStart>(word);

    public static string Effects { get; } = Hyphened<MenuEffect>();

    public static MenuEffect? Effect(string word) => Named<MenuEffect>(word);

    public static string EntryConditions { get; } = Hyphened<EntryCondition>();

    public static EntryCondition? EntryCondition(string word) => Named<EntryCondition>(word);

    public static string Things { get; } = Hyphened<LinkThing>();

    public static LinkThing? Thing(string word) => Named<LinkThing>(word);

    public static string Goals { get; } = string.Join(", ", Enum.GetValues<JobGoal>().Select(goal => goal.Id()));

    public static string Olders { get; } = Hyphened<OlderRadio>();

    public static OlderRadio? Older(string word) => Named<OlderRadio>(word);

    public static string Sources { get; } = string.Join(", ", FactSources.All.Select(source => source.Id()));

    public static FactSource? Source(string word) => FactSources.Parse(word);

    /// <summary>Names of an enumeration as files write them: lower case, words joined by hyphens.</summary>
    private static string Hyphened<T>()
        where T : struct, Enum => string.Join(", ", Enum.GetNames<T>().Select(Hyphen));

    private static T? Named<T>(string word)
        where T : struct, Enum
    {
        foreach (var value in Enum.GetValues<T>())
            if (Hyphen(value.ToString()) == word)
                return value;
        return null;
    }

    private static string Hyphen(string name) =>
        string.Concat(
            name.Select((c, i) => i > 0 && char.IsUpper(c) ? "-" + char.ToLowerInvariant(c) : char.ToLowerInvariant(c).ToString())
        );
}
