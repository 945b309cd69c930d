namespace Junctra.StandIns;

/// <summary>
/// What is to go wrong with a simulated phone next, set over the control address. Counts of bytes run from the moment the
/// faults are set. A fault that has struck is gone; set it again to have it again.
/// </summary>
internal sealed class StandInFaults
{
    /// <summary>The cable is pulled when so many bytes of downloads were taken.</summary>
    public long? DropAtByte { get; set; }

    /// <summary>From so many bytes on nothing is taken any more, and nothing is said.</summary>
    public long? StallAtByte { get; set; }

    /// <summary>The next command to write or erase is refused with this text.</summary>
    public string? RefuseWith { get; set; }

    /// <summary>The next command gets this for an answer, whatever it is.</summary>
    public string? AnswerWith { get; set; }

    /// <summary>The next answer announces this length.</summary>
    public long? AnnounceLength { get; set; }

    /// <summary>The phone gives another product name until this is set anew.</summary>
    public string? Product { get; set; }

    /// <summary>Bytes a second until this is set anew.</summary>
    public long? BytesPerSecond { get; set; }

    /// <summary>The next command to write or erase takes so long, in silence.</summary>
    public int? CommitMilliseconds { get; set; }

    /// <summary>Bytes of downloads taken since the faults were set.</summary>
    internal long BytesTaken { get; set; }

    /// <summary>How much may be taken at once so that a fault strikes at its very byte.</summary>
    internal int BytesUntilStrike(int most)
    {
        var next = Math.Min(DropAtByte ?? long.MaxValue, StallAtByte ?? long.MaxValue) - BytesTaken;
        return (int)Math.Clamp(next, 1, most);
    }
}

/// <summary>The phone's own record of what it accepted.</summary>
/// <param name="Command"><c>flash</c> or <c>erase</c>.</param>
/// <param name="Partition">The partition.</param>
/// <param name="Bytes">Bytes of the download that was written; 0 for an erase.</param>
internal sealed record Accepted(string Command, string Partition, long Bytes);
