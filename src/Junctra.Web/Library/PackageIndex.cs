using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Store.Files;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;

namespace Junctra.Web.Library;

/// <summary>Packages that may be for a phone.</summary>
/// <param name="Packages">For one of the models that the phone may be, for one of the same name, or for none that they name.</param>
/// <param name="IsCut">Whether there are more candidates than were taken.</param>
public sealed record CachedPackage(IReadOnlyList<Package> Packages, bool IsCut);

/// <summary>The packages of the library, as the catalogue reads them now.</summary>
public sealed class PackageIndex(JunctraDb db, ModelCatalogue catalogue, ContentStore store, ReadPackages read)
{
    private const int MaxRelated = 50;

    /// <summary>So many candidates are judged for one phone at most.</summary>
    public const int MaxCandidates = 1000;

    /// <summary>Of packages that name no model, so many are looked at.</summary>
    private const int MaxNameless = 50;

    private IQueryable<PackageRow> Looked => db.Packages.AsNoTracking().Where(p => p.InspectorVersion == PackageInspector.Version);

    /// <summary>Packages whose title or file name is like a pattern, by file name.</summary>
    public async Task<IReadOnlyList<Package>> FindAllAsync(string pattern, int most, CancellationToken cancel) =>
        await ReadAsync(
            Looked
                .Where(p => EF.Functions.ILike(p.Title, pattern) || EF.Functions.ILike(p.FileName, pattern))
                .OrderBy(p => p.FileName)
                .ThenBy(p => p.Id)
                .Take(most),
            cancel
        );

    /// <summary>
    /// The packages that are not for certain another phone's: narrowed in the database by the model, where that is known, and judged
    /// outside it. Namesakes come along: they look right and are not.
    /// </summary>
    public async Task<CachedPackage> CandidatesAsync(Phone phone, CancellationToken cancel)
    {
        var codes = CodesFor(phone);
        if (codes.Length == 0)
        {
            var some = await ReadAsync(Looked.OrderBy(p => p.Title).ThenBy(p => p.Id).Take(MaxCandidates + 1), cancel);
            return new CachedPackage([.. some.Take(MaxCandidates)], some.Count > MaxCandidates);
        }

        var named = await ReadAsync(
            Looked
                .Where(p => p.ModelCodes.Any(code => codes.Contains(code)))
                .OrderBy(p => p.Title)
                .ThenBy(p => p.Id)
                .Take(MaxCandidates + 1),
            cancel
        );
        var nameless = await ReadAsync(
            Looked.Where(p => p.ModelCodes.Length == 0 && p.Kind != PackageKind.Unknown).OrderBy(p => p.FileName).Take(MaxNameless),
            cancel
        );
        return new CachedPackage([.. named.Take(MaxCandidates), .. nameless], named.Count > MaxCandidates);
    }

    /// <summary>
    /// How many packages the library has that were looked into; as it was half a minute ago at worst, because a large one takes its time to
    /// be counted.
    /// </summary>
    public Task<int> CountAsync(CancellationToken cancel) => read.CountAsync(() => Looked.CountAsync(cancel));

    /// <summary>
    /// Codes of the models that a phone may be, of those that share a name with one of them, and of those that are one character longer or
    /// shorter.
    /// </summary>
    public string[] CodesFor(Phone phone)
    {
        var codes = phone[FactName.ModelCode].Values.Select(code => code.ToUpperInvariant()).ToList();
        var names = codes
            .Select(code => catalogue.Model(code)?.ProductName)
            .OfType<string>()
            .Concat(codes.Count == 0 ? phone[FactName.ProductName].Values : []);
        // A code with one character more or less at its end is the other that is taken by mistake.
        var longer = catalogue
            .Models.Select(model => model.Code)
            .Where(other =>
                codes.Any(code =>
                    code.StartsWith(other, StringComparison.Ordinal) && code.Length == other.Length + 1
                    || other.StartsWith(code, StringComparison.Ordinal) && other.Length == code.Length + 1
                )
            );
        return
        [
            .. codes
                .Concat(names.SelectMany(catalogue.Variants).Select(model => model.Code))
                .Concat(longer)
                .Distinct(StringComparer.Ordinal),
        ];
    }

    /// <summary>A package by its digest, or null.</summary>
    public async Task<Package?> FindAsync(string? id, CancellationToken cancel) =>
        id is not null && await Looked.SingleOrDefaultAsync(p => p.Id == id, cancel) is { } row ? Read(row) : null;

