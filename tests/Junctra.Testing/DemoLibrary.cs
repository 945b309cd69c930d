using System.Collections.Concurrent;
using System.Text.Json;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.StandIns.History;
using Junctra.Store;

namespace Junctra.Testing;

/// <summary>The demo packages as real files, written once for a test run.</summary>
public static class DemoLibrary
{
    private static readonly Lazy<Task<string>> Written = new(async () =>
    {
        var folder = Path.Combine(Path.GetTempPath(), "junctra-demo-packages");
        await MakeAsync("packages", folder, "factory-sets");
        return folder;
    });

    private static readonly Lazy<Task<string>> AllWritten = new(async () =>
    {
        var folder = Path.Combine(Path.GetTempPath(), "junctra-all-demo-packages");
        await MakeAsync("packages", folder, Repo.CatalogueFolder);
        return folder;
    });

    private static readonly Lazy<Task<string>> MirrorsWritten = new(async () =>
    {
        var folder = Path.Combine(Path.GetTempPath(), "junctra-mirror-files");
        await MakeAsync("mirror-files", folder);
        return folder;
    });

    // A suite has made them before its programs run. Where one is run by itself, what lies there may be of an older generator.
    private static Task MakeAsync(params string[] what) => Suite.Name is null ? StandInProcess.RunAsync(what) : Task.CompletedTask;

    private static readonly ConcurrentDictionary<(string Folder, string File, bool Trusted), Lazy<Task<Package>>> Packages = new();

    // What was found in them serves all programs of a test run that were built with the same inspection.
    private static readonly Lazy<string> Kept = new(() =>
        Directory
            .CreateDirectory(
                Path.Combine(
                    Path.GetTempPath(),
                    $"junctra-looked-into-{typeof(PackageInspector).Assembly.ManifestModule.ModuleVersionId:N}"
                )
            )
            .FullName
    );

    /// <summary>A folder with what the mirrors of the demo world have.</summary>
    public static Task<string> MirrorFolderAsync() => MirrorsWritten.Value;

    /// <summary>
    /// A folder with every package of the demo world; <see cref="FolderAsync"/> has the factory sets, which suffice for most.
    /// </summary>
    public static Task<string> AllFolderAsync() => AllWritten.Value;

    /// <summary>The folder with the loaders of the demo world.</summary>
    public static async Task<string> LoaderFolderAsync() => Path.Combine(await AllFolderAsync(), ".loaders");

    /// <summary>How many packages it holds.</summary>
    public const int Count = 8;

    public static Task<string> FolderAsync() => Written.Value;

    public static async Task<string> PathAsync(string fileName) => Path.Combine(await FolderAsync(), fileName);

    /// <summary>Any package of the demo world, as read with the digests published beside it.</summary>
    /// <param name="fileName">Its file.</param>
    /// <param name="trusted">Whether the shop trusts those digests; else only what lies in the file speaks for it.</param>
    public static async Task<Package> ReadAnyAsync(string fileName, bool trusted = true) =>
        await ReadOnceAsync(await AllFolderAsync(), fileName, trusted);

    /// <summary>Every package of the demo world, by name.</summary>
    public static async Task<IReadOnlyList<Package>> ReadAllAsync()
    {
        var packages = new List<Package>();
        foreach (var name in HistoryFile.PackageNames(await AllFolderAsync()))
            packages.Add(await ReadAnyAsync(name));
        return packages;
    }

    /// <summary>A file as the library would read it, from wherever it lies; nobody's digest is trusted.</summary>
    public static async Task<Package> ReadFileAsync(string path) =>
        PackageReader.Read(Path.GetFileName(path), await PackageInspector.InspectAsync(() => File.OpenRead(path)), Repo.Catalogue);

    /// <summary>One of the factory sets.</summary>
    public static async Task<Package> ReadAsync(string fileName) => await ReadOnceAsync(await FolderAsync(), fileName, trusted: true);

    // Looked into once: none of the files ever changes.
    private static Task<Package> ReadOnceAsync(string folder, string fileName, bool trusted) =>
        Packages
            .GetOrAdd((folder, fileName, trusted), key => new Lazy<Task<Package>>(() => LookIntoAsync(key.Folder, key.File, key.Trusted)))
            .Value;

    private static async Task<Package> LookIntoAsync(string folder, string fileName, bool trusted)
    {
        var file = new FileInfo(Path.Combine(folder, fileName));
        var kept = Path.Combine(
            Kept.Value,
            $"{Path.GetFileName(folder)}.{fileName}.{file.Length}.{file.LastWriteTimeUtc.Ticks}.{trusted}.json"
        );
        if (File.Exists(kept))
            return Read(JsonSerializer.Deserialize<PackageContents>(await File.ReadAllTextAsync(kept), StoreJson.Options)!);
        var contents = await FolderInspection.InspectAsync(
            file,
            LibraryFolder.Read(folder),
            trusted ? FolderInspection.ReadTrusted(Path.Combine(folder, ".published.sha256")) : new Dictionary<string, string>()
        );
        var written = Path.Combine(Kept.Value, Path.GetRandomFileName());
        await File.WriteAllTextAsync(written, JsonSerializer.Serialize(contents, StoreJson.Options));
        File.Move(written, kept, overwrite: true);
        return Read(contents);

        Package Read(PackageContents found) => PackageReader.Read(fileName, found, Repo.Catalogue);
    }
}
