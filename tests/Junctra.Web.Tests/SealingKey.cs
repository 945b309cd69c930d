using Junctra.Web.Staff;

namespace Junctra.Web.Tests;

/// <summary>
/// A key for the keys of a shop. Each shop makes its own when it first starts, a second or more of computing: shops of tests find one that
/// lies there already, each in a folder of its own.
/// </summary>
internal static class SealingKey
{
    private static readonly Lazy<string> Made = new(() =>
    {
        var folder = Directory.CreateTempSubdirectory("junctra-keys-").FullName;
        KeyShelter.Open(folder).Dispose();
        return folder;
    });

    /// <summary>A new folder with the key in it.</summary>
    public static string NewFolder() => In(Directory.CreateTempSubdirectory("junctra-keys-").FullName);

    /// <summary>Lays the key into a folder, if none lies there.</summary>
    /// <returns>The folder.</returns>
    public static string In(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var file in Directory.GetFiles(Made.Value).Where(file => !File.Exists(Path.Combine(folder, Path.GetFileName(file)))))
            File.Copy(file, Path.Combine(folder, Path.GetFileName(file)));
        return folder;
    }
}
