using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Runs;

namespace Junctra.Web.Bench.Acts;

// What somebody sees of a phone after it was written.
public sealed partial class ObservationService
{
    private static readonly PhoneMode[] FirstBootScreens =
    [
        PhoneMode.SetupWizard,
        PhoneMode.System,
        PhoneMode.BootLoop,
        PhoneMode.StuckAtLogo,
        PhoneMode.Starting,
    ];

    /// <summary>Notes what the phone shows while it comes up after a write; it stands in the journal of that run, too.</summary>
    /// <param name="job">The job.</param>
    /// <param name="mode">What it shows, by its name in files.</param>
    /// <param name="apps">How many apps it has prepared and of how many, where it counts them; else null.</param>
    /// <param name="who">Who saw it.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> ShowsAfterWriteAsync(
        JobView job,
        string? mode,
        (int? Done, int? Of) apps,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (WhyNothingBooted(job) is { } early)
            return ActResult.Refuse(early);
        if (PhoneModes.Parse(mode) is not { } shown || !FirstBootScreens.Contains(shown))
            return ActResult.Refuse("That is no screen of a first boot.");
        var counts = apps.Done is not null || apps.Of is not null;
        if (counts && !StageClock.IsCount(apps.Done, apps.Of))
            return ActResult.Refuse("It counts apps as one number of another: type both as it shows them.");
        var seen = counts ? new StageSeen(who, shown.Id()) { Apps = apps.Done, OfApps = apps.Of } : new StageSeen(who, shown.Id());
        if (!await journal.AfterwardsAsync(job.LastRun!.Id, seen, cancel))
            return ActResult.Refuse("Something else was begun meanwhile. Look at it again.");
        await store.AddFactsAsync(job.Row, RouteService.FactsOf(shown, time.GetUtcNow(), who), cancel);
        return ActResult.Did(counts ? $"Noted: {apps.Done} of {apps.Of} apps." : $"Noted: {shown.Label()}.");
    }

    /// <summary>Notes a value that a check after the write asks for, as read where this phone shows it.</summary>
    public async Task<ActResult> NoteAfterWriteAsync(JobView job, string? name, string? value, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (WhyNothingBooted(job) is { } early)
            return ActResult.Refuse(early);
        var fact = job.Checks.Select(line => line.Expectation.Fact).FirstOrDefault(fact => fact.Value == name);
        if (fact.Value is null || fact.Normalise(value) is not { } normal)
            return ActResult.Refuse($"“{value}” is no value of that fact. Read it again.");
        var place = LastLook.PlaceOf(fact, job.Checks, job.SinceWrite!, job.Model, catalogue.Guides);
        var noted = new Fact(fact, normal, LastLook.SourceAt(place), time.GetUtcNow(), who);
        await store.AddFactsAsync(job.Row, BuildFacts.With(noted, catalogue), cancel);
        return ActResult.Did($"Noted: {fact.Label.ToLowerInvariant()}.");
    }

    private static string? WhyNothingBooted(JobView job) =>
        job.LastRun is not { Status: RunStatus.Finished }
            ? "Nothing was written to the end yet, so there is no first boot to note. What the phone shows now belongs under Route."
            : null;
}
