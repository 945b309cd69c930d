using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library;

/// <summary>What is looked for in the library; what is empty is not looked at.</summary>
/// <param name="Text">Part of a build, a model code, a digest or a file's name.</param>
/// <param name="Model">Model code.</param>
/// <param name="Region">Region code.</param>
/// <param name="Revision">Bootloader revision.</param>
/// <param name="Kind">Kind of package.</param>
/// <param name="Whole">What its check said.</param>
public sealed record PackageFilter(
    string? Text = null,
    string? Model = null,
    string? Region = null,
    int? Revision = null,
    PackageKind? Kind = null,
    Wholeness? Whole = null
);

/// <summary>One value of a facet, and how many packages have it beside everything else that is looked for.</summary>
/// <param name="Value">The value as it stands in an address.</param>
/// <param name="Label">The value in words.</param>
/// <param name="Count">Packages.</param>
public sealed record FacetValue(string Value, string Label, int Count);

/// <summary>A package in the list.</summary>
public sealed record PackageLine(
    string Id,
    string Title,
    string FileName,
    string[] ModelCodes,
    string[] Regions,
    int? Revision,
    PackageKind Kind,
    Wholeness Wholeness,
    long SizeBytes,
    string Source,
    bool IsLooked
)
{
    /// <summary>Whether it is whole, in a word.</summary>
    public (Verdict Verdict, string Word) State =>
        !IsLooked
            ? (Verdict.Ask, "not looked into yet")
            : Wholeness switch
            {
                Wholeness.Damaged => (Verdict.Stop, PackageSearch.Label(Wholeness)),
                Wholeness.Locked => (Verdict.Ask, "locked with a password"),
                _ when Kind == PackageKind.Unknown => (Verdict.Ask, "not a known kind"),
                Wholeness.Unproven or Wholeness.Listed => (Verdict.Care, PackageSearch.Label(Wholeness)),
                _ => (Verdict.Go, PackageSearch.Label(Wholeness)),
            };

    /// <summary>A package that lies in no library, as one would list it.</summary>
    public static PackageLine Of(Package package) =>
        new(
            package.Id,
            package.Title,
            package.FileName,
            [.. package.Says(FactName.ModelCode)],
            [.. package.Says(FactName.Region)],
            package.Revisions is [var only] ? only.Number : null,
            package.Kind,
            package.Whole().State,
            package.Contents.SizeBytes,
            "",
            true
        );
}

/// <summary>A part of the library.</summary>
/// <param name="Lines">Packages of the page at hand.</param>
/// <param name="Count">Packages that were found.</param>
/// <param name="All">Packages in the library.</param>
/// <param name="Page">Which page, from 1.</param>
/// <param name="Pages">How many pages.</param>
/// <param name="Facets">By facet, the values that would still find something.</param>
public sealed record PackageFound(
    IReadOnlyList<PackageLine> Lines,
    int Count,
    int All,
    int Page,
    int Pages,
    IReadOnlyDictionary<string, IReadOnlyList<FacetValue>> Facets
);

/// <summary>Looks for packages in the database's columns; the packages themselves are not read.</summary>
public sealed class PackageSearch(JunctraDb db)
{
    /// <summary>Packages on a page.</summary>
    public const int PageSize = 50;

    private const int MaxValues = 12;

