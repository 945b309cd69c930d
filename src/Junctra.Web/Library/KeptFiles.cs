using System.Globalization;
using Junctra.Store;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Library;

/// <summary>
/// Files that were fetched from phones: what a customer wants saved, and parts that were patched on a phone. They lie apart from the
/// library, a folder for each run, and are deleted when the phone is handed back.
/// </summary>
public sealed class KeptFiles(IOptions<JunctraOptions> options)
{
    /// <summary>The shop's folder of loaders.</summary>
    public string LoaderFolder => options.Value.LoaderFolder;

    /// <summary>Where the files of a run are kept.</summary>
    public string FolderOf(int runId) => FolderOf(NameOf(runId));

    /// <summary>Name of the folder of a run, as plans keep it.</summary>
    public static string NameOf(int runId) => runId.ToString(CultureInfo.InvariantCulture);

    /// <summary>The same by its name.</summary>
    /// <exception cref="ArgumentException">It is no name of such a folder.</exception>
    public string FolderOf(string name) =>
        name.All(char.IsAsciiDigit) && name.Length > 0
            ? Path.Combine(options.Value.KeepFolder, name)
            : throw new ArgumentException($"“{name}” is no folder of saved files.", nameof(name));

    /// <summary>Takes a file into the library: it is looked into as all others are.</summary>
    /// <param name="path">The file, which stays where it is.</param>
    /// <param name="name">What it is called there; another of that name is left as it is.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task TakeInAsync(string path, string name, CancellationToken cancel)
    {
        var partial = Path.Combine(options.Value.Library, $".{Guid.NewGuid():N}.partial");
        await using (var from = File.OpenRead(path))
        await using (var to = File.Create(partial))
            await from.CopyToAsync(to, cancel);
        var (stem, ending) = (Path.GetFileNameWithoutExtension(name), Path.GetExtension(name));
        for (var copy = 1; ; copy++)
        {
            var target = Path.Combine(options.Value.Library, copy == 1 ? name : $"{stem}-{copy}{ending}");
            if (File.Exists(target))
                continue;
            File.Move(partial, target);
            return;
        }
    }

    /// <summary>Deletes what the runs of a job had fetched.</summary>
    /// <returns>How many files were deleted.</returns>
    public int DeleteOf(JobRow job)
    {
        var files = 0;
        foreach (var folder in job.Runs.Select(run => FolderOf(run.Id)).Where(Directory.Exists))
        {
            files += Directory.GetFiles(folder).Length;
            Directory.Delete(folder, recursive: true);
        }

        return files;
    }
}
