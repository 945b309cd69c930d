using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Packages;

/// <summary>One package inside.</summary>
public sealed class OneModel(
    PackageIndex shelf,
    ModelCatalogue catalogue,
    LibraryCleanup room,
    LibraryWatch watch,
    JunctraDb db,
    IAuthorizationService authorization,
    MatchService desk
) : PageModel
{
    public Package Package { get; private set; } = null!;

    public PackageRow Row { get; private set; } = null!;

    public PhoneModel? Model { get; private set; }

    public IReadOnlyList<ImageFit> Fits { get; private set; } = [];

    public Derivation? MadeFrom { get; private set; }

    public RegionPackPair? Packs { get; private set; }

    /// <summary>Packages that it can be compared with: those that share an image with it, and those of its model.</summary>
    public IReadOnlyList<(string Id, string Title, string FileName)> Others { get; private set; } = [];

    /// <summary>Models that it is for, and those that are easily taken for them.</summary>
    public IReadOnlyList<ModelFit> Models { get; private set; } = [];

    /// <summary>Phones on the bench that it may be for.</summary>
    public BenchFit OnBench { get; private set; } = new([], 0);

    public bool MayAct { get; private set; }

    /// <summary>Whether this program, as it is now, has looked into it.</summary>
    public bool IsLooked => Row.InspectorVersion == PackageInspector.Version;

    [TempData]
    public string? Problem { get; set; }

    public IReadOnlyList<PackageMember> Strays =>
        [.. Package.Contents.Members.Where(member => member != Package.Layout && !Package.Images.Any(image => image.Member == member))];

    public string ForWords =>
        (Package.Says(FactName.ModelCode), Package.Says(FactName.Region)) switch
        {
            ({ Count: 0 }, _) => "It does not say which phone it is for.",
            var (codes, regions) =>
                $"{string.Join(" and ", codes.Select(code => catalogue.Model(code) is { } model ? $"{code} ({model.ProductName})" : $"{code}, which is not in the catalogue"))}"
                    + (
                        regions.Count > 0
                            ? $", region {string.Join(", ", regions.Select(code => catalogue.Region(code) is { } region ? $"{code} ({region.Territory})" : code))}"
                            : ""
                    )
                    + ".",
        };

    public Verdict ForVerdict =>
        Package.Says(FactName.ModelCode) is [var code] && catalogue.Model(code) is not null ? Verdict.Go : Verdict.Ask;

    public Verdict WholeVerdict =>
        Package.Whole().State switch
        {
            Wholeness.AsPublished => Verdict.Go,
            Wholeness.Unproven or Wholeness.Listed => Verdict.Care,
            Wholeness.Locked => Verdict.Ask,
            _ => Verdict.Stop,
        };

    public Verdict DataVerdict =>
        Package.Data().Fate switch
        {
            DataFate.Kept => Verdict.Go,
            DataFate.Unknown => Verdict.Ask,
            _ => Verdict.Care,
        };

    /// <summary>A member's name with the archive it lies in, without the folders around both.</summary>
    public static string ShortName(PackageMember member) =>
        (member.Within is { } within ? within.Split('/')[^1] + " / " : "") + member.Name.Split('/')[^1];

    public static string WordOf(MemberKind kind) =>
        kind switch
        {
            MemberKind.Requirements => "requirement lines",
            MemberKind.Metadata => "says what it is",
            MemberKind.ChecksumList => "checksum list",
            MemberKind.Archive => "archive",
            MemberKind.Image => "image without a place",
            _ => "stray, ignored",
        };

    public async Task<IActionResult> OnGetAsync(string id, CancellationToken cancel) => await LoadAsync(id, cancel) ? Page() : NotFound();

    /// <summary>Opens a locked package.</summary>
    public async Task<IActionResult> OnPostPasswordAsync(string id, string? password, CancellationToken cancel)
    {
        if (!await MayAsync())
            return Forbid();
        if (string.IsNullOrEmpty(password))
            Problem = "Enter the password that came with the package.";
        else
            await db
                .Packages.Where(p => p.Id == id)
                .ExecuteUpdateAsync(set => set.SetProperty(p => p.Password, password).SetProperty(p => p.InspectorVersion, 0), cancel);
        watch.LookAgain();
        return RedirectToPage(new { id });
    }

    /// <summary>Takes it out of the library.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(string id, CancellationToken cancel)
    {
        if (!await MayAsync())
            return Forbid();
        if (await room.RemoveAsync(id, User.Identity!.Name!, cancel) is not { } problem)
            return RedirectToPage("/Packages/Index");
        Problem = problem;
        return RedirectToPage(new { id });
    }

    private async Task<bool> MayAsync() => (await authorization.AuthorizeAsync(User, Policies.Bench)).Succeeded;

    private async Task<bool> LoadAsync(string id, CancellationToken cancel)
    {
        if (await shelf.RowAsync(id, cancel) is not { } row)
            return false;
        Row = row;
        MayAct = await MayAsync();
        Package = PackageReader.Read(row.FileName, row.Contents, catalogue);
        Model = Package.Says(FactName.ModelCode).Select(catalogue.Model).FirstOrDefault(model => model is not null);
        Fits = Model is null ? [.. Package.Images.Select(image => new ImageFit(image, null))] : LayoutFit.Of(Package.Images, Model);
        var related = await shelf.RelatedAsync(Package, cancel);
        MadeFrom = Derivation.Of(Package, related, catalogue);
        Packs = RegionPackPair.Of(Package);
        Models = PackageFit.Models(Package, catalogue, new Surroundings([Package, .. related], catalogue));
        OnBench = await desk.BenchAsync(Package, cancel);
        var codes = Package.Says(FactName.ModelCode).ToArray();
        var ofModel = await db
            .Packages.Where(p => p.Id != id && p.ModelCodes.Any(code => codes.Contains(code)))
            .OrderBy(p => p.Title)
            .Take(100)
            .Select(p => new
            {
                p.Id,
                p.Title,
                p.FileName,
            })
            .ToListAsync(cancel);
        Others =
        [
            .. related
                .Select(other => (other.Id, other.Title, other.FileName))
                .Concat(ofModel.Select(other => (other.Id, other.Title, other.FileName)))
                .DistinctBy(other => other.Id),
        ];
        return true;
    }
}
