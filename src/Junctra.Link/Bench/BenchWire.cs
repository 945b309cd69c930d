using System.Buffers.Binary;
using System.Formats.Cbor;

namespace Junctra.Link.Bench;

/// <summary>
/// Messages of Junctra's own bench protocol: a greeting of <c>JB</c> and two digits from both sides, then frames of a length
/// in 4 bytes, big-endian, and one CBOR map (RFC 8949) whose keys are text. Specification: <c>docs/protocols.md</c>.
/// </summary>
public static class BenchWire
{
    /// <summary>Greeting of version 2.</summary>
    public static ReadOnlySpan<byte> Greeting => "JB02"u8;

    private const int GreetingBytes = 4;
    private const int Version = 2;

    /// <summary>
    /// Greets, and reads the other side's greeting. Each says the highest version that it speaks; both speak the lower of the two.
    /// </summary>
    /// <returns>That version; null where the greeting is of another protocol.</returns>
    public static async ValueTask<int?> GreetAsync(Stream stream, CancellationToken cancel)
    {
        await stream.WriteAsync(Greeting.ToArray(), cancel).ConfigureAwait(false);
        var theirs = new byte[GreetingBytes];
        await stream.ReadExactlyAsync(theirs, cancel).ConfigureAwait(false);
        return theirs.AsSpan().StartsWith("JB"u8) && char.IsAsciiDigit((char)theirs[2]) && char.IsAsciiDigit((char)theirs[3])
            ? ((theirs[2] - '0') * 10 + (theirs[3] - '0')) is > 0 and var version
                ? Math.Min(version, Version)
                : null
            : null;
    }

    /// <summary>Longest frame.</summary>
    public const int MaxBytes = 64 * 1024;

    private const int MaxDepth = 8;
    private const int MaxItems = 1000;

    /// <summary>Sends a message. Values are text, whole numbers, yes or no, nothing, lists and maps of these.</summary>
    public static async ValueTask SendAsync(Stream stream, IReadOnlyDictionary<string, object?> message, CancellationToken cancel)
    {
        var writer = new CborWriter(CborConformanceMode.Canonical);
        Write(writer, message);
        var body = writer.Encode();
        if (body.Length > MaxBytes)
            throw new InvalidDataException($"A message of {body.Length} bytes; at most {MaxBytes} are sent.");
        var frame = new byte[4 + body.Length];
        BinaryPrimitives.WriteInt32BigEndian(frame, body.Length);
        body.CopyTo(frame, 4);
        await stream.WriteAsync(frame, cancel).ConfigureAwait(false);
    }

    /// <summary>Receives a message.</summary>
    /// <exception cref="InvalidDataException">It is none: a length that makes no sense, or no such map.</exception>
    /// <exception cref="EndOfStreamException">The other side closed.</exception>
    public static async ValueTask<IReadOnlyDictionary<string, object?>> ReceiveAsync(Stream stream, CancellationToken cancel)
    {
        var head = new byte[4];
        await stream.ReadExactlyAsync(head, cancel).ConfigureAwait(false);
        var length = BinaryPrimitives.ReadInt32BigEndian(head);
        if (length is <= 0 or > MaxBytes)
            throw new InvalidDataException($"A message of {length} bytes was announced; 1 to {MaxBytes} make sense here.");
        var body = new byte[length];
        await stream.ReadExactlyAsync(body, cancel).ConfigureAwait(false);
        return Read(body);
    }

    /// <summary>Reads the map of a frame.</summary>
    /// <exception cref="InvalidDataException">It is no such map.</exception>
    public static IReadOnlyDictionary<string, object?> Read(ReadOnlyMemory<byte> body)
    {
        try
        {
            var reader = new CborReader(body, CborConformanceMode.Strict);
            var items = 0;
            var message =
                Read(reader, 0, ref items) as IReadOnlyDictionary<string, object?>
                ?? throw new InvalidDataException("A message must be a map.");
            return reader.BytesRemaining == 0 ? message : throw new InvalidDataException("Bytes follow the message.");
        }
        catch (Exception error)
            when (error is CborContentException or InvalidOperationException or OverflowException or NotSupportedException)
        {
            throw new InvalidDataException("A message is no CBOR of this protocol.", error);
        }
    }

    private static void Write(CborWriter writer, object? value)
    {
        switch (value)
        {
            case null:
                writer.WriteNull();
                break;
            case string text:
                writer.WriteTextString(text);
                break;
            case bool flag:
                writer.WriteBoolean(flag);
                break;
            case int number:
                writer.WriteInt64(number);
                break;
            case long number:
                writer.WriteInt64(number);
                break;
            case IReadOnlyDictionary<string, object?> map:
                writer.WriteStartMap(map.Count);
                foreach (var (key, item) in map)
                {
                    writer.WriteTextString(key);
                    Write(writer, item);
                }

                writer.WriteEndMap();
                break;
            case IEnumerable<object?> list:
                var items = list.ToList();
                writer.WriteStartArray(items.Count);
                foreach (var item in items)
                    Write(writer, item);
                writer.WriteEndArray();
                break;
            default:
                throw new ArgumentException($"{value.GetType().Name} is not sent.", nameof(value));
        }
    }

    private static object? Read(CborReader reader, int depth, ref int items)
    {
        if (depth > MaxDepth || ++items > MaxItems)
            throw new InvalidDataException("A message is too deep or too long.");
        switch (reader.PeekState())
        {
            case CborReaderState.TextString:
                return reader.ReadTextString();
            case CborReaderState.Boolean:
                return reader.ReadBoolean();
            case CborReaderState.UnsignedInteger or CborReaderState.NegativeInteger:
                return reader.ReadInt64();
            case CborReaderState.Null:
                reader.ReadNull();
                return null;
            case CborReaderState.StartArray:
                reader.ReadStartArray();
                var list = new List<object?>();
                while (reader.PeekState() != CborReaderState.EndArray)
                    list.Add(Read(reader, depth + 1, ref items));
                reader.ReadEndArray();
                return list;
            case CborReaderState.StartMap:
                reader.ReadStartMap();
                var map = new Dictionary<string, object?>(StringComparer.Ordinal);
                while (reader.PeekState() != CborReaderState.EndMap)
                {
                    var key = reader.ReadTextString();
                    map[key] = Read(reader, depth + 1, ref items);
                }

                reader.ReadEndMap();
                return map;
            case var state:
                throw new InvalidDataException($"A message holds {state}, which is not of this protocol.");
        }
    }
}
