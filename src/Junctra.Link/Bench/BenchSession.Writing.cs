using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Bench;

/// <summary>Whom a phone must be, said with what its mode can tell.</summary>
/// <param name="Serial">Its serial; null where the mode knows none.</param>
/// <param name="ModelCode">Its model code; null where the mode knows none.</param>
/// <param name="ChipFamily">Its chip, for a mode that knows nothing else; else null.</param>
public sealed record BenchTarget(string? Serial, string? ModelCode, string? ChipFamily = null)
{
    /// <summary>What is said of it, by its key in the message.</summary>
    internal IEnumerable<(string Key, string Value)> Named
    {
        get
        {
            if (Serial is not null)
                yield return (FactName.Serial.Value, Serial);
            if (ModelCode is not null)
                yield return (FactName.ModelCode.Value, ModelCode);
            if (ChipFamily is not null)
                yield return (FactName.ChipFamily.Value, ChipFamily);
        }
    }
}

// Writing: one session takes whatever its mode takes, images in pieces, a layout, a loader.
public sealed partial class BenchSession
{
    /// <summary>Most bytes that the phone holds of a piece; known once the session has begun.</summary>
    public long MaxPieceBytes { get; private set; }

    private string pieceDigest = PieceDigest.Full;

    /// <summary>Begins to write: the phone confirms that it is the one that is meant, and that it knows the partitions.</summary>
    /// <param name="target">Whom it must be.</param>
    /// <param name="images">What will be written; empty where only the layout is.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="LinkException">It refuses, falls silent, or cannot be understood.</exception>
    public async Task BeginAsync(BenchTarget target, IEnumerable<AnnouncedImage> images, CancellationToken cancel = default)
    {
        var question = new Dictionary<string, object?>
        {
            ["ask"] = "begin",
            ["images"] = images
                .Select(image => (object?)new Dictionary<string, object?> { ["partition"] = image.Partition, ["sha256"] = image.Sha256 })
                .ToList(),
        };
        foreach (var (key, value) in target.Named)
            question[key] = value;
        var answer = await AskAsync(question, "begin", clocks.Answer, "the begin of the session", cancel).ConfigureAwait(false);
        if (answer.GetValueOrDefault("piece-bytes") is not long bytes || bytes <= 0)
            throw new LinkException(LinkFault.NotUnderstood, "The phone does not say how much it holds at once.");
        MaxPieceBytes = Math.Min(bytes, uint.MaxValue);
        pieceDigest = answer.GetValueOrDefault("piece-digest") as string ?? PieceDigest.Full;
    }

    /// <summary>Sends a piece; the phone then holds it in memory, and nothing of it is written.</summary>
    /// <param name="partition">The image's partition.</param>
    /// <param name="bytes">How many bytes follow.</param>
    /// <param name="write">Writes exactly so many.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task SendPieceAsync(
        string partition,
        long bytes,
        Func<Stream, CancellationToken, ValueTask> write,
        CancellationToken cancel = default
    )
    {
        await AskAsync(
                new Dictionary<string, object?>
                {
                    ["ask"] = "piece",
                    ["partition"] = partition,
                    ["bytes"] = bytes,
                },
                "take the piece",
                clocks.Answer,
                "the announcement of data",
                cancel
            )
            .ConfigureAwait(false);
        if (await SendRawAsync(write, "keep the data", pieceDigest, cancel).ConfigureAwait(false) is not "held")
            throw LinkGuard.Nonsense("was asked whether it holds the piece and did not say so");
    }

    /// <summary>Has the phone write what it holds, and waits until it says that it has accepted it.</summary>
    /// <param name="partition">The partition.</param>
    /// <param name="bytes">How much it holds, for the clock.</param>
    /// <param name="cancel">Cancels the wait, not the phone.</param>
    public Task WriteAsync(string partition, long bytes, CancellationToken cancel = default) =>
        WorkAsync(
            new Dictionary<string, object?> { ["ask"] = "write", ["partition"] = partition },
            $"write {partition}",
            clocks.Commit(bytes),
            cancel
        );

    /// <summary>Has the phone lay out its storage anew, and waits until it says that it has.</summary>
    /// <param name="partitions">The partitions in order, with their sizes in bytes.</param>
    /// <param name="cancel">Cancels the wait, not the phone.</param>
    public Task LayOutAsync(IReadOnlyList<LaidOut> partitions, CancellationToken cancel = default) =>
        WorkAsync(
            new Dictionary<string, object?>
            {
                ["ask"] = "layout",
                ["partitions"] = partitions
                    .Select(part => (object?)new Dictionary<string, object?> { ["partition"] = part.Name, ["bytes"] = part.Bytes })
                    .ToList(),
            },
            "rewrite the layout",
            clocks.Commit(partitions.Sum(part => part.Bytes)),
            cancel
        );

    /// <summary>Gives the loader to a chip that answers alone; the first answer comes once it runs.</summary>
    /// <param name="bytes">Its size.</param>
    /// <param name="write">Writes exactly so many bytes.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="LinkException">The chip does not start it: it is another chip's, or its boot chain is too new for it.</exception>
    public async Task SupplyLoaderAsync(long bytes, Func<Stream, CancellationToken, ValueTask> write, CancellationToken cancel = default)
    {
        await AskAsync(
                new Dictionary<string, object?> { ["ask"] = "loader", ["bytes"] = bytes },
                "take the loader",
                clocks.Answer,
                "the announcement of the loader",
                cancel
            )
            .ConfigureAwait(false);
        if (await SendRawAsync(write, "start the loader", PieceDigest.Full, cancel).ConfigureAwait(false) is not "runs")
            throw LinkGuard.Nonsense("was given its loader and did not say that it runs");
    }

    /// <summary>Ends the session.</summary>
    /// <param name="restart">Whether the phone restarts; else it stays in its write mode.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task EndAsync(bool restart, CancellationToken cancel = default) =>
        await AskAsync(
                new Dictionary<string, object?> { ["ask"] = "end", ["restart"] = restart },
                "end the session",
                clocks.Answer,
                "the end of the session",
                cancel
            )
            .ConfigureAwait(false);
}
