using System.IO.Compression;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Store.Exchange;
using Junctra.Store.Logbook;

namespace Junctra.StandIns.History;

/// <summary>The history of the demo shop as a file that the logbook takes in, packed.</summary>
public static class HistoryFile
{
    /// <summary>Plays the history, and writes it.</summary>
    /// <param name="catalogue">Models, tables and figures.</param>
    /// <param name="packages">What the demo library holds, in the order of <see cref="ReadAsync"/>.</param>
    /// <param name="to">The file; packed.</param>
    /// <param name="jobs">How many of its jobs, from the first on: each follows from those before it.</param>
    public static async Task WriteAsync(ModelCatalogue catalogue, IReadOnlyList<Package> packages, Stream to, int jobs = SimulatedShop.Jobs)
    {
        await using var packed = new GZipStream(to, CompressionLevel.SmallestSize, leaveOpen: true);
        var shop = new SimulatedShop(catalogue, packages);
        // The model of the database says which columns there are; no database is asked.
        await using var db = new JunctraDbFactory().CreateDbContext([]);
        var tables = new ExchangeTables(db);
        var records = shop.Play().Take(jobs).ToList();
        await LogbookExport.WriteLinesAsync(
            packed,
            LogbookExport.Head(records[^1].Job.HandedBackAt ?? records[^1].Job.TakenInAt, "Slipway Phone Repair"),
            Written(records, tables),
            CancellationToken.None
        );
    }

    private static async IAsyncEnumerable<ExchangedJob> Written(IEnumerable<JobRecord> records, ExchangeTables tables)
    {
        foreach (var record in records)
            yield return await Task.FromResult(tables.Write(record));
    }

    /// <summary>The packages of a folder, by name.</summary>
    public static async Task<IReadOnlyList<Package>> ReadAsync(ModelCatalogue catalogue, string folder)
    {
        var lists = LibraryFolder.Read(folder);
        var trusted = FolderInspection.ReadTrusted(Path.Combine(folder, ".published.sha256"));
        var packages = new List<Package>();
        foreach (var name in PackageNames(folder))
            packages.Add(
                PackageReader.Read(
                    name,
                    await FolderInspection.InspectAsync(new FileInfo(Path.Combine(folder, name)), lists, trusted),
                    catalogue
                )
            );
        return packages;
    }

    /// <summary>Names of the files of a folder that are packages: not lists of digests, nor what is hidden.</summary>
    public static IEnumerable<string> PackageNames(string folder) =>
        Directory
            .EnumerateFiles(folder)
            .Select(path => Path.GetFileName(path))
            .Where(name => !name.StartsWith('.') && !name.EndsWith(".sha256", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal);
}
