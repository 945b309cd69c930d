using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Core.Runs;

/// <summary>How a run stands.</summary>
public enum RunStatus
{
    /// <summary>Begun by a person, or gone on with by one; no writer has taken it yet.</summary>
    Queued,

    /// <summary>A writer works on it.</summary>
    Writing,

    /// <summary>All accepted and restarted.</summary>
    Finished,

    /// <summary>Ended early because something broke.</summary>
    Failed,

    /// <summary>Ended early, between two steps, because somebody asked for it.</summary>
    Stopped,

    /// <summary>Waits for hands; its port and its job are still held.</summary>
    Waiting,
}

/// <summary>Questions that are asked of a status.</summary>
public static class RunStatuses
{
    /// <summary>Whether the run has not ended.</summary>
    public static bool IsOpen(this RunStatus status) => status is RunStatus.Queued or RunStatus.Writing or RunStatus.Waiting;

    /// <summary>Whether the run is over and did not reach its end.</summary>
    public static bool EndedEarly(this RunStatus status) => status is RunStatus.Failed or RunStatus.Stopped;
}

/// <summary>What somebody saw while a phone started.</summary>
/// <param name="At">When.</param>
/// <param name="What">What.</param>
public sealed record SeenStage(DateTimeOffset At, StageSeen What);

/// <summary>A run as its journal tells it.</summary>
public sealed partial record RunState
{
    private RunState(Plan plan) => Plan = plan;

    /// <summary>The frozen plan.</summary>
    public Plan Plan { get; }

    /// <summary>How it stands.</summary>
    public RunStatus Status { get; private init; } = RunStatus.Queued;

    /// <summary>Sequence number of the last event, 0 before the first.</summary>
    public long LastSeq { get; private init; }

    /// <summary>When the first and the last event were written down.</summary>
    public DateTimeOffset? Began { get; private init; }

    /// <inheritdoc cref="Began"/>
    public DateTimeOffset? LastAt { get; private init; }

    /// <summary>The step at hand, or null before the first and after the last.</summary>
    public PlanStep? Step { get; private init; }

    /// <summary>When the step at hand began, or null.</summary>
    public DateTimeOffset? StepBegan { get; private init; }

    /// <summary>Numbers of the steps that are done.</summary>
    public ImmutableHashSet<int> Done { get; private init; } = [];

