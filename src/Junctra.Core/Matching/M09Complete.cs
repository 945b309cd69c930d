using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>
/// M09: the package brings what the goal needs. A full stock write needs an image for every partition of the model's stock list.
/// </summary>
public sealed class M09Complete : IMatchRule
{
    private static readonly RuleSentence Whole = RuleSentence.Go("It brings every image of a full stock write.");
    private static readonly RuleSentence CardWhole = RuleSentence.Go("A full card update: stock recovery puts in all that it brings.");
    private static readonly RuleSentence Increment = RuleSentence.Go("It brings what changes from {base}, and is for an update.");
    private static readonly RuleSentence Backup = RuleSentence.Go("It holds the boot image and the system of its day.");
    private static readonly RuleSentence Part = RuleSentence.Go("A patched part; the rest of its build, {rest}, lies in the library.");
    private static readonly RuleSentence Recovery = RuleSentence.Go("It brings a recovery for this model.");
    private static readonly RuleSentence OnlyCleanPack = RuleSentence
        .Care("Its only region pack is the clean one, which erases the data, and the data is wanted.")
        .Costing(ConsequenceKind.CleanWrite, "Everything on the phone is erased.");
    private static readonly RuleSentence Unknown = RuleSentence.Ask("Which parts are needed is not known before the model code is. {how}");
    private static readonly RuleSentence NoModel = RuleSentence.Ask(
        "{code} is not in the catalogue, so what a full write of it needs is not known. Add the model."
    );
    private static readonly RuleSentence NoKind = RuleSentence.Stop(
        "It has no requirement lines and images together: no package of a kind that is known."
    );
    private static readonly RuleSentence Missing = RuleSentence.Stop("It brings no image for {partitions}, as a full stock write must.");
    private static readonly RuleSentence NoRecovery = RuleSentence.Stop("It brings no recovery, and that is what this job is for.");
    private static readonly RuleSentence Single = RuleSentence.Stop("It is a single image, and no full stock package.");
    private static readonly RuleSentence LoosePart = RuleSentence.Stop("It is one part of a four-part bundle, and no full stock package.");
    private static readonly RuleSentence NoRest = RuleSentence.Stop(
        "It is one part of a four-part bundle, and the rest of its build is not in the library."
    );
    private static readonly RuleSentence BackupNoUpdate = RuleSentence.Stop("It is a backup, which goes back; this job is for {goal}.");
    private static readonly RuleSentence BackupMissing = RuleSentence.Stop(
        "The backup has no {parts}, so the phone would not start from it."
    );
    private static readonly RuleSentence IncrementNoStock = RuleSentence.Stop("It is an update from {base}, and no full stock package.");

    /// <inheritdoc/>
    public RuleId Id => RuleId.Complete;

    /// <inheritdoc/>
    public string Title => "Complete";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [
        Whole,
        CardWhole,
        Increment,
        Backup,
        Part,
        Recovery,
        OnlyCleanPack,
        Unknown,
        NoModel,
        NoKind,
        Missing,
        NoRecovery,
        Single,
        LoosePart,
        NoRest,
        BackupNoUpdate,
        BackupMissing,
        IncrementNoStock,
    ];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Kind == PackageKind.Unknown)
            return NoKind.With();
        if (c.Policy.Goal == JobGoal.Recovery)
            return Has(c.Package, PartitionRole.Recovery) ? Recovery.With() : NoRecovery.With();
        switch (c.Package.Kind)
        {
            case PackageKind.SingleImage:
                return Single.With();
            case PackageKind.BundlePart when c.Policy.Goal != JobGoal.KeepRoot:
                return LoosePart.With();
            case PackageKind.BundlePart:
                return c.Around?.OriginOf(c.Package) is { } origin ? Part.With(origin.Original.FileName) : NoRest.With();
            case PackageKind.BackupSet when c.Policy.Goal != JobGoal.Stock:
                return BackupNoUpdate.With(c.Policy.Goal.Label());
            case PackageKind.BackupSet:
                string[] lacks =
                [
                    .. new[] { (PartitionRole.Boot, "boot image"), (PartitionRole.System, "system") }
                        .Where(part => !Has(c.Package, part.Item1))
                        .Select(part => part.Item2),
                ];
                return lacks.Length == 0 ? Backup.With() : BackupMissing.With(Judging.Or(lacks));
            case PackageKind.CardUpdate when c.Package.BaseBuild is { } from:
                return c.Policy.Goal == JobGoal.Update ? Increment.With(from) : IncrementNoStock.With(from);
            case PackageKind.CardUpdate:
                string[] missing =
                [
                    .. new[] { (PartitionRole.Boot, "boot"), (PartitionRole.System, "system") }
                        .Where(part => !Has(c.Package, part.Item1))
                        .Select(part => part.Item2),
                ];
                return missing.Length == 0 ? CardWhole.With() : Missing.With(string.Join(", ", missing));
            default:
                return Judging.Each(
                    c.Phone[FactName.ModelCode],
                    () => Unknown.With(c.HowToRead(FactName.ModelCode)),
                    code => Full(c, code)
                );
        }
    }

    private static Judgement Full(MatchCase c, string code)
    {
        if (c.Catalogue.Model(code) is not { } model)
            return NoModel.With(code);
        var missing = model.StockMissing(name => c.Package.Image(name) is not null).Select(partition => partition.Name).ToList();
        if (missing.Count > 0)
            return Missing.With(string.Join(", ", missing));
        var packs = c.Package.Parts.Where(part => part.Kind is PartKind.KeepDataPack or PartKind.CleanPack).ToList();
        return !c.Policy.DataMayGo && packs.Count > 0 && packs.All(part => part.Kind == PartKind.CleanPack)
            ? OnlyCleanPack.With()
            : Whole.With();
    }

    private static bool Has(Package package, PartitionRole role) => package.Images.Any(image => image.Role == role);
}
