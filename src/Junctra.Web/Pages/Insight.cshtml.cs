using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Plans.Acts;
using Junctra.Web.Library.Arrivals;
using Junctra.Web.Logbook;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>What the shop's own log teaches.</summary>
public sealed class InsightModel(
    ShopInsight insight,
    LearnedTimes times,
    MirrorStore mirrors,
    LogbookKeeper keeper,
    ModelCatalogue catalogue
) : PageModel
{
    /// <summary>What Junctra said, beside what happened.</summary>
    public IReadOnlyList<InsightSection> Calibration { get; private set; } = [];

    /// <summary>What costs the shop.</summary>
    public IReadOnlyList<InsightSection> Costs { get; private set; } = [];

    /// <summary>How long things take here, beside the figures.</summary>
    public IReadOnlyList<(TimeKind Kind, string Model, string Link, Estimate Estimate)> Estimates { get; private set; } = [];

    /// <summary>How fast mirrors give, of those of which anybody knows.</summary>
    public IReadOnlyList<(string Name, DownloadRate Rate)> Mirrors { get; private set; } = [];

    /// <summary>A model in words.</summary>
    public string ModelOf(string code) =>
        code.Length == 0 ? "whole shop"
        : catalogue.Model(code) is { } model ? $"{model.ProductName} {code}"
        : code;

    public async Task OnGetAsync(CancellationToken cancel)
    {
        await keeper.RefreshAsync(cancel);
        Calibration = await insight.CalibrationAsync(cancel);
        Costs = await insight.CostsAsync(cancel);
        // Of a band whose slow time is twice the usual one: what is shown is how times stand to the figure, whatever it is.
        Estimates = (await times.NowAsync(cancel)).All(_ => new Band(1, 2));
        Mirrors = await mirrors.KnownRatesAsync(cancel);
    }
}
