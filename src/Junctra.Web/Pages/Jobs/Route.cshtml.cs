using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Modes;
using Junctra.Core.Phones;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>From where the phone is into the mode that the write needs.</summary>
public sealed class RouteModel(JobLoader jobs, PhoneVisits visits, JunctraDb db, ModelCatalogue catalogue) : JobPage(jobs)
{
    public override Station Station => Station.Route;

    public PhoneMode? From { get; private set; }

    public KeyFamily? Family { get; private set; }

    public KeyRecipe? Recipe { get; private set; }

    public IReadOnlyList<PhoneMode> Starts { get; private set; } = [];

    public IReadOnlyList<PortRow> Ports { get; private set; } = [];

    public string? PortWanted { get; private set; }

    /// <summary>Whether the phone itself answered from its write mode, and nobody says it left it since.</summary>
    public bool IsThere => From == Job.Model?.WriteMode && Job.Phone[FactName.Mode].Best?.Source == FactSource.Link;

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        PortWanted = Job.Row.PortName ?? (Ports.Count > 0 ? Ports[0].Name : null);
        if (Job.Model is null) return;
        Family = catalogue.KeyFamilyOf(Job.Model);
        Starts = [.. Family.Recipes.Where(recipe => recipe.To == Job.Model.WriteMode).SelectMany(recipe => recipe.From).Distinct()];
        From = PhoneModes.Parse(Request.Query["from"]) ?? PhoneModes.Parse(Job.Phone[FactName.Mode].Value);
        if (From is not null) Recipe = Family.Quickest(From.Value, Job.Model.WriteMode);
    }

    public async Task<IActionResult> OnPostAsync(string port, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen) return Refused(frozen);
        var visit = await visits.ReadAsync(Job.Row, port, Who, cancel);
        PortWanted = port;
        if (visit.Reading is null) return Refused($"{visit.Problem} Is the menu still on the screen, and the cable in? Try another cable first: it is the most common cure.");
        Done = $"In fastboot mode at port {port}: read {visit.Reading.Facts.Count} facts.";
        return To(Job.Row.PackageId is null ? Station.Match : Station.Plan);
    }
}
