using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>The words that catalogue files use for the core's enumerations.</summary>
internal static class CatalogueWords
{
    public static string Roles { get; } = Names<PartitionRole>();

    public static string Modes { get; } = Names<PhoneMode>();

    public static PartitionRole? Role(string word) => EnumNames.Parse<PartitionRole>(word);

    // What a model may be said to take; that a file is of no kind, or a part alone, is found out of a package.
    private static readonly IReadOnlyList<PackageKind> TakenKinds =
    [
        .. Enum.GetValues<PackageKind>().Where(kind => kind is not (PackageKind.Unknown or PackageKind.BundlePart)),
    ];

    public static string Kinds { get; } = string.Join(", ", TakenKinds.Select(EnumNames.Of));

    public static PackageKind? Kind(string word) =>
        EnumNames.Parse<PackageKind>(word) is { } kind && TakenKinds.Contains(kind) ? kind : null;

    public static string Fields { get; } = Names<FieldForm>();

    public static FieldForm? Field(string word) => EnumNames.Parse<FieldForm>(word);

    public static string Tolls { get; } = Names<Toll>();

    public static Toll? Toll(string word) => EnumNames.Parse<Toll>(word);

    public static string Risks { get; } = Names<CheckRisk>();

    public static CheckRisk? Risk(string word) => EnumNames.Parse<CheckRisk>(word);

    public static string Signs { get; } = Names<BenchSign>();

    public static BenchSign? Sign(string word) => EnumNames.Parse<BenchSign>(word);

    public static string Conditions { get; } = Names<MattersWhen>();

    public static MattersWhen? Condition(string word) => EnumNames.Parse<MattersWhen>(word);

    public static string Stages { get; } = Names<PhoneStage>();

    public static string Sides { get; } = Names<KeySide>();

    public static KeySide? Side(string word) => EnumNames.Parse<KeySide>(word);

    public static string CableNeeds { get; } = Names<CableNeed>();

    public static CableNeed? CableNeed(string word) => EnumNames.Parse<CableNeed>(word);

    public static string CablesAtStart { get; } = Names<CableAtStart>();

    public static CableAtStart? CableAtStart(string word) => EnumNames.Parse<CableAtStart>(word);

    public static string Effects { get; } = Names<MenuEffect>();

    public static MenuEffect? Effect(string word) => EnumNames.Parse<MenuEffect>(word);

    public static string EntryConditions { get; } = Names<EntryCondition>();

    public static EntryCondition? EntryCondition(string word) => EnumNames.Parse<EntryCondition>(word);

    public static string Things { get; } = Names<LinkThing>();

    public static LinkThing? Thing(string word) => EnumNames.Parse<LinkThing>(word);

    public static string Goals { get; } = string.Join(", ", Enum.GetValues<JobGoal>().Select(goal => goal.Id()));

    public static string Olders { get; } = Names<OlderRadio>();

    public static OlderRadio? Older(string word) => EnumNames.Parse<OlderRadio>(word);

    public static string Sources { get; } = string.Join(", ", FactSources.All.Select(source => source.Id()));

    public static FactSource? Source(string word) => FactSources.Parse(word);

    private static string Names<T>()
        where T : struct, Enum => string.Join(", ", Enum.GetValues<T>().Select(EnumNames.Of));
}
