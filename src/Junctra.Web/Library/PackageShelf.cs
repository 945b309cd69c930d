using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library;

/// <summary>The packages of the library, as the catalogue reads them now.</summary>
public sealed class PackageShelf(JunctraDb db, ModelCatalogue catalogue)
{
    /// <summary>All packages, by file name.</summary>
    public async Task<IReadOnlyList<Package>> AllAsync(CancellationToken cancel) =>
        [.. (await db.Packages.AsNoTracking().Where(p => p.InspectorVersion == PackageInspector.Version).OrderBy(p => p.FileName).ToListAsync(cancel)).Select(Read)];

    /// <summary>A package by its digest, or null.</summary>
    public async Task<Package?> FindAsync(string? id, CancellationToken cancel) =>
        id is not null && await db.Packages.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id && p.InspectorVersion == PackageInspector.Version, cancel) is { } row ? Read(row) : null;

    /// <summary>Where the file of a package lies, or null.</summary>
    public Task<string?> PathAsync(string id, CancellationToken cancel) =>
        db.Packages.Where(p => p.Id == id).Select(p => p.Path).SingleOrDefaultAsync(cancel);

    /// <summary>Size of the package's file as it is on the disk now, or null when it is not there.</summary>
    public async Task<long?> BytesNowAsync(string id, CancellationToken cancel) =>
        await PathAsync(id, cancel) is { } path && new FileInfo(path) is { Exists: true } file ? file.Length : null;

    private Package Read(PackageRow row) => PackageReader.Read(row.FileName, row.Contents, catalogue);
}
