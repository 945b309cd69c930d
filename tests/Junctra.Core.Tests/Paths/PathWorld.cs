using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Phones that stand somewhere, and the plans that are made for them.</summary>
internal static class PathWorld
{
    public static PhoneModel Model(string code) => Repo.Catalogue.Model(code)!;

    /// <summary>Models of the catalogue for which something holds, by their codes.</summary>
    public static TheoryData<string> Codes(Func<PhoneModel, bool> which) =>
        [.. Repo.Catalogue.Models.Where(which).Select(model => model.Code)];

    /// <summary>An open phone as its link reads it, revision and floor 3; what is given counts more.</summary>
    public static Phone Phone(string code, PhoneMode mode, params (FactName Name, string? Value)[] more)
    {
        (FactName Name, string? Value)[] usual =
        [
            (FactName.ModelCode, code),
            (FactName.Serial, "SN" + code),
            (FactName.LockState, "unlocked"),
            (FactName.RollbackFloor, "3"),
            (FactName.BootloaderRevision, "3"),
            (FactName.Mode, mode.Id()),
            (FactName.BatteryPercent, "80"),
        ];
        return Sample.Phone([
            .. usual
                .Where(one => more.All(given => given.Name != one.Name))
                .Concat(more)
                .Where(one => one.Value is not null)
                .Select(one => Sample.Fact(one.Name, one.Value!)),
        ]);
    }

    public static PathCase Case(Phone phone, Core.Packages.Package? package, bool erase, JobGoal goal = JobGoal.Stock) =>
        new(phone, package, erase, Repo.Catalogue) { Goal = goal };

    /// <summary>The plan by a path; fails with what was refused.</summary>
    public static Plan Plan(PathCase @case, string letter)
    {
        var outcome = PathList.Compile(@case, letter);
        Assert.True(outcome.Plan is not null, $"{letter}: {string.Join(" ", outcome.Refusals)}");
        return outcome.Plan!;
    }

    /// <summary>Whatever speaks against a path, in one text; the rehearsal never has to say it.</summary>
    public static string Refusal(PathCase @case, string letter)
    {
        var outcome = PathList.Compile(@case, letter);
        Assert.Null(outcome.Plan);
        Assert.False(outcome.IsRefusedByRehearsal, string.Join(" ", outcome.Refusals));
        return string.Join(" ", outcome.Refusals);
    }

    public static Fate Fate(Plan plan, string thing) =>
        plan.Rehearsal.Fates.Single(fate => fate.Thing.StartsWith(thing, StringComparison.Ordinal));
}
