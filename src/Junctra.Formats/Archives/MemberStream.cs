using System.Security.Cryptography;
using Junctra.Formats.Images;

namespace Junctra.Formats.Archives;

/// <summary>
/// A member from its first byte, after its beginning was looked at. Digests what passes, either here or in a lane of its own,
/// and copies it where it is wanted. A member that ends before the length its archive gave is an
/// <see cref="EndOfStreamException"/>.
/// </summary>
internal sealed class MemberStream : ForwardStream, IAsyncDisposable
{
    private const int BeginningBytes = 64 << 10;
    private readonly Stream rest;
    private readonly long? length;
    private readonly byte[] start;
    private readonly IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private HashLane? lane;

    private MemberStream(byte[] start, Stream rest, long? length, bool isWhole)
    {
        (this.start, this.rest, this.length) = (start, rest, length);
        Kind = Content.Of(start, isWhole);
    }

    /// <summary>What it is, by its beginning.</summary>
    public ContentKind Kind { get; }

    /// <summary>Its length as its archive gives it, or null.</summary>
    public long? KnownLength => length;

    /// <summary>Its first bytes; all of a text.</summary>
    public ReadOnlySpan<byte> Start => start;

    /// <summary>Whether its end was reached, and not only that of a broken archive around it.</summary>
    public bool IsAtEnd { get; private set; }

    /// <summary>Takes a copy of what passes, or null.</summary>
    public Stream? Copy { get; set; }

    /// <summary>Keeps the beginning of what passes, or null.</summary>
    public ImageBeginning? Beginning { get; set; }

    /// <summary>Computes other digests of what passes as well, or null.</summary>
    public OtherHashes? Others { get; set; }

    /// <summary>Looks at a member's beginning.</summary>
    /// <param name="data">The member.</param>
    /// <param name="length">Its length as its archive gives it, or null where only its end tells.</param>
    /// <param name="maxText">How much of a text to look at; of anything else a beginning suffices.</param>
    /// <param name="cancel">Cancels.</param>
    public static async ValueTask<MemberStream> OpenAsync(Stream data, long? length, int maxText, CancellationToken cancel)
    {
        var start = new byte[(int)Math.Min(length ?? long.MaxValue, Math.Min(maxText, BeginningBytes))];
        var read = await data.ReadAtLeastAsync(start, start.Length, throwOnEndOfStream: length is not null, cancel).ConfigureAwait(false);
        // A text is only told from an image by all of it.
        if (read == BeginningBytes && maxText > read && !(length > maxText) && Content.MayBeText(start))
        {
            var whole = new byte[(int)Math.Min(length ?? long.MaxValue, maxText)];
            start.CopyTo(whole, 0);
            read += await data.ReadAtLeastAsync(whole.AsMemory(read), whole.Length - read, throwOnEndOfStream: length is not null, cancel)
                .ConfigureAwait(false);
            start = whole;
        }

        var isWhole = length is { } known ? known == read : read < start.Length || read < Math.Min(maxText, BeginningBytes);
        return new MemberStream(start.Length == read ? start : start[..read], data, length, isWhole);
    }

    /// <summary>Has the digest computed beside the reading; to be called before the first byte is read.</summary>
    public void DigestBeside() => lane = new HashLane();

    /// <summary>Reads what is left and throws it away.</summary>
    public async ValueTask DrainAsync(byte[] buffer, CancellationToken cancel)
    {
        while (await ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
    }

    /// <summary>Lower-case hexadecimal digest of what was read.</summary>
    public async ValueTask<string> DigestAsync() =>
        lane is null ? Convert.ToHexStringLower(hash.GetCurrentHash()) : await lane.FinishAsync().ConfigureAwait(false);

    public override async ValueTask DisposeAsync()
    {
        if (lane is not null)
            await lane.DisposeAsync().ConfigureAwait(false);
        hash.Dispose();
        Others?.Dispose();
        await base.DisposeAsync().ConfigureAwait(false);
    }

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        int count;
        if (Position < start.Length)
        {
            count = Math.Min(buffer.Length, start.Length - (int)Position);
            start.AsMemory((int)Position, count).CopyTo(buffer);
        }
        else
        {
            if (length is { } known)
                buffer = buffer[..(int)Math.Min(buffer.Length, known - Position)];
            count = buffer.Length == 0 ? 0 : await rest.ReadAsync(buffer, cancel).ConfigureAwait(false);
            if (count == 0 && Position < length)
                throw new EndOfStreamException();
            IsAtEnd = count == 0;
        }

        if (lane is null)
            hash.AppendData(buffer.Span[..count]);
        else
            await lane.AppendAsync(buffer[..count], cancel).ConfigureAwait(false);
        Others?.Append(buffer.Span[..count]);
        Beginning?.Take(buffer.Span[..count]);
        if (Copy is not null)
            await Copy.WriteAsync(buffer[..count], cancel).ConfigureAwait(false);
        return count;
    }
}
