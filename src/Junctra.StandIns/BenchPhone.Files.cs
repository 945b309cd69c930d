using System.Collections.Immutable;
using System.IO.Compression;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

// The files of a simulated phone, on what it has built in and on its card, and what its recovery and its root manager do with them.
internal sealed partial class BenchPhone
{
    private const long Built = 4L << 30,
        OnCard = 2L << 30;
    private const string Metadata = "metadata";

    // What recovery has put in and is not in the partitions' files yet.
    private TwinPart? putIn;

    /// <summary>What it has built in.</summary>
    public PhoneFolder Storage { get; }

    /// <summary>Its storage card, in it or not.</summary>
    public PhoneFolder CardFolder { get; }

    /// <summary>Tells the twin what lies on its card, where that is the place that changed.</summary>
    public Task CardChangedAsync(PhoneFolder place) =>
        place != CardFolder || State.Card is null ? Task.CompletedTask : DoAsync(new CardPutIn(CardFiles()));

    /// <summary>Lays what it comes with in its places.</summary>
    private void LayFiles()
    {
        Storage.Clear();
        CardFolder.Clear();
        if (birth.State.Data is { Apps: > 0 })
            DemoPhotos.Write(Storage, birth.State.Serial);
        foreach (var (onCard, name, package) in birth.Files)
            LayPackage(onCard ? CardFolder : Storage, name, package);
        State = birth.HasCard ? State with { Card = CardFiles() } : State;
    }

    /// <summary>Copies one of the demo packages to the card, in it or in a card reader, or a file that lies on the phone.</summary>
    /// <returns>Whether there is such a package or file, and the card takes the name.</returns>
    public async Task<bool> CopyToCardAsync(string from, string name)
    {
        if (!PhoneFolder.Takes(name))
            return false;
        if (PhoneFolder.Takes(from) && Storage.Find(from) is { } own)
            File.Copy(own, Path.Combine(CardFolder.Folder, name), overwrite: true);
        else if (DemoBundles.All.Any(package => package.FileName == from))
            LayPackage(CardFolder, name, from);
        else
            return false;
        await CardChangedAsync(CardFolder);
        return true;
    }

    private static void LayPackage(PhoneFolder to, string name, string package)
    {
        using var file = File.Create(Path.Combine(to.Folder, name));
        DemoBundles.All.First(one => one.FileName == package).WriteAsync(file).GetAwaiter().GetResult();
    }

    /// <summary>What was erased with the data is no longer there.</summary>
    private void ForgetFilesOf(TwinState before)
    {
        if (before.Data is not null && State.Data != before.Data && State.Data is null or { Apps: 0 })
            Storage.Clear();
    }

    /// <summary>Puts the card in, or takes it out.</summary>
    public Task MoveCardAsync() => DoAsync(State.Card is null ? new CardPutIn(CardFiles()) : new CardTakenOut());

    /// <summary>What lies on the card, as recovery sees it.</summary>
    private ImmutableList<CardFile> CardFiles() =>
        [
            .. CardFolder
                .All()
                .Select(file => new CardFile(
                    file.Name.Split('/')[^1],
                    !file.Name.Contains('/'),
                    UpdateIn(CardFolder.Find(file.Name)!, file.Sha256)
                )),
        ];

    /// <summary>The update that a file is; null where it is none, or damaged.</summary>
    private TwinPart? UpdateIn(string path, string sha256)
    {
        try
        {
            using var zip = ZipFile.OpenRead(path);
            if (zip.GetEntry(Metadata) is not { } entry)
                return null;
            using var reader = new StreamReader(entry.Open());
            var lines = reader
                .ReadToEnd()
                .Split('\n')
                .Select(line => line.Split('=', 2))
                .Where(line => line.Length == 2)
                .ToDictionary(line => line[0], line => line[1], StringComparer.Ordinal);
            var build = lines.GetValueOrDefault("post-build");
            var os = build is null ? null : Twin.Maker.Grammar.Read(build)?.Os;
            return new TwinPart(sha256, SoftwareKind.Stock)
            {
                Model = lines.GetValueOrDefault("pre-device"),
                Build = build,
                Os = os is not null && OsVersion.TryParse(os, out var version) ? version.Major : null,
            };
        }
        catch (Exception error) when (error is InvalidDataException or IOException)
        {
            return null;
        }
    }

    /// <summary>Writes to the partitions' files what recovery has put in from the card.</summary>
    private async Task PutInAsync()
    {
        if (putIn is not { } update)
            return;
        putIn = null;
        var file = CardFolder.All().FirstOrDefault(file => file.Sha256 == update.Content);
        if (file.Name is null)
            return;
        using var zip = ZipFile.OpenRead(CardFolder.Find(file.Name)!);
        foreach (var entry in zip.Entries)
        {
            if (!entry.Name.EndsWith(".img", StringComparison.Ordinal) || Twin.Model.Partition(entry.Name[..^4]) is not { } spec)
                continue;
            var image = new MemoryStream();
            await using var from = await entry.OpenAsync();
            await from.CopyToAsync(image);
            Partitions.Write(Twin.StoredName(State, spec.Name), await PhoneImage.ReadAsync(image.ToArray()));
        }
    }

    /// <summary>
    /// Has the root manager on the phone patch a part that lies on it; the result lies beside it and says which version made it.
    /// </summary>
    /// <returns>Null, or why it does not.</returns>
    public async Task<string?> PatchAsync(string name)
    {
        if (State.Stage != PhoneStage.System || Twin.RootOf(State) is not { } version)
            return "no root manager runs";
        if (!PhoneFolder.Takes(name) || Storage.Find(name) is not { } path)
            return $"no file {name}";
        try
        {
            var patched = await RootManager.PatchAsync(await File.ReadAllBytesAsync(path), version);
            await Storage.PutAsync(RootManager.NameOf(name, version), to => to.WriteAsync(patched).AsTask());
            return null;
        }
        catch (InvalidDataException error)
        {
            return error.Message;
        }
    }
}
