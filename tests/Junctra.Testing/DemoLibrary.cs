using Junctra.Core.Packages;
using Junctra.Formats.Inspection;

namespace Junctra.Testing;

/// <summary>The demo packages as real files, written once for a test run.</summary>
public static class DemoLibrary
{
    private static readonly Lazy<Task<string>> Written = new(async () =>
    {
        var folder = Path.Combine(Path.GetTempPath(), "junctra-demo-packages");
        await StandInProcess.RunAsync("packages", folder);
        return folder;
    });

    /// <summary>How many packages it holds.</summary>
    public const int Count = 8;

    public static Task<string> FolderAsync() => Written.Value;

    public static async Task<string> PathAsync(string fileName) => Path.Combine(await FolderAsync(), fileName);

    public static async Task<Package> ReadAsync(string fileName)
    {
        return PackageReader.Read(fileName, await PackageInspector.InspectFileAsync(await PathAsync(fileName)), Repo.Catalogue);
    }
}