    /// <summary>The row of a package, looked into or not, or null.</summary>
    public Task<PackageRow?> RowAsync(string id, CancellationToken cancel) =>
        db.Packages.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id, cancel);

    /// <summary>Packages that share an image with one.</summary>
    public async Task<IReadOnlyList<Package>> RelatedAsync(Package package, CancellationToken cancel)
    {
        var digests = package.Images.Select(image => image.Body.ExpandedSha256).OfType<string>().Distinct().ToArray();
        if (digests.Length == 0)
            return [];
        return await ReadAsync(
            Looked
                .Where(p => p.Id != package.Id && p.ImageDigests.Any(digest => digests.Contains(digest)))
                .OrderBy(p => p.Title)
                .Take(MaxRelated),
            cancel
        );
    }

    /// <summary>Packages for a model.</summary>
    public async Task<IReadOnlyList<Package>> ForModelAsync(string code, CancellationToken cancel) =>
        await ReadAsync(Looked.Where(p => p.ModelCodes.Contains(code)).OrderBy(p => p.Title).ThenBy(p => p.Id).Take(MaxCandidates), cancel);

    /// <summary>Where the file of a package lies, or null.</summary>
    public async Task<string?> PathAsync(string id, CancellationToken cancel) =>
        await db.Packages.Where(p => p.Id == id).Select(p => new { p.Path, p.IsStored }).SingleOrDefaultAsync(cancel) is not { } row ? null
        : row.IsStored && store.Has(id) ? store.PathOf(id)
        : row.Path;

    /// <summary>Size of the package's file as it is on the disk now, or null when it is not there.</summary>
    public async Task<long?> BytesNowAsync(string id, CancellationToken cancel) =>
        await PathAsync(id, cancel) is { } path && new FileInfo(path) is { Exists: true } file ? file.Length : null;

    /// <summary>
    /// Reads packages in the order of a query; of those that were read before and have not changed since, the database is asked for no more
    /// than that.
    /// </summary>
    private async Task<List<Package>> ReadAsync(IQueryable<PackageRow> query, CancellationToken cancel)
    {
        var heads = await query
            .Select(p => new
            {
                p.Id,
                p.Version,
                p.FileName,
            })
            .ToListAsync(cancel);
        var packages = heads.ToDictionary(head => head.Id, head => read.Find(head.Id, head.Version, head.FileName));
        var missing = packages.Where(pair => pair.Value is null).Select(pair => pair.Key).ToArray();
        if (missing.Length > 0)
        {
            foreach (
                var row in await Looked
                    .Where(p => missing.Contains(p.Id))
                    .Select(p => new
                    {
                        p.Id,
                        p.Version,
                        p.FileName,
                        p.Contents,
                    })
                    .ToListAsync(cancel)
            )
                packages[row.Id] = read.Keep(row.Version, PackageReader.Read(row.FileName, row.Contents, catalogue));
        }

        return [.. heads.Select(head => packages[head.Id]).OfType<Package>()];
    }

    private Package Read(PackageRow row) =>
        read.Find(row.Id, row.Version, row.FileName) ?? read.Keep(row.Version, PackageReader.Read(row.FileName, row.Contents, catalogue));
}

/// <summary>Packages that were read out of their rows, each under the version of its row; the most used are kept.</summary>
public sealed class ReadPackages : IDisposable
{
    private const int Most = 8_000;

    private readonly MemoryCache kept = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>A package as its row stands, or null when it was not read yet or the row has changed since.</summary>
    public Package? Find(string id, uint version, string fileName) =>
        kept.TryGetValue(id, out (uint Version, Package Package) known) && known.Version == version && known.Package.FileName == fileName
            ? known.Package
            : null;

    /// <summary>A number that is asked for anew after half a minute.</summary>
    public Task<int> CountAsync(Func<Task<int>> count) => kept.GetOrCreateAsync("count", entry =>
        {
            entry.AbsoluteExpirationRelativeToNow = TimeSpan.FromSeconds(30);
            entry.Size = 1;
            return count();
        });

    /// <summary>Keeps a package.</summary>
    public Package Keep(uint version, Package package)
    {
        kept.Set(package.Id, (version, package), new MemoryCacheEntryOptions { Size = 1 });
        return package;
    }

    /// <inheritdoc/>
    public void Dispose() => kept.Dispose();
}
