using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Plans;

namespace Junctra.Core.Runs;

/// <summary>
/// What happened in a run, one record for each kind. The journal is a list of these and nothing else: how a run stands is a
/// fold over them (<see cref="RunState"/>), so the truth survives whatever dies.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(RunQueued), "queued")]
[JsonDerivedType(typeof(RunStarted), "started")]
[JsonDerivedType(typeof(StepStarted), "step-started")]
[JsonDerivedType(typeof(TargetConfirmed), "target-confirmed")]
[JsonDerivedType(typeof(BytesSent), "bytes-sent")]
[JsonDerivedType(typeof(WriteAsked), "write-asked")]
[JsonDerivedType(typeof(PieceAccepted), "piece-accepted")]
[JsonDerivedType(typeof(ImageAccepted), "image-accepted")]
[JsonDerivedType(typeof(PartitionErased), "partition-erased")]
[JsonDerivedType(typeof(FileCopied), "file-copied")]
[JsonDerivedType(typeof(RestartAsked), "restart-asked")]
[JsonDerivedType(typeof(PhoneBack), "phone-back")]
[JsonDerivedType(typeof(PhoneSaid), "phone-said")]
[JsonDerivedType(typeof(StepDone), "step-done")]
[JsonDerivedType(typeof(HandsWanted), "hands-wanted")]
[JsonDerivedType(typeof(HandsSaid), "hands-said")]
[JsonDerivedType(typeof(RunFinished), "finished")]
[JsonDerivedType(typeof(StageSeen), "stage-seen")]
[JsonDerivedType(typeof(RungTaken), "rung-taken")]
[JsonDerivedType(typeof(RunStopped), "stopped")]
[JsonDerivedType(typeof(RunFailed), "failed")]
public abstract record RunEvent;

/// <summary>A person opened the gates and typed the ticket number.</summary>
/// <param name="By">Role of who did.</param>
/// <param name="Port">Name of the port, or null where no link is needed.</param>
public sealed record RunQueued(string By, string? Port) : RunEvent;

/// <summary>The writer took the run.</summary>
/// <param name="Writer">Which process.</param>
public sealed record RunStarted(string Writer) : RunEvent;

/// <summary>A step of the plan began.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Title">Its title.</param>
public sealed record StepStarted(int Step, string Title) : RunEvent;

/// <summary>Serial, model, floor and lock were read again and are what was judged.</summary>
/// <param name="Target">What was read.</param>
public sealed record TargetConfirmed(PlanTarget Target) : RunEvent;

/// <summary>Bytes given to the link so far in this step. Not yet accepted: see <see cref="PieceAccepted"/>.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Bytes">Bytes of the image sent so far, from 0 to its packed size.</param>
/// <param name="Partition">The image's partition, where the step sends several; else null.</param>
public sealed record BytesSent(int Step, long Bytes, string? Partition = null) : RunEvent;

/// <summary>The phone holds a piece of an image and is about to be told to write it. From here until it answers, the partition is in
/// doubt; before, the piece lay in the phone's memory only.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Piece">Which piece, from 1.</param>
/// <param name="Pieces">Of how many.</param>
/// <param name="Partition">The image's partition, where the step sends several; else null.</param>
public sealed record WriteAsked(int Step, int Piece, int Pieces, string? Partition = null) : RunEvent;

/// <summary>The phone took a piece of an image and wrote it.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Piece">Which piece, from 1.</param>
/// <param name="Pieces">Of how many.</param>
/// <param name="Bytes">Bytes on the wire for this piece.</param>
/// <param name="Partition">The image's partition, where the step sends several; else null.</param>
public sealed record PieceAccepted(int Step, int Piece, int Pieces, long Bytes, string? Partition = null) : RunEvent;

/// <summary>The phone accepted all of an image.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Partition">Where it was written.</param>
/// <param name="Sha256">Digest of the image as it lies in the package.</param>
public sealed record ImageAccepted(int Step, string Partition, string Sha256) : RunEvent;

