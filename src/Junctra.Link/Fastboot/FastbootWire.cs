using System.Buffers.Binary;

namespace Junctra.Link.Fastboot;

/// <summary>
/// Messages of the open fastboot protocol over TCP: a greeting of <c>FB</c> and two digits from both sides, then messages,
/// each after its length in 8 bytes, big-endian. Specification: "Fastboot TCP protocol", version 1.
/// </summary>
public static class FastbootWire
{
    /// <summary>Greeting of version 1.</summary>
    public static ReadOnlySpan<byte> Greeting => "FB01"u8;

    /// <summary>Port that fastboot over TCP uses when none is named.</summary>
    public const int DefaultPort = 5554;

    /// <summary>Longest command.</summary>
    public const int MaxCommandBytes = 4096;

    /// <summary>Longest answer: four letters and up to 252 bytes.</summary>
    public const int MaxAnswerBytes = 256;

    /// <summary>Size of the length before each message.</summary>
    public const int LengthBytes = 8;

    /// <summary>Sends a message that fits into memory.</summary>
    public static async ValueTask SendAsync(Stream stream, ReadOnlyMemory<byte> message, CancellationToken cancel)
    {
        var frame = new byte[LengthBytes + message.Length];
        BinaryPrimitives.WriteInt64BigEndian(frame, message.Length);
        message.CopyTo(frame.AsMemory(LengthBytes));
        await stream.WriteAsync(frame, cancel).ConfigureAwait(false);
    }

    /// <summary>Sends the length of a message whose bytes follow.</summary>
    public static async ValueTask SendLengthAsync(Stream stream, long length, CancellationToken cancel)
    {
        var head = new byte[LengthBytes];
        BinaryPrimitives.WriteInt64BigEndian(head, length);
        await stream.WriteAsync(head, cancel).ConfigureAwait(false);
    }

    /// <summary>Receives the length of the next message.</summary>
    /// <exception cref="EndOfStreamException">The other side closed.</exception>
    public static async ValueTask<long> ReceiveLengthAsync(Stream stream, CancellationToken cancel)
    {
        var head = new byte[LengthBytes];
        await stream.ReadExactlyAsync(head, cancel).ConfigureAwait(false);
        return BinaryPrimitives.ReadInt64BigEndian(head);
    }

    /// <summary>Receives a message.</summary>
    /// <param name="stream">The connection.</param>
    /// <param name="most">Longest message that is taken.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="InvalidDataException">The length is negative or above <paramref name="most"/>.</exception>
    /// <exception cref="EndOfStreamException">The other side closed.</exception>
    public static async ValueTask<byte[]> ReceiveAsync(Stream stream, int most, CancellationToken cancel)
    {
        var length = await ReceiveLengthAsync(stream, cancel).ConfigureAwait(false);
        if (length < 0 || length > most)
            throw new InvalidDataException($"A message of {length} bytes was announced; at most {most} make sense here.");
        var message = new byte[length];
        await stream.ReadExactlyAsync(message, cancel).ConfigureAwait(false);
        return message;
    }
}
