using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Practising;

/// <summary>An exercise that the shop asks for: of a role, before it begins a write of a path.</summary>
/// <param name="Role">The role.</param>
/// <param name="Path">The path.</param>
public sealed record Licence(string Role, IPath Path)
{
    /// <summary>As it is stored, and as a form gives it.</summary>
    public string Id => $"{Role}/{Path.Letter}";

    /// <summary>The class of exercises of which one must be passed.</summary>
    public string Skill => $"jobs/{Path.Letter}";

    /// <summary>Reads what is stored; null where there is no such role or path.</summary>
    public static Licence? Read(string id) =>
        id.Split('/') is [var role, var letter] && Roles.Contains(role) && PathList.Find(letter) is { } path ? new(role, path) : null;

    /// <summary>The roles that begin writes.</summary>
    public static IReadOnlyList<string> Roles { get; } = [StaffRoles.Bench, StaffRoles.Lead];
}

/// <summary>What the shop has decided of practice.</summary>
/// <param name="LeadSees">Whether leads see who is ready for which kind of work.</param>
/// <param name="Licences">What is asked for before a write.</param>
public sealed record PracticeRules(bool LeadSees, IReadOnlyList<Licence> Licences)
{
    /// <summary>Nobody looks, and nothing is asked for.</summary>
    public static PracticeRules None { get; } = new(false, []);
}

/// <summary>Keeps what the shop has decided of practice, and says whether somebody may begin a write.</summary>
public sealed class LicenceService(JunctraDb db, IHttpContextAccessor asks, TimeProvider time)
{
    /// <summary>What is decided.</summary>
    public async Task<PracticeRules> RulesAsync(CancellationToken cancel) =>
        await db.PracticeRules.AsNoTracking().SingleOrDefaultAsync(cancel) is { } row
            ? new PracticeRules(row.LeadSees, [.. row.Licences.Select(Licence.Read).OfType<Licence>()])
            : PracticeRules.None;

    /// <summary>Decides.</summary>
    public async Task DecideAsync(PracticeRules rules, string by, CancellationToken cancel)
    {
        var row = await db.PracticeRules.SingleOrDefaultAsync(cancel);
        if (row is null)
            db.PracticeRules.Add(row = new PracticeRulesRow { By = by });
        row.LeadSees = rules.LeadSees;
        row.Licences = [.. rules.Licences.Select(licence => licence.Id)];
        (row.By, row.At) = (by, time.GetUtcNow());
        await db.SaveChangesAsync(cancel);
    }

    /// <summary>How the gate of a plan stands for whoever is asking now; null where nothing is asked of them.</summary>
    public async Task<(bool Holds, string Why)?> ForAsync(Plan plan, CancellationToken cancel)
    {
        if (asks.HttpContext?.User is not { Identity.Name: { } person } user)
            return null;
        var rules = await RulesAsync(cancel);
        if (rules.Licences.FirstOrDefault(one => one.Path.Letter == plan.Choice.Path && user.IsInRole(one.Role)) is not { } licence)
            return null;
        var passed = await db
            .Practice.Where(row => row.Person == person && row.Skill == licence.Skill && row.Passed && !row.IsOpen)
            .MaxAsync(row => (DateTimeOffset?)row.At, cancel);
        return passed is { } at
            ? (true, $"{person} passed such a job in practice, {at.ToLocalTime():d MMM}.")
            : (
                false,
                $"The shop asks for a passed job of practice first: “{licence.Path.Title}”, under Practice, Whole jobs. Somebody who has passed one may begin."
            );
    }
}