/// <summary>The phone erased a partition.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Partition">Which.</param>
public sealed record PartitionErased(int Step, string Partition) : RunEvent;

/// <summary>A file was copied to the phone or from it, and the copy's digest is that of the other end.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Name">Its name on the phone.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Sha256">Its digest.</param>
/// <param name="FromPhone">Whether it was fetched; else it was put there.</param>
public sealed record FileCopied(int Step, string Name, long Bytes, string Sha256, bool FromPhone) : RunEvent;

/// <summary>The phone accepted the command to restart.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="ToBootloader">Whether it comes back in its bootloader.</param>
public sealed record RestartAsked(int Step, bool ToBootloader) : RunEvent;

/// <summary>After a restart the same phone answered again.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Serial">Its serial.</param>
public sealed record PhoneBack(int Step, string Serial) : RunEvent;

/// <summary>Words of the phone that decide nothing.</summary>
/// <param name="Text">At most 300 characters.</param>
public sealed record PhoneSaid(string Text) : RunEvent;

/// <summary>A step of the plan is done.</summary>
/// <param name="Step">Number of the step.</param>
public sealed record StepDone(int Step) : RunEvent;

/// <summary>
/// The next step is for hands: the writer has let go of the run, which waits, for hours if need be, until somebody says what the phone
/// shows.
/// </summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Title">What is wanted.</param>
/// <param name="From">The mode in which the phone is believed to be.</param>
public sealed record HandsWanted(int Step, string Title, string From) : RunEvent;

/// <summary>Somebody said what the phone shows after a step for hands. The writer goes on from there.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="By">Role of who said it.</param>
/// <param name="Shows">The mode that it shows, by its name in files.</param>
/// <param name="Done">Whether that is what the step was to bring.</param>
public sealed record HandsSaid(int Step, string By, string Shows, bool Done) : RunEvent
{
    /// <summary>What was read off the phone and typed, where the step asked for it; else null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Typed { get; init; }
}

/// <summary>Everything was accepted and the phone restarts. The job is not done: the checks follow.</summary>
public sealed record RunFinished : RunEvent;

/// <summary>After the end of the run: somebody said what the phone shows while it starts.</summary>
/// <param name="By">Who.</param>
/// <param name="Shows">The mode that it shows, by its name in files.</param>
public sealed record StageSeen(string By, string Shows) : RunEvent
{
    /// <summary>How many apps it has prepared; null where it counts none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Apps { get; init; }

    /// <summary>Of how many.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? OfApps { get; init; }

    /// <summary>Whether it counts apps, which is progress however long it takes.</summary>
    [JsonIgnore]
    public bool CountsApps => Apps is not null && OfApps is not null;
}

/// <summary>After the end of the run: somebody went up a rung with a phone that did not come up.</summary>
/// <param name="By">Who.</param>
/// <param name="Rung">Which rung.</param>
/// <param name="Minutes">What it usually takes, and at most, in minutes.</param>
/// <param name="Costs">What it costs the customer besides.</param>
public sealed record RungTaken(string By, Rung Rung, Band Minutes, string Costs) : RunEvent;

/// <summary>The run ended between two steps because somebody asked for it. Nothing is written again by itself.</summary>
/// <param name="By">Role of who asked, or what.</param>
/// <param name="Next">What a person does next.</param>
public sealed record RunStopped(string By, string Next) : RunEvent;

/// <summary>The run ended before its end. Nothing is written again by itself.</summary>
/// <param name="What">What happened.</param>
/// <param name="Next">What a person does next.</param>
public sealed record RunFailed(string What, string Next) : RunEvent
{
    /// <summary>Whether the phone itself refused what it was given: then something that was judged beforehand was wrong.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool IsRefusal { get; init; }
}

/// <summary>An event with its place in the journal.</summary>
/// <param name="Seq">From 1, without gaps.</param>
/// <param name="At">When it was written down.</param>
/// <param name="Event">What happened.</param>
public sealed record JournalEntry(long Seq, DateTimeOffset At, RunEvent Event);