    /// <summary>Partitions whose image the phone accepted whole, with the digest of the image once it was written down.</summary>
    public ImmutableDictionary<string, string> Accepted { get; private init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>Partitions the phone erased.</summary>
    public ImmutableHashSet<string> Erased { get; private init; } = [];

    /// <summary>Files that were copied to the phone or from it, in order.</summary>
    public ImmutableList<FileCopied> Copied { get; private init; } = [];

    /// <summary>Bytes of the image at hand that were given to the link.</summary>
    public long BytesSentInStep { get; private init; }

    /// <summary>Bytes of all images that are done.</summary>
    public long BytesDone { get; private init; }

    /// <summary>The partition whose image is at hand, or null.</summary>
    public string? At { get; private init; }

    /// <summary>Whether the phone was told to write or erase something, accepted or not. Until then it is as it came.</summary>
    public bool HasTouchedPhone => !Touched.IsEmpty || HasAskedLock;

    /// <summary>Whether hands were told to change the lock, and may have.</summary>
    public bool HasAskedLock { get; private init; }

    /// <summary>Pieces of the image at hand that the phone was told to write, that it accepted, and of how many.</summary>
    public (int Asked, int Accepted, int Of) Pieces { get; private init; }

    /// <summary>Partitions that the phone was told to write or erase, accepted or not.</summary>
    public ImmutableHashSet<string> Touched { get; private init; } = [];

    /// <summary>Where the phone is believed to be while hands are wanted; null otherwise.</summary>
    public PhoneMode? HandsFrom { get; private init; }

    /// <summary>The mode that somebody saw last, after a step for hands; null before.</summary>
    public PhoneMode? ShownByHands { get; private init; }

    /// <summary>Number of the step that hands have done last; the writer goes on after it.</summary>
    public int? HandsDone { get; private init; }

    /// <summary>Serial that was read off the phone and typed; null where none was.</summary>
    public string? TypedSerial { get; private init; }

    /// <summary>Serial that the phone told when it was confirmed last, where nobody knew one before; null otherwise.</summary>
    public string? ToldSerial { get; private init; }

    /// <summary>What of the phone the run touched, for the facts that become void by it.</summary>
    public WriteTouch TouchedBy =>
        Plan
            .Steps.SelectMany(step => step.Act.Touches)
            .Where(touch => Touched.Contains(touch.Partition))
            .Aggregate(HasAskedLock ? WriteTouch.Lock : WriteTouch.None, (touched, touch) => touched
                | touch.Role switch
                {
                    PartitionRole.BootChain => WriteTouch.BootChain,
                    PartitionRole.Radio => WriteTouch.Radio,
                    PartitionRole.Recovery => WriteTouch.Recovery,
                    PartitionRole.UserData => WriteTouch.UserData,
                    PartitionRole.System or PartitionRole.Boot or PartitionRole.Overlay or PartitionRole.Verification => WriteTouch.System,
                    PartitionRole.Other or PartitionRole.RegionPack or PartitionRole.Identity => WriteTouch.Other,
                    // A plan of before roles were kept with its steps.
                    _ => WriteTouch.Anything,
                });

    /// <summary>Whether the phone was told to write or erase something and has not answered: that partition may be half written.</summary>
    public bool IsInDoubt =>
        Step is not null
        && (Pieces.Asked > Pieces.Accepted || Step.Act.TouchesAtOnce && Step.Act.Touches.Any(touch => !Erased.Contains(touch.Partition)));

    /// <summary>The mode in which the plan's links write, in words.</summary>
    public string Mode => (Plan.Steps.Select(step => step.Act.In).FirstOrDefault(mode => mode is not null) ?? PhoneMode.Fastboot).Label();

    /// <summary>When the writer's part was over and the phone went on by itself; null before.</summary>
    public DateTimeOffset? FinishedAt { get; private init; }

    /// <summary>What somebody saw after that, in order.</summary>
    public ImmutableList<SeenStage> Seen { get; private init; } = [];

    /// <summary>Rungs that were gone up after that, in order.</summary>
    public ImmutableList<Rung> Rungs { get; private init; } = [];

    /// <summary>What happened, when the run ended early.</summary>
    public string? WhatHappened { get; private init; }

    /// <summary>Whether it ended early because the phone refused what it was given.</summary>
    public bool WasRefused { get; private init; }

    /// <summary>What a person does next, when the run ended early.</summary>
    public string? Next { get; private init; }

    /// <summary>
    /// Share of what is to be done, 0 to 1: of all bytes, weighed by bytes and not by images; of a plan that sends none, of its steps.
    /// </summary>
    public double Progress =>
        Plan.BytesToSend > 0 ? Math.Min(1, (double)(BytesDone + BytesSentInStep) / Plan.BytesToSend)
        : Plan.Steps.Count(step => !step.Act.FollowsTheRun) is > 0 and var all ? (double)Done.Count / all
        : 0;

    /// <summary>Folds a journal.</summary>
    public static RunState Of(Plan plan, IEnumerable<JournalEntry> journal) =>
        journal.Aggregate(new RunState(plan), (state, entry) => state.After(entry));

    /// <summary>The state after one more event.</summary>
    public RunState After(JournalEntry entry)
    {
        var next = this with { LastSeq = entry.Seq, LastAt = entry.At, Began = Began ?? entry.At };
        return entry.Event switch
        {
            RunStarted => next with { Status = RunStatus.Writing, HandsFrom = null },
            StepStarted started => next.Begin(Find(started.Step)) with { StepBegan = entry.At },
            BytesSent sent => next.Turn(sent.Step, sent.Partition) with { BytesSentInStep = sent.Bytes },
            WriteAsked asked => next.Turn(asked.Step, asked.Partition).Ask(asked),
            PieceAccepted piece => next.Turn(piece.Step, piece.Partition).Take(piece),
            ImageAccepted image => next with { Accepted = Accepted.SetItem(image.Partition, image.Sha256) },
            PartitionErased erased => next with { Erased = Erased.Add(erased.Partition) },
            // What it showed before it restarted says nothing of where it is now.
            RestartAsked => next with { ShownByHands = null },
            FileCopied copied => next with { Copied = Copied.Add(copied) },
            HandsWanted wanted => next with
            {
                Status = RunStatus.Waiting,
                Step = Find(wanted.Step),
                HandsFrom = PhoneModes.Parse(wanted.From),
            },
            TargetConfirmed { Target.Serial: { } serial } => next with { ToldSerial = serial },
            HandsSaid said => next with
            {
                Status = RunStatus.Queued,
                HandsFrom = null,
                ShownByHands = PhoneModes.Parse(said.Shows),
                HandsDone = said.Done ? said.Step : HandsDone,
                TypedSerial = said.Typed ?? TypedSerial,
                Erased =
                    said.Done && Find(said.Step) is { } step
                        ? Erased.Union(step.Act.Touches.Where(touch => touch.Erases).Select(touch => touch.Partition))
                        : Erased,
            },
            StepDone done => next with
            {
                Done = Done.Add(done.Step),
                BytesDone = Plan.Steps.Where(step => step.Number == done.Step || Done.Contains(step.Number)).Sum(step => step.Bytes),
                BytesSentInStep = 0,
                Step = null,
                At = null,
                Pieces = default,
            },
            RunFinished => next with { Status = RunStatus.Finished, Step = null, FinishedAt = entry.At },
            StageSeen seen => next with { Seen = Seen.Add(new SeenStage(entry.At, seen)) },
            RungTaken taken => next with { Rungs = Rungs.Add(taken.Rung) },
            RunStopped stopped => next with
            {
                Status = RunStatus.Stopped,
                Step = null,
                WhatHappened = $"Stopped between two steps: {stopped.By} asked for it.",
                Next = stopped.Next,
            },
            RunFailed failed => next with
            {
                Status = RunStatus.Failed,
                WhatHappened = failed.What,
                Next = failed.Next,
                WasRefused = failed.IsRefusal,
            },
            _ => next,
        };
    }

    /// <summary>The strip of a run: what was sent and accepted so far.</summary>
    public PartitionUse UseOf(string partition)
    {
        if (Accepted.ContainsKey(partition))
            return PartitionUse.Written;
        if (Erased.Contains(partition))
            return PartitionUse.Erased;
        if (Plan.Steps.SelectMany(step => step.Act.Touches).FirstOrDefault(one => one.Partition == partition) is not { } touch)
            return PartitionUse.Untouched;
        if (At == partition && !touch.Erases)
            return PartitionUse.Writing;
        return touch.Erases ? PartitionUse.ToErase : PartitionUse.ToWrite;
    }

    /// <summary>Bytes of the image of a partition, as the plan sends it.</summary>
    public long BytesOf(string partition) =>
        Plan.Steps.SelectMany(step => step.Act.Touches).FirstOrDefault(touch => touch.Partition == partition)?.Bytes ?? 0;

    private RunState Begin(PlanStep? step) =>
        this with
        {
            Step = step,
            BytesSentInStep = 0,
            Pieces = default,
            At = step is { Act: { TouchesAtOnce: false, Touches: [{ } first, ..] } } ? first.Partition : null,
            Touched = step is { Act: { TouchesAtOnce: true, Touches: var touches } }
                ? Touched.Union(touches.Select(touch => touch.Partition))
                : Touched,
            HasAskedLock = HasAskedLock || step is { Act.ChangesLock: true },
        };

    /// <summary>Of a step with several images: another one is at hand now, and those before it are done.</summary>
    private RunState Turn(int step, string? named) =>
        (named ?? (Find(step)?.Act.Touches is [var only] ? only.Partition : null)) is not { } partition || partition == At
            ? this
            : this with
            {
                At = partition,
                BytesDone = BytesDone + (At is { } before ? BytesOf(before) : 0),
                BytesSentInStep = 0,
                Pieces = default,
            };

    private RunState Ask(WriteAsked asked) =>
        this with
        {
            Pieces = Pieces with { Asked = asked.Piece, Of = asked.Pieces },
            Touched = At is { } at ? Touched.Add(at) : Touched,
        };

    // With its last piece an image is accepted whole, whether or not the writer lived to say so.
    private RunState Take(PieceAccepted piece) =>
        this with
        {
            Pieces = (piece.Piece, piece.Piece, piece.Pieces),
            Touched = At is { } at ? Touched.Add(at) : Touched,
            Accepted = piece.Piece == piece.Pieces && At is { } whole ? Accepted.SetItem(whole, "") : Accepted,
        };

    private PlanStep? Find(int number) => Plan.Steps.FirstOrDefault(step => step.Number == number);
}
