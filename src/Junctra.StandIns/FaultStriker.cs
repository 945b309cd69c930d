namespace Junctra.StandIns;

/// <summary>Lets what is to go wrong go wrong while data comes in and is put away, whatever the protocol.</summary>
internal static class FaultStriker
{
    /// <summary>Pulls the cable or falls silent when it is time to.</summary>
    public static async Task StrikeAsync(StandInFaults faults, int bytes, CancellationToken closed)
    {
        faults.BytesTaken += bytes;
        if (faults.BytesTaken >= faults.DropAtByte)
        {
            faults.DropAtByte = null;
            throw new IOException("The cable is pulled.");
        }

        if (faults.BytesTaken >= faults.StallAtByte)
        {
            faults.StallAtByte = null;
            await Task.Delay(Timeout.Infinite, closed);
        }
    }

    /// <summary>Takes so long over a commit, in silence.</summary>
    public static async Task LingerAsync(StandInFaults faults, CancellationToken closed)
    {
        if (faults.CommitMilliseconds is not { } time)
            return;
        faults.CommitMilliseconds = null;
        await Task.Delay(time, closed);
    }

    /// <summary>Refuses the command.</summary>
    /// <exception cref="PhoneRefusesException">It does.</exception>
    public static void Refuse(StandInFaults faults)
    {
        if (faults.RefuseWith is not { } text)
            return;
        faults.RefuseWith = null;
        throw new PhoneRefusesException(text);
    }

    /// <summary>Reads so many bytes at the pace of the phone, and lets faults strike at their very byte.</summary>
    /// <param name="stream">From where.</param>
    /// <param name="into">Where they go, all of it.</param>
    /// <param name="phone">What is to go wrong; it may be set anew meanwhile.</param>
    /// <param name="pace">The pace of the phone.</param>
    /// <param name="came">Told of each part once it lies there.</param>
    /// <param name="closed">Ends the wait.</param>
    public static async Task ReadAsync(
        Stream stream,
        Memory<byte> into,
        BenchPhone phone,
        StandInPace pace,
        Action<ReadOnlyMemory<byte>>? came,
        CancellationToken closed
    )
    {
        const int maxAtOnce = 256 << 10;
        for (var taken = 0; taken < into.Length; )
        {
            var faults = phone.Faults;
            var part = await stream.ReadAsync(into.Slice(taken, Math.Min(faults.BytesUntilStrike(maxAtOnce), into.Length - taken)), closed);
            if (part == 0)
                throw new EndOfStreamException();
            came?.Invoke(into.Slice(taken, part));
            taken += part;
            var rate = faults.BytesPerSecond ?? pace.BytesPerSecond;
            if (rate > 0)
                await Task.Delay(TimeSpan.FromSeconds((double)part / rate), closed);
            await StrikeAsync(faults, part, closed);
        }
    }
}
