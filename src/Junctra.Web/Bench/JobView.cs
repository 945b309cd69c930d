using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Runs;
using Junctra.Store;

namespace Junctra.Web.Bench;

/// <summary>A job as the pages show it: its row, and what the core makes of it.</summary>
public sealed class JobView
{
    public JobView(JobRow row, ModelCatalogue catalogue)
    {
        Row = row;
        Phone = new Phone(
            row.Facts.Where(f => f.Counts).Select(f => f.ToFact()),
            row.Facts.Where(f => f is { ExpiredAt: not null, WithdrawnAt: null }).Select(f => f.ToFact()));
        Model = catalogue.Model(Phone[FactName.ModelCode].Value);
        LastRun = row.Runs.LastOrDefault();
        Checks = LastRun is { Status: RunStatus.Finished, EndedAt: { } ended }
            ? Checker.Compare(LastRun.Plan, new Phone(row.Facts.Where(f => f.Counts && f.At >= ended).Select(f => f.ToFact())))
            : [];
        var maker = catalogue.MakerOf(Model?.Code);
        Standing = JobLine.Standing(new JobState(
            Phone, row.PackageId is not null, OpenRunStatus, Checks, row.HandedBackAt is not null, maker?.HasRollbackFuses ?? true));
    }

    public JobRow Row { get; }

    public Phone Phone { get; }

    public PhoneModel? Model { get; }

    public RunRow? LastRun { get; }

    public IReadOnlyList<CheckLine> Checks { get; }

    public JobStanding Standing { get; }

    /// <summary>What shop and customer have decided for this job.</summary>
    public MatchPolicy Policy(ModelCatalogue catalogue) => new(Row.RegionSchool ?? catalogue.RegionSchool, Row.DataWish == DataWish.MayGo);

    /// <summary>Title over the job's line.</summary>
    public string Title => $"{Row.Ticket} · {(Model is null ? "phone" : Model.ProductName)}, {Row.Description}";

    /// <summary>The last run, unless it failed and the phone was read again since: the job then goes on from that reading.</summary>
    private RunStatus? OpenRunStatus =>
        LastRun is { Status: RunStatus.Failed or RunStatus.Stopped, EndedAt: { } ended }
        && Row.Facts.Any(f => f.Counts && f.Name == FactName.Serial.Value && f.Source == FactSource.Link && f.At > ended)
            ? null
            : LastRun?.Status;
}

/// <summary>Loads jobs for pages.</summary>
public sealed class JobLoader(JobStore store, JunctraDb db, ModelCatalogue catalogue)
{
    /// <summary>The job of a ticket, or null.</summary>
    public async Task<JobView?> FindAsync(string ticket, CancellationToken cancel) =>
        await store.FindAsync(ticket, cancel) is { } row ? new JobView(row, catalogue) : null;

    /// <summary>Jobs that are not handed back, the earliest promise first.</summary>
    public Task<IReadOnlyList<JobView>> OpenAsync(CancellationToken cancel) => ListAsync(open: true, 500, cancel);

    /// <summary>Jobs that were handed back, the latest first.</summary>
    public Task<IReadOnlyList<JobView>> DoneAsync(int most, CancellationToken cancel) => ListAsync(open: false, most, cancel);

    private async Task<IReadOnlyList<JobView>> ListAsync(bool open, int most, CancellationToken cancel)
    {
        var rows = await JobQueries.List(db, open, most, cancel);
        return [.. rows.Select(row => new JobView(row, catalogue))];
    }
}
