using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Core.Planning;

/// <summary>What a step does.</summary>
public enum StepKind
{
    /// <summary>Reads the whole package file again and compares its digest.</summary>
    Verify,
    /// <summary>Reads serial, model, floor and lock once more; any difference ends the run before a byte is written.</summary>
    Reread,
    /// <summary>Writes one image to its partition.</summary>
    Write,
    /// <summary>Restarts the bootloader, so that what was written answers.</summary>
    RestartBootloader,
    /// <summary>Erases the user data.</summary>
    Erase,
    /// <summary>Restarts into the system.</summary>
    RestartSystem,
    /// <summary>Waits for the first boot; a person sees it end.</summary>
    FirstBoot,
    /// <summary>Reads what became of it.</summary>
    Check,
}

/// <summary>One step of a plan.</summary>
/// <param name="Number">From 1, in order.</param>
/// <param name="Kind">What it does.</param>
/// <param name="Title">What it does, in words.</param>
/// <param name="Partition">The partition it touches, or null.</param>
/// <param name="Bytes">Bytes to send, or 0.</param>
/// <param name="Seconds">Expected seconds.</param>
/// <param name="NeedsHands">Whether a person must act.</param>
/// <param name="IfBroken">What it means for the phone when the cable or the power goes in this step.</param>
/// <param name="NoReturn">Whether a break here may leave only chip emergency mode.</param>
/// <param name="Role">Role of the partition it touches, or null where it touches none.</param>
public sealed record PlanStep(
    int Number, StepKind Kind, string Title, string? Partition, long Bytes, Band Seconds, bool NeedsHands, string IfBroken, bool NoReturn,
    PartitionRole? Role = null)
{
    /// <summary>Whether a run may be ended before this step, unless the one before has <see cref="NoReturn"/>: a boot chain, all of it, and
    /// its restart belong together.</summary>
    public bool MayStopBefore => Kind is StepKind.Write or StepKind.Erase;
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
public sealed record Expectation(FactName Fact, string Value, string Why, bool IsNeeded);

/// <summary>The one phone a plan was judged for. Read once more before the first byte; any difference stops the write.</summary>
/// <param name="Serial">Serial, as read over the link.</param>
/// <param name="ModelCode">Model code, as read over the link.</param>
/// <param name="RollbackFloor">Rollback floor, or null where the maker has no fuses.</param>
/// <param name="LockState"><c>locked</c> or <c>unlocked</c>.</param>
public sealed record PlanTarget(string Serial, string ModelCode, int? RollbackFloor, string LockState);

/// <summary>A plan: one package, one phone, steps in the only safe order. Frozen when a run begins.</summary>
/// <param name="Path">The path's letter and name.</param>
/// <param name="PackageId">Digest of the package file.</param>
/// <param name="PackageTitle">The package's name for people.</param>
/// <param name="PackageRevision">The revision that its boot chain brings, or null where it states none.</param>
/// <param name="Target">The phone.</param>
/// <param name="ErasesData">Whether the user data is erased.</param>
/// <param name="Steps">The steps.</param>
/// <param name="Fates">What becomes of what is on the phone.</param>
/// <param name="Expectations">What the check will look for.</param>
public sealed record Plan(
    string Path, string PackageId, string PackageTitle, int? PackageRevision, PlanTarget Target, bool ErasesData,
    IReadOnlyList<PlanStep> Steps, IReadOnlyList<Fate> Fates, IReadOnlyList<Expectation> Expectations)
{
    /// <summary>Whether the write raises the phone's rollback floor for ever.</summary>
    public bool RaisesFloor => PackageRevision > Target.RollbackFloor;

    /// <summary>Bytes that will be sent.</summary>
    public long BytesToSend => Steps.Sum(step => step.Bytes);

    /// <summary>Typical and slow time of everything, in seconds.</summary>
    public Band TotalSeconds => new(Steps.Sum(step => step.Seconds.Typical), Steps.Sum(step => step.Seconds.Slow));
}

/// <summary>A plan, or the reasons why there is none.</summary>
/// <param name="Plan">The plan, or null.</param>
/// <param name="Refusals">Why not; empty with a plan.</param>
public sealed record PlanOutcome(Plan? Plan, IReadOnlyList<string> Refusals);
