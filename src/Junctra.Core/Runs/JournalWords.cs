using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Core.Runs;

/// <summary>Entries of a journal in words.</summary>
public static class JournalWords
{
    /// <summary>An entry in words, or null where it is only progress.</summary>
    public static string? Of(RunEvent entry) =>
        entry switch
        {
            RunQueued e => e.Port is null ? $"begun by {e.By}" : $"begun by {e.By} at port {e.Port}",
            HandsWanted e => $"hands are wanted: {char.ToLowerInvariant(e.Title[0])}{e.Title[1..]}",
            HandsSaid e =>
                $"{e.By}: {(PhoneModes.Parse(e.Shows) is { } mode and not PhoneMode.Unknown ? $"the phone shows {mode.Label()}{(e.Done ? "; done" : "")}" : "done")}{(e.Typed is { } typed ? $"; serial read off the phone: {typed}" : "")}",
            StepStarted e => e.Title,
            TargetConfirmed e =>
                $"serial {e.Target.Serial ?? "not known before"}, {e.Target.ModelCode}, floor {e.Target.RollbackFloor?.ToString() ?? "none"}, {(e.Target.LockState is { } state ? FactName.LockState.Write(state) : "lock not told")}: as judged",
            PieceAccepted { Pieces: > 1 } e => $"piece {e.Piece} of {e.Pieces} accepted, {ByteSize.Text(e.Bytes)}",
            ImageAccepted e => $"the phone accepted {e.Partition} whole",
            PartitionErased e => $"the phone erased {e.Partition}",
            FileCopied e =>
                $"{e.Name} {(e.FromPhone ? "fetched from the phone" : "copied to the phone")}, {ByteSize.Text(e.Bytes)}; digest {e.Sha256[..8]} at both ends",
            RestartAsked e => e.ToBootloader ? "the phone restarts its bootloader" : "the phone restarts into the system",
            PhoneBack e => $"the phone is back: serial {e.Serial}",
            PhoneSaid e => $"the phone says: {e.Text}",
            RunFinished => "finished: all of it is done",
            StageSeen { CountsApps: true } e => $"{e.By}: it has prepared {e.Apps} of {e.OfApps} apps",
            StageSeen e => $"{e.By}: the phone shows {PhoneModes.Parse(e.Shows)?.Label() ?? e.Shows}",
            RungTaken e =>
                $"{e.By} went on: {char.ToLowerInvariant(e.Rung.Title()[0])}{e.Rung.Title()[1..]}, {e.Minutes.Typical:0} to {e.Minutes.Slow:0} min; costs {e.Costs}",
            RunStopped e => $"stopped: {e.By} asked for it",
            RunFailed e => e.What,
            _ => null,
        };
}
