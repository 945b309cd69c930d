using System.Security.Cryptography;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Link.Bench;

namespace Junctra.Link.Running;

/// <summary>
/// Copies files to a phone and from it. What is fetched is kept under its digest, and each file is written down once its copy was compared;
/// one that was fetched before is not fetched again.
/// </summary>
internal sealed class FileCopies(WriteOrder order, RunLog log)
{
    /// <summary>Copies the part that was taken out of the bundle to the phone.</summary>
    public async Task PutPartAsync(BenchSession link, PlanStep step, WriteSource source, string name, CancellationToken cancel)
    {
        var (file, digest) = await source.PartAsync(cancel).ConfigureAwait(false);
        file.Position = 0;
        await PutAsync(link, step, PhonePlace.Storage, file, name, digest, cancel).ConfigureAwait(false);
    }

    /// <summary>Copies the package file to the card in the phone.</summary>
    public async Task PutPackageAsync(BenchSession link, PlanStep step, WriteSource source, CopyToCard copy, CancellationToken cancel)
    {
        await using var file = source.WholePackage();
        await PutAsync(link, step, PhonePlace.Card, file, copy.FileName, copy.Sha256, cancel).ConfigureAwait(false);
    }

    private async Task PutAsync(
        BenchSession link,
        PlanStep step,
        PhonePlace place,
        Stream file,
        string name,
        string digest,
        CancellationToken cancel
    )
    {
        await link.PutAsync(
                place,
                name,
                file.Length,
                async (stream, token) =>
                {
                    var counted = new CountingStream(stream, sent => log.TellAsync(step.Number, null, sent));
                    await file.CopyToAsync(counted, token).ConfigureAwait(false);
                },
                cancel
            )
            .ConfigureAwait(false);
        await log.WriteAsync(new FileCopied(step.Number, name, file.Length, digest, false)).ConfigureAwait(false);
    }

    /// <summary>Fetches what was made on the phone of a file that was put there.</summary>
    /// <exception cref="WriteRefusedException">Nothing was made of it, or more than one file.</exception>
    public async Task FetchMadeOfAsync(BenchSession link, PlanStep step, string name, CancellationToken cancel)
    {
        var stem = Path.GetFileNameWithoutExtension(name);
        var put = log.State.Copied.Where(copy => !copy.FromPhone).Select(copy => copy.Sha256).ToHashSet();
        var made = (await link.ListAsync(PhonePlace.Storage, cancel).ConfigureAwait(false))
            .Where(file => file.Name != name && file.Name.Split('/')[^1].Contains(stem, StringComparison.OrdinalIgnoreCase))
            .Where(file => !put.Contains(file.Sha256))
            .ToList();
        if (made is not [var only])
            throw new WriteRefusedException(
                made.Count == 0
                    ? $"No file that was made of {name} lies on the phone."
                    : $"{made.Count} files on the phone may have been made of {name}: {string.Join(", ", made.Select(file => file.Name))}.",
                made.Count == 0
                    ? "Have the root manager on the phone patch it, then begin again. Nothing was written."
                    : "Delete those that are not meant on the phone, then begin again. Nothing was written."
            );
        await FetchAsync(link, step, only, cancel).ConfigureAwait(false);
    }

    /// <summary>Fetches all that lies in what the phone has built in.</summary>
    public async Task SaveAllAsync(BenchSession link, PlanStep step, CancellationToken cancel)
    {
        foreach (var file in await link.ListAsync(PhonePlace.Storage, cancel).ConfigureAwait(false))
            await FetchAsync(link, step, file, cancel).ConfigureAwait(false);
    }

    /// <summary>Puts files that were saved back under the names they had; each is written down once its copy was compared.</summary>
    /// <exception cref="WriteRefusedException">A file is not kept any more, or is not what was saved.</exception>
    public async Task BringBackAsync(BenchSession link, PlanStep step, SavedData saved, CancellationToken cancel)
    {
        var folder = order.SavedFolder?.Invoke(saved.KeptIn)
            ?? throw new InvalidOperationException("Where saved files are kept was not said.");
        // All of them first: what is said of one that is not whole is true of all.
        foreach (var kept in saved.Files)
        {
            var path = Path.Combine(folder, kept.Sha256);
            if (!File.Exists(path) || !await IsAsSavedAsync(path, kept, cancel).ConfigureAwait(false))
                throw new WriteRefusedException(
                    $"The saved copy of {kept.Name} is {(File.Exists(path) ? "not what was saved" : "no longer kept")}.",
                    "Nothing was put on the phone. Look for the copy in the backups of this computer."
                );
        }

        foreach (var kept in saved.Files)
        {
            await using var file = File.OpenRead(Path.Combine(folder, kept.Sha256));
            await PutAsync(link, step, PhonePlace.Storage, file, kept.Name, kept.Sha256, cancel).ConfigureAwait(false);
        }
    }

    private static async Task<bool> IsAsSavedAsync(string path, SavedFile saved, CancellationToken cancel)
    {
        await using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.Asynchronous);
        return file.Length == saved.Bytes
            && Convert.ToHexStringLower(await SHA256.HashDataAsync(file, cancel).ConfigureAwait(false)) == saved.Sha256;
    }

    private async Task FetchAsync(BenchSession link, PlanStep step, PhoneFile file, CancellationToken cancel)
    {
        var folder = order.KeepFolder ?? throw new InvalidOperationException("Where fetched files are kept was not said.");
        Directory.CreateDirectory(folder);
        var path = Path.Combine(folder, file.Sha256);
        if (!File.Exists(path) || new FileInfo(path).Length != file.Bytes)
        {
            var partial = path + ".partial";
            await using (
                var copy = new FileStream(partial, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16, FileOptions.Asynchronous)
            )
            {
                await link.FetchAsync(PhonePlace.Storage, file, copy, taken => log.TellAsync(step.Number, null, taken), cancel)
                    .ConfigureAwait(false);
                copy.Flush(flushToDisk: true);
            }

            File.Move(partial, path, overwrite: true);
        }

        await log.WriteAsync(new FileCopied(step.Number, file.Name, file.Bytes, file.Sha256, true)).ConfigureAwait(false);
    }
}