    /// <summary>Looks.</summary>
    public async Task<PackageFound> FindAsync(PackageFilter filter, int page, CancellationToken cancel)
    {
        var found = Narrow(filter);
        var count = await found.CountAsync(cancel);
        var pages = Math.Max(1, (count + PageSize - 1) / PageSize);
        page = Math.Clamp(page, 1, pages);
        var lines = await found
            .OrderBy(p => p.Title)
            .ThenBy(p => p.FileName)
            .ThenBy(p => p.Id)
            .Skip((page - 1) * PageSize)
            .Take(PageSize)
            .Select(p => new PackageLine(
                p.Id,
                p.Title,
                p.FileName,
                p.ModelCodes,
                p.Regions,
                p.Revision,
                p.Kind,
                p.Wholeness,
                p.SizeBytes,
                p.Source,
                p.InspectorVersion == PackageInspector.Version
            ))
            .ToListAsync(cancel);
        var facets = new Dictionary<string, IReadOnlyList<FacetValue>>
        {
            // Each facet counts without its own choice, so that another value can be chosen at once.
            ["model"] = Values(
                await Narrow(filter with { Model = null })
                    .SelectMany(p => p.ModelCodes)
                    .GroupBy(code => code)
                    .Select(g => new { g.Key, Count = g.Count() })
                    .OrderByDescending(g => g.Count)
                    .ThenBy(g => g.Key)
                    .Take(MaxValues)
                    .ToListAsync(cancel),
                g => (g.Key, g.Key, g.Count)
            ),
            ["region"] = Values(
                await Narrow(filter with { Region = null })
                    .SelectMany(p => p.Regions)
                    .GroupBy(code => code)
                    .Select(g => new { g.Key, Count = g.Count() })
                    .OrderByDescending(g => g.Count)
                    .ThenBy(g => g.Key)
                    .Take(MaxValues)
                    .ToListAsync(cancel),
                g => (g.Key, g.Key, g.Count)
            ),
            ["revision"] = Values(
                await Narrow(filter with { Revision = null })
                    .Where(p => p.Revision != null)
                    .GroupBy(p => p.Revision!.Value)
                    .Select(g => new { g.Key, Count = g.Count() })
                    .OrderBy(g => g.Key)
                    .Take(MaxValues)
                    .ToListAsync(cancel),
                g => ($"{g.Key}", $"{g.Key}", g.Count)
            ),
            ["kind"] = Values(
                await Narrow(filter with { Kind = null })
                    .GroupBy(p => p.Kind)
                    .Select(g => new { g.Key, Count = g.Count() })
                    .OrderByDescending(g => g.Count)
                    .ToListAsync(cancel),
                g => (g.Key.ToString(), g.Key.Label(), g.Count)
            ),
            ["whole"] = Values(
                await Narrow(filter with { Whole = null })
                    .GroupBy(p => p.Wholeness)
                    .Select(g => new { g.Key, Count = g.Count() })
                    .OrderByDescending(g => g.Count)
                    .ToListAsync(cancel),
                g => (g.Key.ToString(), Label(g.Key), g.Count)
            ),
        };
        return new PackageFound(lines, count, await db.Packages.CountAsync(cancel), page, pages, facets);
    }

    /// <summary>What a check said, in words.</summary>
    public static string Label(Wholeness whole) =>
        whole switch
        {
            Wholeness.AsPublished => "as published",
            Wholeness.Listed => "whole, origin not proved",
            Wholeness.Unproven => "nothing to compare",
            Wholeness.Locked => "locked",
            _ => "not to be written",
        };

    private IQueryable<PackageRow> Narrow(PackageFilter filter)
    {
        var rows = db.Packages.AsNoTracking();
        if (!string.IsNullOrWhiteSpace(filter.Text))
        {
            var text = filter.Text.Trim();
            var (code, digest) = (text.ToUpperInvariant(), text.ToLowerInvariant());
            var pattern = $"%{text.Replace("\\", "\\\\").Replace("%", "\\%").Replace("_", "\\_")}%";
            rows = rows.Where(p =>
                EF.Functions.ILike(p.Title, pattern)
                || EF.Functions.ILike(p.FileName, pattern)
                || p.ModelCodes.Contains(code)
                || p.Id.StartsWith(digest)
            );
        }

        if (filter.Model is { Length: > 0 } model)
            rows = rows.Where(p => p.ModelCodes.Contains(model));
        if (filter.Region is { Length: > 0 } region)
            rows = rows.Where(p => p.Regions.Contains(region));
        if (filter.Revision is { } revision)
            rows = rows.Where(p => p.Revision == revision);
        if (filter.Kind is { } kind)
            rows = rows.Where(p => p.Kind == kind);
        if (filter.Whole is { } whole)
            rows = rows.Where(p => p.Wholeness == whole);
        return rows;
    }

    private static List<FacetValue> Values<T>(IEnumerable<T> groups, Func<T, (string, string, int)> of) =>
        [.. groups.Select(of).Select(value => new FacetValue(value.Item1, value.Item2, value.Item3))];
}
