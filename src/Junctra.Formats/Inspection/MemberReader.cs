using System.Buffers;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Sparse;

namespace Junctra.Formats.Inspection;

/// <summary>What one member turned out to be, with the text it held when it is one.</summary>
internal sealed record MemberFound(PackageMember Member, string? Text, string? Fault);

/// <summary>Tells what a member is by its content, and digests it in one pass in bounded memory.</summary>
internal static class MemberReader
{
    private const int BufferBytes = 1 << 18;

    public static async ValueTask<MemberFound> ReadAsync(
        string name, Stream data, long offset, long bytes, long mostExpanded, InspectionLimits limits, CancellationToken cancel)
    {
        var start = new byte[(int)Math.Min(bytes, limits.MostTextBytes)];
        await data.ReadExactlyAsync(start, cancel).ConfigureAwait(false);
        if (start.Length == bytes && AsText(start) is { } text)
        {
            var stray = new PackageMember(name, MemberKind.Stray, offset, bytes, Convert.ToHexStringLower(SHA256.HashData(start)));
            return new MemberFound(stray, text, null);
        }

        using var packed = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var whole = new PrefixedStream(start, data, bytes, packed);
        return SparseHeader.IsSparse(start)
            ? await ReadSparseAsync(name, whole, offset, bytes, packed, Math.Min(mostExpanded, limits.MostExpandedImageBytes), cancel).ConfigureAwait(false)
            : await ReadRawAsync(name, whole, offset, bytes, packed, cancel).ConfigureAwait(false);
    }

    private static async ValueTask<MemberFound> ReadRawAsync(
        string name, PrefixedStream data, long offset, long bytes, IncrementalHash packed, CancellationToken cancel)
    {
        await DrainAsync(data, cancel).ConfigureAwait(false);
        var digest = Convert.ToHexStringLower(packed.GetCurrentHash());
        return new MemberFound(new PackageMember(name, MemberKind.Image, offset, bytes, digest, ImageFormat.Raw, bytes, digest), null, null);
    }

    private static async ValueTask<MemberFound> ReadSparseAsync(
        string name, PrefixedStream data, long offset, long bytes, IncrementalHash packed, long mostExpanded, CancellationToken cancel)
    {
        using var expanded = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        long expandedBytes = 0;
        string? fault = null;
        try
        {
            var reader = await SparseReader.OpenAsync(data, cancel).ConfigureAwait(false);
            expandedBytes = reader.Header.ExpandedBytes;
            if (expandedBytes > mostExpanded)
            {
                fault = $"{name} claims to expand to {ByteSize.Text(expandedBytes)}, more than this computer unpacks.";
            }
            else
            {
                await reader.ReadAllAsync(null, (_, part, _) =>
                {
                    expanded.AppendData(part.Span);
                    return ValueTask.CompletedTask;
                }, cancel).ConfigureAwait(false);
                if (data.BytesLeft > 0) fault = $"{name} goes on for {data.BytesLeft} bytes after its last chunk.";
            }
        }
        catch (InvalidDataException error)
        {
            fault = $"{name} is a broken sparse image. {error.Message}";
        }
        catch (EndOfStreamException) when (data.BytesLeft == 0)
        {
            fault = $"{name} is a sparse image that ends in the middle of a chunk.";
        }

        await DrainAsync(data, cancel).ConfigureAwait(false);
        var member = new PackageMember(name, MemberKind.Image, offset, bytes, Convert.ToHexStringLower(packed.GetCurrentHash()),
            ImageFormat.Sparse, expandedBytes, fault is null ? Convert.ToHexStringLower(expanded.GetCurrentHash()) : null);
        return new MemberFound(member, null, fault);
    }

    /// <summary>The bytes as a text, or null when they are none: UTF-8 without control characters but tab and line ends.</summary>
    private static string? AsText(byte[] bytes)
    {
        if (bytes.Length == 0) return "";
        try
        {
            var text = new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes);
            return text.Any(c => char.IsControl(c) && c is not ('\t' or '\n' or '\r')) ? null : text.TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    private static async ValueTask DrainAsync(PrefixedStream data, CancellationToken cancel)
    {
        var buffer = ArrayPool<byte>.Shared.Rent(BufferBytes);
        try
        {
            while (await data.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        if (data.BytesLeft > 0) throw new EndOfStreamException();
    }
}
