using System.Buffers.Binary;
using System.IO.Hashing;

namespace Junctra.Formats.Sparse;

/// <summary>
/// CRC-32 (the one of ZIP and gzip) of bytes that come piece by piece, and of runs that repeat four bytes: those take no time however long
/// they are, as the checksum of two pieces follows from those of each and the length of the second.
/// </summary>
internal sealed class RunningCrc
{
    private const uint Polynomial = 0xEDB88320;

    /// <summary>The checksum of all so far.</summary>
    public uint Value { get; private set; }

    /// <summary>Adds bytes.</summary>
    public void Append(ReadOnlySpan<byte> bytes) => Value = Combine(Value, Crc32.HashToUInt32(bytes), bytes.Length);

    /// <summary>Adds a run of four bytes over and over.</summary>
    /// <param name="value">The four bytes, little-endian.</param>
    /// <param name="bytes">Length of the run, a multiple of 4.</param>
    public void AppendRepeated(uint value, long bytes)
    {
        Span<byte> four = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32LittleEndian(four, value);
        // Doubled as often as it takes: the checksum of so many repeats, for every power of two in their number.
        var (crc, length) = (Crc32.HashToUInt32(four), 4L);
        for (var left = bytes / 4; left > 0; left >>= 1)
        {
            if ((left & 1) != 0)
                Value = Combine(Value, crc, length);
            (crc, length) = (Combine(crc, crc, length), length * 2);
        }
    }

    /// <summary>
    /// The checksum of two pieces in a row: the first's, moved on by as many zero bytes as the second has, and the second's.
    /// </summary>
    private static uint Combine(uint first, uint second, long secondBytes) => Multiply(PowerOfX(secondBytes), first) ^ second;

    /// <summary>
    /// x to the power of eight times a number of bytes, modulo the polynomial; bits reversed, as the checksum keeps them.
    /// </summary>
    private static uint PowerOfX(long bytes)
    {
        var (power, square) = (0x80000000u, 0x00800000u);
        for (; bytes > 0; bytes >>= 1)
        {
            if ((bytes & 1) != 0)
                power = Multiply(square, power);
            square = Multiply(square, square);
        }

        return power;
    }

    private static uint Multiply(uint a, uint b)
    {
        uint product = 0;
        for (var bit = 0x80000000u; bit != 0; bit >>= 1)
        {
            if ((a & bit) != 0)
                product ^= b;
            b = (b & 1) != 0 ? (b >> 1) ^ Polynomial : b >> 1;
        }

        return product;
    }
}
