namespace Junctra.Link.Bench;

/// <summary>A place of a phone that holds files.</summary>
public enum PhonePlace
{
    /// <summary>What it has built in.</summary>
    Storage,

    /// <summary>The storage card in it.</summary>
    Card,
}

/// <summary>A file on a phone, as the phone tells it.</summary>
/// <param name="Name">Its path below the place, with slashes.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Sha256">Its digest.</param>
public sealed record PhoneFile(string Name, long Bytes, string Sha256);

// Files: listed, put on the phone or its card, and fetched, each with its digest.
public sealed partial class BenchSession
{
    private const int MostFiles = 100_000;
    private const int LongestName = 300;
    private const int DigestCharacters = 64;

    /// <summary>All files in a place.</summary>
    /// <exception cref="LinkException">The phone refuses, or cannot be understood.</exception>
    public async Task<IReadOnlyList<PhoneFile>> ListAsync(PhonePlace place, CancellationToken cancel = default)
    {
        var all = new List<PhoneFile>();
        while (true)
        {
            var answer = await AskAsync(
                    new Dictionary<string, object?>
                    {
                        ["ask"] = "files",
                        ["in"] = Word(place),
                        ["after"] = (long)all.Count,
                    },
                    "list its files",
                    clocks.Answer,
                    "the question for its files",
                    cancel
                )
                .ConfigureAwait(false);
            if (answer.GetValueOrDefault("files") is not IReadOnlyList<object?> files)
                throw LinkGuard.Nonsense("was asked for its files and named none");
            foreach (var file in files)
                all.Add(Read(file));
            if (answer.GetValueOrDefault("more") is not true)
                return all;
            if (files.Count == 0 || all.Count > MostFiles)
                throw LinkGuard.Nonsense("never ends the list of its files");
        }
    }

    /// <summary>Copies a file to the phone; it answers only once the copy lies there whole.</summary>
    /// <param name="place">Where.</param>
    /// <param name="name">Its path below the place.</param>
    /// <param name="bytes">Its size.</param>
    /// <param name="write">Writes exactly so many bytes.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="LinkException">The phone refuses: no room, no card, or the copy came damaged.</exception>
    public async Task PutAsync(
        PhonePlace place,
        string name,
        long bytes,
        Func<Stream, CancellationToken, ValueTask> write,
        CancellationToken cancel = default
    )
    {
        await AskAsync(
                new Dictionary<string, object?>
                {
                    ["ask"] = "put",
                    ["in"] = Word(place),
                    ["name"] = name,
                    ["bytes"] = bytes,
                },
                $"take {name}",
                clocks.Answer,
                "the announcement of a file",
                cancel
            )
            .ConfigureAwait(false);
        if (await SendRawAsync(write, $"keep {name}", PieceDigest.Full, cancel).ConfigureAwait(false) is not "kept")
            throw LinkGuard.Nonsense($"was asked whether it keeps {name} and did not say so");
    }

    /// <summary>Copies a file from the phone, and holds what came against the digest that the phone gave.</summary>
    /// <param name="place">Where it lies.</param>
    /// <param name="file">The file, as it was listed.</param>
    /// <param name="to">Where the copy goes.</param>
    /// <param name="taken">Told how many bytes came so far.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="LinkException">The phone refuses, or what came is not what it listed.</exception>
    public async Task FetchAsync(
        PhonePlace place,
        PhoneFile file,
        Stream to,
        Func<long, ValueTask> taken,
        CancellationToken cancel = default
    )
    {
        var answer = await AskAsync(
                new Dictionary<string, object?>
                {
                    ["ask"] = "fetch",
                    ["in"] = Word(place),
                    ["name"] = file.Name,
                },
                $"give {file.Name}",
                clocks.Answer,
                "the question for a file",
                cancel
            )
            .ConfigureAwait(false);
        if (answer.GetValueOrDefault("bytes") is not long bytes || bytes != file.Bytes)
            throw LinkGuard.Nonsense($"gives another size for {file.Name} than it listed");
        if (await TakeRawAsync(bytes, to, taken, cancel).ConfigureAwait(false) != file.Sha256)
            throw new LinkException(LinkFault.NotUnderstood, $"The copy of {file.Name} is not what the phone listed: its digest differs.");
    }

    private static string Word(PhonePlace place) => place == PhonePlace.Card ? "card" : "storage";

    private static PhoneFile Read(object? listed) =>
        listed is IReadOnlyDictionary<string, object?> file
        && file.GetValueOrDefault("name") is string { Length: > 0 and <= LongestName } name
        && name == BenchClient.Words(name)
        && IsBelow(name)
        && file.GetValueOrDefault("bytes") is long and >= 0 and var bytes
        && file.GetValueOrDefault("sha256") is string { Length: DigestCharacters } digest
        && digest.All(char.IsAsciiHexDigitLower)
            ? new PhoneFile(name, bytes, digest)
            : throw LinkGuard.Nonsense("lists a file that is none");

    /// <summary>Whether a path leads nowhere but below the place: a phone's words must not choose where a copy lies.</summary>
    private static bool IsBelow(string name) =>
        !name.Contains('\\') && name.Split('/').All(part => part is not ("" or "." or "..") && part.Trim() == part);
}
