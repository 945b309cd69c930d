using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Phones;
using Junctra.Core.Planning;

namespace Junctra.Core.Runs;

/// <summary>How a run stands.</summary>
public enum RunStatus
{
    /// <summary>Begun by a person; no writer has taken it yet.</summary>
    Queued,
    /// <summary>A writer works on it.</summary>
    Writing,
    /// <summary>All accepted and restarted.</summary>
    Finished,
    /// <summary>Ended early because something broke.</summary>
    Failed,
    /// <summary>Ended early, between two steps, because somebody asked for it.</summary>
    Stopped,
}

/// <summary>Questions that are asked of a status.</summary>
public static class RunStatuses
{
    /// <summary>Whether bytes may still flow.</summary>
    public static bool IsOpen(this RunStatus status) => status is RunStatus.Queued or RunStatus.Writing;

    /// <summary>Whether the run is over and did not reach its end.</summary>
    public static bool EndedEarly(this RunStatus status) => status is RunStatus.Failed or RunStatus.Stopped;
}

/// <summary>A run as its journal tells it.</summary>
public sealed record RunState
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

    /// <summary>Numbers of the steps that are done.</summary>
    public ImmutableHashSet<int> Done { get; private init; } = [];

    /// <summary>Partitions whose image the phone accepted whole, with the digest of the image once it was written down.</summary>
    public ImmutableDictionary<string, string> Accepted { get; private init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>Partitions the phone erased.</summary>
    public ImmutableHashSet<string> Erased { get; private init; } = [];

    /// <summary>Bytes of the image at hand that were given to the link.</summary>
    public long BytesSentInStep { get; private init; }

    /// <summary>Bytes of all images that are done.</summary>
    public long BytesDone { get; private init; }

    /// <summary>Whether the phone was told to write or erase something, accepted or not. Until then it is as it came.</summary>
    public bool HasTouchedPhone => !Touched.IsEmpty;

    /// <summary>Pieces of the image at hand that the phone was told to write, that it accepted, and of how many.</summary>
    public (int Asked, int Accepted, int Of) Pieces { get; private init; }

    /// <summary>Partitions that the phone was told to write or erase, accepted or not.</summary>
    public ImmutableHashSet<string> Touched { get; private init; } = [];

    /// <summary>What of the phone the run touched, for the facts that become void by it.</summary>
    public WriteTouch TouchedBy =>
        Plan.Steps.Where(step => step.Partition is not null && Touched.Contains(step.Partition)).Aggregate(WriteTouch.None, (touched, step) => touched | step.Role switch
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
    public bool IsInDoubt => Step?.Kind switch
    {
        StepKind.Write => Pieces.Asked > Pieces.Accepted,
        StepKind.Erase => !Erased.Contains(Step.Partition!),
        _ => false,
    };

    /// <summary>What happened, when the run ended early.</summary>
    public string? WhatHappened { get; private init; }

    /// <summary>What a person does next, when the run ended early.</summary>
    public string? Next { get; private init; }

    /// <summary>Share of all bytes that were sent, 0 to 1. Weighed by bytes, not by images.</summary>
    public double Progress => Plan.BytesToSend == 0 ? 0 : Math.Min(1, (double)(BytesDone + BytesSentInStep) / Plan.BytesToSend);

    /// <summary>Folds a journal.</summary>
    public static RunState Of(Plan plan, IEnumerable<JournalEntry> journal) =>
        journal.Aggregate(new RunState(plan), (state, entry) => state.After(entry));

    /// <summary>The state after one more event.</summary>
    public RunState After(JournalEntry entry)
    {
        var next = this with { LastSeq = entry.Seq, LastAt = entry.At, Began = Began ?? entry.At };
        return entry.Event switch
        {
            RunStarted => next with { Status = RunStatus.Writing },
            StepStarted started => next with
            {
                Step = Find(started.Step),
                BytesSentInStep = 0,
                Pieces = default,
                Touched = Find(started.Step) is { Kind: StepKind.Erase, Partition: { } erased } ? Touched.Add(erased) : Touched,
            },
            BytesSent sent => next with { BytesSentInStep = sent.Bytes },
            WriteAsked asked => next with { Pieces = Pieces with { Asked = asked.Piece, Of = asked.Pieces }, Touched = WithPartitionOf(asked.Step) },
            // With its last piece an image is accepted whole, whether or not the writer lived to say so.
            PieceAccepted piece => next with
            {
                Pieces = (piece.Piece, piece.Piece, piece.Pieces),
                Touched = WithPartitionOf(piece.Step),
                Accepted = piece.Piece == piece.Pieces && Find(piece.Step)?.Partition is { } partition ? Accepted.SetItem(partition, "") : Accepted,
            },
            ImageAccepted image => next with { Accepted = Accepted.SetItem(image.Partition, image.Sha256) },
            PartitionErased erased => next with { Erased = Erased.Add(erased.Partition) },
            StepDone done => next with
            {
                Done = Done.Add(done.Step),
                BytesDone = BytesDone + (Find(done.Step)?.Bytes ?? 0),
                BytesSentInStep = 0,
                Step = null,
            },
            RunFinished => next with { Status = RunStatus.Finished, Step = null },
            RunStopped stopped => next with { Status = RunStatus.Stopped, Step = null, WhatHappened = $"Stopped between two steps: {stopped.By} asked for it.", Next = stopped.Next },
            RunFailed failed => next with { Status = RunStatus.Failed, WhatHappened = failed.What, Next = failed.Next },
            _ => next,
        };
    }

    /// <summary>What state the phone is in, by what it accepted, in words.</summary>
    public string PhoneNow
    {
        get
        {
            if (!HasTouchedPhone) return "Nothing was written: the phone is as it came.";
            if (Status == RunStatus.Finished) return "Everything was accepted; the phone restarts into stock.";
            var open = Step is { Kind: StepKind.Write, Partition: { } partition } && !Accepted.ContainsKey(partition) && Pieces.Asked > 0 ? partition : null;
            var pieces = Pieces.Of > 1 ? $" ({Pieces.Accepted} of {Pieces.Of} pieces accepted)" : "";
            var wanted = Plan.Steps.Where(s => s.Kind == StepKind.Write).Select(s => s.Partition!).ToList();
            var missing = wanted.Where(name => !Accepted.ContainsKey(name) && name != open).ToList();
            var whole = Accepted.Count > 0 ? $"Accepted whole: {string.Join(", ", wanted.Where(Accepted.ContainsKey))}." : "No image was accepted whole.";
            return string.Join(" ", new[]
            {
                whole,
                open is null ? null : $"{(IsInDoubt ? "Perhaps half written" : "Written in part")}: {open}{pieces}.",
                missing.Count > 0 ? $"Not begun: {string.Join(", ", missing)}." : null,
                !Plan.ErasesData || !Erased.IsEmpty ? null
                    // The order went out, and no answer came back: the phone may have carried it out all the same.
                    : Plan.Steps.Any(step => step.Kind == StepKind.Erase && step.Partition is { } data && Touched.Contains(data)) ? "Perhaps erased: the user data. The phone was told to, and never said that it had." : "The user data was not erased.",
            }.Where(part => part is not null));
        }
    }

    /// <summary>What the phone's screen should show now.</summary>
    public string ScreenNow => (Status, Step?.Kind) switch
    {
        (RunStatus.Finished, _) => "The maker's picture, then the set-up",
        (_, StepKind.RestartBootloader) => "Dark for a moment, then the bootloader menu",
        (_, StepKind.RestartSystem) => "The maker's picture",
        (_, StepKind.Write) => "Bootloader menu, receiving",
        (_, StepKind.Erase) => "Bootloader menu, erasing",
        _ => "Bootloader menu",
    };

    /// <summary>The strip of a run: what was sent and accepted so far.</summary>
    public PartitionUse UseOf(string partition)
    {
        if (Accepted.ContainsKey(partition)) return PartitionUse.Written;
        if (Erased.Contains(partition)) return PartitionUse.Erased;
        if (Step?.Partition == partition && Step.Kind == StepKind.Write) return PartitionUse.Writing;
        return Plan.Steps.FirstOrDefault(s => s.Partition == partition)?.Kind switch
        {
            StepKind.Write => PartitionUse.ToWrite,
            StepKind.Erase => PartitionUse.ToErase,
            _ => PartitionUse.Untouched,
        };
    }

    private ImmutableHashSet<string> WithPartitionOf(int step) => Find(step)?.Partition is { } partition ? Touched.Add(partition) : Touched;

    private PlanStep? Find(int number) => Plan.Steps.FirstOrDefault(step => step.Number == number);
}
