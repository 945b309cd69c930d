using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>One step of a plan.</summary>
/// <param name="Number">From 1, in order.</param>
/// <param name="Act">What it does.</param>
/// <param name="Seconds">Expected seconds.</param>
/// <param name="MayStopBefore">Whether a run may be ended before this step: a boot chain, all of it, and its restart belong
/// together.</param>
public sealed record PlanStep(int Number, Act Act, Band Seconds, bool MayStopBefore)
{
    /// <summary>What it does, in words.</summary>
    public string Title => Act.Words.Title;

    /// <summary>Jobs of the shop's own log behind <see cref="Seconds"/>; 0 where they are the figures'.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int JobsBehind { get; init; }

    /// <summary>Bytes to send, or 0.</summary>
    public long Bytes => Act.LinkBytes;
}

/// <summary>What becomes of something.</summary>
public enum FateKind
{
    /// <summary>Stays as it is.</summary>
    Kept,

    /// <summary>Is gone afterwards.</summary>
    Lost,

    /// <summary>Is replaced by stock.</summary>
    Replaced,

    /// <summary>Changes for ever.</summary>
    OneWay,

    /// <summary>Cannot be known beforehand.</summary>
    Unknown,
}

/// <summary>What becomes of one thing that a customer cares about.</summary>
/// <param name="Thing">The thing.</param>
/// <param name="Kind">What becomes of it.</param>
/// <param name="Word">The same in a word or two.</param>
/// <param name="Reason">Why.</param>
public sealed record Fate(string Thing, FateKind Kind, string Word, string Reason);

/// <summary>What a fact should be after the plan.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Value">The value it should have.</param>
/// <param name="Why">Where that comes from.</param>
/// <param name="IsNeeded">Whether the job may be handed back only once it was read.</param>
public sealed record Expectation(FactName Fact, string Value, string Why, bool IsNeeded)
{
    /// <summary>Other values that are as good as that one; none where the value is exact.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? Also { get; init; }

    /// <summary>Whether a value is as intended.</summary>
    public bool IsMetBy(string value) =>
        value.Equals(Value, StringComparison.OrdinalIgnoreCase) || Also?.Contains(value, StringComparer.OrdinalIgnoreCase) == true;
}

/// <summary>
/// The one phone a plan was judged for. Confirmed once more before the first irreversible act; any difference ends the run.
/// </summary>
/// <param name="Serial">Serial, or null where nobody could read it.</param>
/// <param name="ModelCode">Model code.</param>
/// <param name="RollbackFloor">Rollback floor, or null where the maker has no fuses or nothing tells.</param>
/// <param name="LockState">Lock state, or null where nothing tells.</param>
public sealed record PlanTarget(string? Serial, string ModelCode, Revision? RollbackFloor, LockState? LockState)
{
    /// <summary>From where each value was read.</summary>
    public TargetSources From { get; init; } = TargetSources.NotKept;
}

/// <summary>From where a target's values were read; null where a value is not known.</summary>
/// <param name="Serial">Of the serial.</param>
/// <param name="ModelCode">Of the model code.</param>
/// <param name="RollbackFloor">Of the rollback floor.</param>
/// <param name="LockState">Of the lock state.</param>
public sealed record TargetSources(FactSource? Serial, FactSource? ModelCode, FactSource? RollbackFloor, FactSource? LockState)
{
    /// <summary>Of plans of before this was kept, which took the link alone.</summary>
    public static TargetSources NotKept { get; } = new(null, null, null, null);
}

/// <summary>The path that was chosen, and how.</summary>
/// <param name="Path">Its letter, as the trade's list has it (specification: section 9.7 of the job).</param>
/// <param name="Title">Its name.</param>
/// <param name="ErasesData">Whether the user data is erased.</param>
public sealed record PathChoice(string Path, string Title, bool ErasesData);

