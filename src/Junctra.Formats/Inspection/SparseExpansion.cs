using Junctra.Core.Facts;
using Junctra.Formats.Archives;
using Junctra.Formats.Images;
using Junctra.Formats.Sparse;

namespace Junctra.Formats.Inspection;

/// <summary>Digests what a sparse image expands to, holes read as zero.</summary>
internal static class SparseExpansion
{
    /// <summary>Reads a sparse image.</summary>
    /// <param name="image">The image; may be left unread after a fault.</param>
    /// <param name="most">Largest size it may expand to.</param>
    /// <param name="beginning">Keeps the beginning of what it expands to.</param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>Its expanded size as its header gives it; the digest, null where there are too many holes for their size; or a sentence
    /// that follows the image's name.</returns>
    public static async ValueTask<(long Bytes, string? Sha256, string? Fault)> ReadAsync(
        MemberStream image,
        long most,
        ImageBeginning beginning,
        CancellationToken cancel
    )
    {
        var lane = new HashLane();
        long bytes = 0,
            done = 0;
        var isSkipped = false;
        bool IsWanted() =>
            !(isSkipped = isSkipped || done > WalkFindings.DigestedAllowed(Math.Max(image.Position, image.KnownLength ?? 0)));
        try
        {
            var reader = await SparseReader.OpenAsync(image, cancel).ConfigureAwait(false);
            bytes = reader.Header.ExpandedBytes;
            if (bytes == 0)
                return (0, null, "is a sparse image of nothing.");
            if (bytes > most)
                return (bytes, null, $"claims to expand to {ByteSize.Text(bytes)}, more than this computer unpacks.");
            await reader
                .ReadAllAsync(
                    null,
                    (_, part, _) =>
                    {
                        beginning.Take(part.Span);
                        done += part.Length;
                        return IsWanted() ? lane.AppendAsync(part, cancel) : ValueTask.CompletedTask;
                    },
                    IsWanted,
                    cancel
                )
                .ConfigureAwait(false);
            // One byte more than the last chunk has is one too many.
            if (await image.ReadAsync(new byte[1], cancel).ConfigureAwait(false) > 0)
                return (bytes, null, "goes on after its last chunk.");
            return (bytes, !isSkipped && done == bytes ? await lane.FinishAsync().ConfigureAwait(false) : null, null);
        }
        catch (SparseFormatException error)
        {
            return (bytes, null, $"is a broken sparse image. {error.Message}");
        }
        catch (EndOfStreamException) when (image.IsAtEnd)
        {
            return (bytes, null, "is a sparse image that ends in the middle of a chunk.");
        }
        finally
        {
            await lane.DisposeAsync().ConfigureAwait(false);
        }
    }
}
