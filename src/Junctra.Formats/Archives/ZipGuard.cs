using System.Buffers.Binary;

namespace Junctra.Formats.Archives;

/// <summary>
/// Looks at the end of a ZIP before its reader does, which takes the whole list of members into memory, however long it is.
/// </summary>
/// <remarks>End of central directory record and its ZIP64 forms: APPNOTE 6.3, sections 4.3.14 to 4.3.16.</remarks>
internal static class ZipGuard
{
    private const int EndBytes = 22;
    private const int LocatorBytes = 20;
    private const int End64Bytes = 56;
    private const int MaxComment = 0xFFFF;

    /// <summary>A list of 4,096 members with long names and notes stays far below this.</summary>
    private const long MaxListBytes = 8 << 20;

    /// <summary>Refuses a list that is too long. Whatever is wrong with the end besides is left to the reader.</summary>
    /// <param name="zip">The archive, seekable.</param>
    /// <param name="maxMembers">Members that are looked at.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="TrapException">The list is longer than that.</exception>
    public static async ValueTask CheckAsync(Stream zip, int maxMembers, CancellationToken cancel)
    {
        var tail = new byte[(int)Math.Min(zip.Length, EndBytes + MaxComment + LocatorBytes)];
        var tailAt = zip.Length - tail.Length;
        zip.Position = tailAt;
        await zip.ReadExactlyAsync(tail, cancel).ConfigureAwait(false);
        var end = tail.AsSpan().LastIndexOf("PK\x05\x06"u8);
        // A mark that does not end the file stands in a comment, or in front of something that was added: what the reader takes for the
        // list would not be what was looked at here.
        if (
            end < 0
            || end + EndBytes > tail.Length
            || end + EndBytes + BinaryPrimitives.ReadUInt16LittleEndian(tail.AsSpan(end + 20)) != tail.Length
        )
            throw new InvalidDataException("Its end is not where it says.");
        long count = BinaryPrimitives.ReadUInt16LittleEndian(tail.AsSpan(end + 10));
        long list = BinaryPrimitives.ReadUInt32LittleEndian(tail.AsSpan(end + 16));
        if (end >= LocatorBytes && tail.AsSpan(end - LocatorBytes).StartsWith("PK\x06\x07"u8))
        {
            var end64At = BinaryPrimitives.ReadInt64LittleEndian(tail.AsSpan(end - LocatorBytes + 8));
            var end64 = new byte[End64Bytes];
            if (end64At >= 0 && end64At <= zip.Length - End64Bytes)
            {
                zip.Position = end64At;
                await zip.ReadExactlyAsync(end64, cancel).ConfigureAwait(false);
                count = Math.Max(count == 0xFFFF ? 0 : count, BinaryPrimitives.ReadInt64LittleEndian(end64.AsSpan(32)));
                list = list == uint.MaxValue ? BinaryPrimitives.ReadInt64LittleEndian(end64.AsSpan(48)) : list;
            }
        }

        if (count > maxMembers)
            throw new TrapException($"The archive has more than {maxMembers} members.");
        if (tailAt + end - list > MaxListBytes)
            throw new TrapException("The file is a trap: the list of its members is longer than any that is honest.");
        zip.Position = 0;
    }
}