/// <summary>How a write is watched, where a shop has another rule than the product (specification: section 9.7 of the job).</summary>
/// <param name="UnplugsAtRestart">Whether the cable may come out as soon as the phone restarts; else once it has booted.</param>
/// <param name="Hang">By what a hang is judged.</param>
public sealed record WatchRules(bool UnplugsAtRestart, HangSchool Hang)
{
    /// <summary>The rules of a policy; null where they are the product's own.</summary>
    public static WatchRules? Of(PlanPolicy policy) =>
        policy is { UnplugsAtRestart: false, Hang: HangSchool.NoProgress } ? null : new(policy.UnplugsAtRestart, policy.Hang);

    /// <summary>Minutes after which a step is taken to hang, whatever moves; null where only silence counts.</summary>
    public int? MostMinutes =>
        Hang switch
        {
            HangSchool.SixMinutes => 6,
            HangSchool.TenMinutes => 10,
            _ => null,
        };
}

/// <summary>A package that a plan takes from.</summary>
/// <param name="Id">Digest of its file.</param>
/// <param name="Title">Its name for people.</param>
/// <param name="Revision">The revision that its boot chain brings, or null where it states none.</param>
public sealed record PackageUse(string Id, string Title, Revision? Revision);

/// <summary>
/// A plan: one phone, the packages that are taken, the steps in the only safe order, and what its rehearsal found. Frozen when a run
/// begins.
/// </summary>
/// <param name="Version">Version of this shape, <see cref="Current"/> for new ones.</param>
/// <param name="Choice">The path.</param>
/// <param name="Target">The phone.</param>
/// <param name="Packages">The packages; empty for a path that takes none.</param>
/// <param name="Steps">The steps.</param>
/// <param name="IfItLoops">What was agreed on for the case that the phone loops afterwards; begun by a person, or never.</param>
/// <param name="Rehearsal">What the rehearsal found.</param>
public sealed record Plan(
    int Version,
    PathChoice Choice,
    PlanTarget Target,
    IReadOnlyList<PackageUse> Packages,
    IReadOnlyList<PlanStep> Steps,
    IReadOnlyList<PlanStep> IfItLoops,
    Rehearsal Rehearsal
)
{
    /// <summary>The version that is written now.</summary>
    public const int Current = 3;

    /// <summary>The first version with acts and keys.</summary>
    public const int WithKeys = 2;

    // Until then the seconds of the steps belonged to the key, though nothing else is done where they change.
    private const int KeyWithoutTimes = 3;

    private static readonly JsonSerializerOptions Canonical = new(JsonSerializerDefaults.Web)
    {
        IgnoreReadOnlyProperties = true,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    /// <summary>
    /// Key of the plan after which the phone did not come up, and whose rung this one is; null for a plan of its own. Answers to the gates
    /// of that plan are answers here.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Follows { get; init; }

    /// <summary>The rung that it is, for a phone that did not come up after the plan that it follows; null for a plan of its own.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Rung? Rung { get; init; }

    /// <summary>How shop and customer want it watched.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public WatchRules? Watch { get; init; }

    /// <summary>Name of path and package for people.</summary>
    public string Title =>
        Packages.Count == 0 ? Choice.Title : $"{Packages[0].Title}, {char.ToLowerInvariant(Choice.Title[0])}{Choice.Title[1..]}";

    /// <summary>The package, or null.</summary>
    public PackageUse? Package => Packages.Count > 0 ? Packages[0] : null;

    /// <summary>Whether the user data is erased.</summary>
    public bool ErasesData => Choice.ErasesData;

    /// <summary>The bootloader revision that is written; null where no boot chain is, or none is stated.</summary>
    public Revision? WrittenRevision =>
        Touches.Any(touch => touch is { Erases: false, Role: PartitionRole.BootChain or null })
            ? Packages.Select(package => package.Revision).OfType<Revision>().Cast<Revision?>().Max()
            : null;

    /// <summary>Whether the write raises the phone's rollback floor for ever.</summary>
    public bool RaisesFloor => WrittenRevision > Target.RollbackFloor;

    /// <summary>Everything that it writes or erases, in order.</summary>
    public IEnumerable<PartitionTouch> Touches => Steps.SelectMany(step => step.Act.Touches);

    /// <summary>Whether a partition's image is written; else the phone only erases what it has.</summary>
    public bool Writes => Touches.Any(touch => !touch.Erases);

    /// <summary>Whether boot or system are written, on which data and root of the customer depend.</summary>
    public bool WritesSystem =>
        Touches.Any(touch =>
            touch is { Erases: false, Role: PartitionRole.Boot or PartitionRole.System or PartitionRole.RegionPack or null }
        );

    /// <summary>Whether anything on the phone is changed by it.</summary>
    public bool Changes => ClosesLock || Touches.Any();

    /// <summary>Whether the data go whatever happens: they are erased, or go with the lock.</summary>
    public bool LosesDataForSure => ErasesData || ClosesLock;

    /// <summary>Whether the phone starts anew in the end.</summary>
    public bool StartsThePhone => Steps.Any(step => step.Act is AwaitStage);

    /// <summary>Whether data that were saved before are brought back by it.</summary>
    public bool BringsBack => Steps.Any(step => step.Act is BringBack);

    /// <summary>Whether something is to be read afterwards: it changes the phone, or starts it anew.</summary>
    public bool IsChecked => Changes || StartsThePhone;

    /// <summary>Whether a system that its own root manager patched is written.</summary>
    public bool KeepsRoot => Steps.Any(step => step.Act is SendBundle bundle && bundle.Images.Any(image => image.Origin.Root is not null));

    /// <summary>Whether the lock is closed by it.</summary>
    public bool ClosesLock => Steps.Any(step => step.Act is ChangeLock { Closes: true });

    /// <summary>Whether any act goes over a link.</summary>
    public bool NeedsLink => Steps.Any(step => step.Act.By == ActBy.Link);

    /// <summary>Bytes that will be sent.</summary>
    public long BytesToSend => Steps.Sum(step => step.Bytes);

    /// <summary>Typical and slow time of everything, in seconds.</summary>
    public Band TotalSeconds => new(Steps.Sum(step => step.Seconds.Typical), Steps.Sum(step => step.Seconds.Slow));

    /// <summary>Jobs of the shop's own log behind the time of its longest step; 0 where that is the figures'.</summary>
    public int JobsBehind => Steps.MaxBy(step => step.Seconds.Typical)?.JobsBehind ?? 0;

    /// <summary>What a break in a step would mean.</summary>
    /// <param name="step">The step.</param>
    /// <param name="partition">The partition whose image is at hand, where the step sends several; null for the step as a whole.</param>
    public StepRisk RiskOf(PlanStep? step, string? partition = null)
    {
        var risks = Rehearsal.Risks.Where(risk => risk.Step == step?.Number).ToList();
        return risks.FirstOrDefault(risk => partition is not null && risk.Partition == partition)
            ?? risks.FirstOrDefault(risk => risk.Partition is null)
            ?? StepRisk.None;
    }

    /// <summary>
    /// Tells this plan from every other: a digest of what is done, to which phone, with what. Answers to gates belong to it and to nothing
    /// else. What the rehearsal says follows from the same, and is left out; how long it takes is measured anew.
    /// </summary>
    public string Key =>
        Convert.ToHexStringLower(
            SHA256.HashData(
                JsonSerializer.SerializeToUtf8Bytes(
                    this with
                    {
                        Rehearsal = Rehearsal.None,
                        Steps = Version < KeyWithoutTimes ? Steps : Timeless(Steps),
                        IfItLoops = Version < KeyWithoutTimes ? IfItLoops : Timeless(IfItLoops),
                    },
                    Canonical
                )
            )
        )[..32];

    private static IReadOnlyList<PlanStep> Timeless(IReadOnlyList<PlanStep> steps) =>
        [.. steps.Select(step => step with { Seconds = default, JobsBehind = 0 })];
}

/// <summary>A plan, or the reasons why there is none.</summary>
/// <param name="Plan">The plan, or null.</param>
/// <param name="Refusals">Why not; empty with a plan.</param>
public sealed record PlanOutcome(Plan? Plan, IReadOnlyList<string> Refusals)
{
    /// <summary>
    /// Whether every rule let the plan through and its rehearsal did not: then a rule is missing, or the twin is wrong, and the lead is
    /// told.
    /// </summary>
    public bool IsRefusedByRehearsal { get; init; }
}
