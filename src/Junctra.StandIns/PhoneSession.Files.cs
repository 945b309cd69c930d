using System.Security.Cryptography;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

// Files: over the debugging link of a system that allows this computer, and from custom recovery.
internal sealed partial class PhoneSession
{
    private const int FilesAtOnce = 100;
    private const int Part = 64 * 1024;

    private async Task ListAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var files = Place(question).All();
        var after = (int)Math.Clamp(question.GetValueOrDefault("after") as long? ?? 0, 0, files.Count);
        await SayAsync(
            new Dictionary<string, object?>
            {
                ["ok"] = true,
                ["files"] = files
                    .Skip(after)
                    .Take(FilesAtOnce)
                    .Select(file =>
                        (object?)
                            new Dictionary<string, object?>
                            {
                                ["name"] = file.Name,
                                ["bytes"] = file.Bytes,
                                ["sha256"] = file.Sha256,
                            }
                    )
                    .ToList(),
                ["more"] = files.Count > after + FilesAtOnce,
            },
            closed
        );
    }

    private async Task PutAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var place = Place(question);
        if (question.GetValueOrDefault("name") is not string name || !PhoneFolder.Takes(name))
            throw new PhoneRefusesException("no such name");
        if (question.GetValueOrDefault("bytes") is not long bytes || bytes < 0)
            throw new PhoneRefusesException("no such size");
        if (bytes > place.Room)
            throw new PhoneRefusesException($"no room: {place.Room} bytes are free");
        FaultStriker.Refuse(phone.Faults);
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true }, closed);
        await place.PutAsync(name, async file =>
        {
            using var digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var part = new byte[Part];
            for (long left = bytes; left > 0; )
            {
                var data = part.AsMemory(0, (int)Math.Min(Part, left));
                await FaultStriker.ReadAsync(stream, data, phone, pace, null, closed);
                digest.AppendData(data.Span);
                await file.WriteAsync(data, closed);
                left -= data.Length;
            }

            await CameWholeAsync(_ => Convert.ToHexStringLower(digest.GetCurrentHash()), closed);
        });
        await phone.CardChangedAsync(place);
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true, ["state"] = "kept" }, closed);
    }

    private async Task FetchAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var place = Place(question);
        if (question.GetValueOrDefault("name") is not string name || !PhoneFolder.Takes(name) || place.Find(name) is not { } path)
            throw new PhoneRefusesException("no such file");
        FaultStriker.Refuse(phone.Faults);
        await using var file = File.OpenRead(path);
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true, ["bytes"] = file.Length }, closed);
        var part = new byte[Part];
        for (int read; (read = await file.ReadAsync(part, closed)) > 0; )
        {
            var rate = phone.Faults.BytesPerSecond ?? pace.BytesPerSecond;
            if (rate > 0)
                await Task.Delay(TimeSpan.FromSeconds((double)read / rate), closed);
            for (var given = 0; given < read; )
            {
                var next = Math.Min(phone.Faults.BytesUntilStrike(Part), read - given);
                await stream.WriteAsync(part.AsMemory(given, next), closed);
                await FaultStriker.StrikeAsync(phone.Faults, next, closed);
                given += next;
            }
        }
    }

    /// <summary>The place that a question means.</summary>
    /// <exception cref="PhoneRefusesException">It gives none here: another mode, a computer that is not allowed, no card.</exception>
    private PhoneFolder Place(IReadOnlyDictionary<string, object?> question)
    {
        if (phone.State.Stage is not (PhoneStage.System or PhoneStage.CustomRecovery))
            throw new PhoneRefusesException("it gives no files here");
        if (!PhoneTwin.IsAllowed(phone.State))
            throw new PhoneRefusesException("this computer is not allowed");
        return question.GetValueOrDefault("in") switch
        {
            "storage" => phone.Storage,
            "card" when phone.State.Card is null => throw new PhoneRefusesException("no card is in it"),
            "card" => phone.CardFolder,
            _ => throw new PhoneRefusesException("no such place"),
        };
    }
}
