using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans.Paths;
using Junctra.Store;
using Junctra.Web.Library;

namespace Junctra.Web.Bench.Acts;

/// <summary>
/// What somebody decides for a job before it is planned: the package, what it is written for, by which school, on which path, and whether
/// the data goes. All of it is refused while the job may not be changed.
/// </summary>
public sealed class ChoiceService(JobStore store, JunctraDb db, PolicyHistory schools, PackageIndex packages, MatchService matches)
{
    /// <summary>Chooses a package.</summary>
    /// <param name="job">The job.</param>
    /// <param name="packageId">The package.</param>
    /// <param name="report">Its match, judged now; null where it is no longer there.</param>
    /// <param name="who">Who chooses.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> ChooseAsync(JobView job, string? packageId, MatchReport? report, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (report is null)
            return ActResult.Refuse("That package is no longer in the library.");
        var policy = await matches.PolicyAsync(job, cancel);
        if (!report.MayBePlanned(policy))
            return ActResult.Refuse(report.Headline);
        job.Row.PackageId = packageId;
        job.Row.Path = await packages.FindAsync(packageId, cancel) is { } package
            ? PathList.OnlyOneFor(package.Kind, policy.NeedsBoardRescue)?.Letter
            : null;
        job.Row.ErasesData = job.Row.DataWish == DataWish.MayGo || job.Row.DataWish == DataWish.NotSaid && policy.Plans.CleanAtOnce;
        store.Note(job.Row.Id, who, $"Chose {report.PackageTitle}: {report.Headline}");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did();
    }

    /// <summary>Has a job work by another school than the shop, with a reason, or by the shop's again.</summary>
    public async Task<ActResult> DecideAsync(
        JobView job,
        MatchPolicy shop,
        MatchPolicy now,
        string? question,
        string? choice,
        string? reason,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (Schools.Find(question) is not { } asked || asked.Parse(choice) is not { } chosen)
            return ActResult.Refuse("That is no school.");
        if (chosen == asked.Of(now))
            return ActResult.Did();
        var isShops = chosen == asked.Of(shop);
        if (string.IsNullOrWhiteSpace(reason) && !isShops)
            return ActResult.Refuse(
                $"Say why this job works by “{chosen.Label}”: the shop's rule is “{asked.Of(shop).Label}”. Nothing was changed."
            );
        if (reason?.Length > PolicyHistory.MaxCharacters)
            return ActResult.Refuse($"The reason has more than {PolicyHistory.MaxCharacters} characters. Nothing was changed.");
        schools.Decide(job.Row, asked, isShops ? null : chosen, reason?.Trim() ?? "", who);
        await db.SaveChangesAsync(cancel);
        return ActResult.Did();
    }

    /// <summary>Sets what the phone is to be written for, and which version is wanted.</summary>
    public async Task<ActResult> WantAsync(
        JobView job,
        MatchPolicy now,
        string? goal,
        string? wish,
        string? version,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (GoalWords.ParseGoal(goal) is not { } wanted || GoalWords.ParseWish(wish) is not { } kind)
            return ActResult.Refuse("Choose what the phone is written for, and a wish.");
        var named = version?.Trim() ?? "";
        if (VersionWish.NeedsVersion(kind) && named.Length == 0)
            return ActResult.Refuse($"Say which version: “{kind.Label()}” needs a build string or an OS version. Nothing was changed.");
        if (named.Length > BuildGrammar.MaxCharacters)
            return ActResult.Refuse("No build string is as long as that. Nothing was changed.");
        var after = new VersionWish(kind, VersionWish.NeedsVersion(kind) ? named : "");
        if (now.Goal == wanted && now.Wish == after)
            return ActResult.Did();
        job.Row.Goal = wanted;
        (job.Row.WishKind, job.Row.WishVersion) = (after.Kind, after.Version);
        store.Note(job.Row.Id, who, $"Wanted: {wanted.Label()}, {after.Label()} (before: {now.Goal.Label()}, {now.Wish.Label()}).");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did();
    }

    /// <summary>Decides whether the user data is erased.</summary>
    public async Task<ActResult> ChooseDataAsync(JobView job, bool erase, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        (job.Row.ErasesData, job.Row.Path) = (erase, null);
        store.Note(job.Row.Id, who, erase ? "Path: the user data is erased." : "Path: the user data is kept.");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did();
    }

    /// <summary>Chooses a path, or goes back to the packages. One that takes no package leaves the one that was chosen.</summary>
    /// <param name="job">The job.</param>
    /// <param name="letter">The path, or null.</param>
    /// <param name="erases">Whether the data go by it.</param>
    /// <param name="takesPackage">Whether it takes the package that was chosen.</param>
    /// <param name="who">Who chooses.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> ChoosePathAsync(
        JobView job,
        string? letter,
        bool erases,
        bool takesPackage,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        var path = PathList.Find(letter);
        if (letter is not null && path is null)
            return ActResult.Refuse("That path is not known.");
        job.Row.Path = letter;
        if (letter is not null && takesPackage)
            job.Row.ErasesData = erases;
        else if (letter is not null)
            job.Row.PackageId = null;
        store.Note(job.Row.Id, who, path is null ? "Path: with a package." : $"Path: {path.Title}.");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did();
    }
}
