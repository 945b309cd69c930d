using Junctra.Core;
using Junctra.Store.Logbook;
using Junctra.Store.Operation;
using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

/// <summary>The database: jobs with their facts, the library's index, runs with their journals.</summary>
public sealed partial class JunctraDb(DbContextOptions<JunctraDb> options)
    : IdentityDbContext<StaffRow, IdentityRole<int>, int>(options),
        IDataProtectionKeyContext
{
    public DbSet<JobRow> Jobs => Set<JobRow>();
    public DbSet<SchoolRow> Schools => Set<SchoolRow>();
    public DbSet<BenchThingRow> BenchThings => Set<BenchThingRow>();
    public DbSet<LinkTryRow> LinkTries => Set<LinkTryRow>();
    public DbSet<ApiTokenRow> ApiTokens => Set<ApiTokenRow>();
    public DbSet<FactRow> Facts => Set<FactRow>();
    public DbSet<TriageAnswerRow> TriageAnswers => Set<TriageAnswerRow>();
    public DbSet<ClaimRow> Claims => Set<ClaimRow>();
    public DbSet<ConsentRow> Consents => Set<ConsentRow>();
    public DbSet<SnapshotRow> Snapshots => Set<SnapshotRow>();
    public DbSet<RescueEventRow> RescueEvents => Set<RescueEventRow>();
    public DbSet<PromiseRow> Promises => Set<PromiseRow>();

    /// <summary>Keys that seal cookies and forms; every web process on this database shares them.</summary>
    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();
    public DbSet<GateAnswerRow> Answers => Set<GateAnswerRow>();
    public DbSet<PackageRow> Packages => Set<PackageRow>();
    public DbSet<MirrorRow> Mirrors => Set<MirrorRow>();
    public DbSet<MirrorFileRow> MirrorFiles => Set<MirrorFileRow>();
    public DbSet<ArrivalRow> Arrivals => Set<ArrivalRow>();
    public DbSet<PublishedDigestRow> PublishedDigests => Set<PublishedDigestRow>();
    public DbSet<UnpackedImageRow> UnpackedImages => Set<UnpackedImageRow>();
    public DbSet<RunRow> Runs => Set<RunRow>();
    public DbSet<RunEventRow> RunEvents => Set<RunEventRow>();
    public DbSet<BenchHoursRow> BenchHours => Set<BenchHoursRow>();
    public DbSet<TimetableRow> Timetables => Set<TimetableRow>();
    public DbSet<PracticeRow> Practice => Set<PracticeRow>();

    public DbSet<PracticeRulesRow> PracticeRules => Set<PracticeRulesRow>();
    public DbSet<PortRow> Ports => Set<PortRow>();
    public DbSet<AuditRow> Audit => Set<AuditRow>();
    public DbSet<SignInRow> SignIns => Set<SignInRow>();
    public DbSet<AuditSealRow> AuditSeals => Set<AuditSealRow>();
    public DbSet<BackupRow> Backups => Set<BackupRow>();
    public DbSet<OwnerRow> Owners => Set<OwnerRow>();
    public DbSet<LogbookRow> Logbook => Set<LogbookRow>();
    public DbSet<LogbookWordRow> LogbookWords => Set<LogbookWordRow>();
    public DbSet<LogbookDueRow> LogbookDue => Set<LogbookDueRow>();
    public DbSet<KeepRuleRow> KeepRules => Set<KeepRuleRow>();
    public DbSet<StepTimeRow> StepTimes => Set<StepTimeRow>();
    public DbSet<RunResultRow> RunResults => Set<RunResultRow>();
    public DbSet<FindingRow> Findings => Set<FindingRow>();

    /// <summary>Options for a PostgreSQL database; the one place where the provider and the names of columns are settled.</summary>
    public static DbContextOptionsBuilder Configure(DbContextOptionsBuilder options, string connection) =>
        options.UseNpgsql(Patient(connection)).UseSnakeCaseNamingConvention();

    // A program that hangs in the middle of a transaction keeps its rows locked, and with them a run that others must be able to end.
    private const int MaxIdleInTransactionSeconds = 30;

    private static string Patient(string connection)
    {
        var settings = new Npgsql.NpgsqlConnectionStringBuilder(connection);
        if (settings.Options?.Contains("idle_in_transaction", StringComparison.Ordinal) != true)
            settings.Options = $"{settings.Options} -c idle_in_transaction_session_timeout={MaxIdleInTransactionSeconds}s".Trim();
        return settings.ConnectionString;
    }

    /// <summary>Locks the rows of jobs until the transaction ends.</summary>
    public async Task LockJobsAsync(IReadOnlyCollection<int> ids, CancellationToken cancel)
    {
        var wanted = ids.Order().ToArray();
        await Database
            .SqlQuery<int>($"select id as \"Value\" from jobs where id = any({wanted}) order by id for update")
            .ToListAsync(cancel);
    }

    /// <summary>
    /// Stores changes. What hangs on a job is changed under the lock of its row, and only while nothing is being written for it: of a begin
    /// and an act against it, one comes first, and the other is told.
    /// </summary>
    /// <exception cref="JobBusyException">A write has begun for the job. Nothing was stored.</exception>
    public override async Task<int> SaveChangesAsync(bool acceptAllChangesOnSuccess, CancellationToken cancellationToken = default)
    {
        // Labels that people type, and words of a phone, must not make a line of the audit look like two, or run the other way.
        foreach (var entry in ChangeTracker.Entries<AuditRow>().Where(entry => entry.State == EntityState.Added))
            (entry.Entity.By, entry.Entity.Act) = (ShownText.Of(entry.Entity.By), ShownText.Of(entry.Entity.Act));
        var touched = ChangeTracker
            .Entries()
            .Where(entry => entry.State is EntityState.Added or EntityState.Modified or EntityState.Deleted)
            .Select(entry =>
                entry.Entity switch
                {
                    JobRow job when entry.State != EntityState.Added => job.Id,
                    FactRow or TriageAnswerRow or ClaimRow or ConsentRow or SnapshotRow or GateAnswerRow or FindingRow => (int)
                        entry.Property("JobId").CurrentValue!,
                    SchoolRow { JobId: { } job } => job,
                    _ => 0,
                }
            )
            .Where(id => id > 0)
            .ToHashSet();
        if (touched.Count == 0)
            return await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
        await using var own = Database.CurrentTransaction is null ? await Database.BeginTransactionAsync(cancellationToken) : null;
        await LockJobsAsync(touched, cancellationToken);
        if (
            await Runs.AnyAsync(
                run =>
                    touched.Contains(run.JobId)
                    && (
                        run.Status == Core.Runs.RunStatus.Queued
                        || run.Status == Core.Runs.RunStatus.Writing
                        || run.Status == Core.Runs.RunStatus.Waiting
                    ),
                cancellationToken
            )
        )
            throw new JobBusyException();
        var count = await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
        if (own is not null)
            await own.CommitAsync(cancellationToken);
        return count;
    }
}

/// <summary>A write has begun for a job; what was to be changed of it was not.</summary>
public sealed class JobBusyException() : Exception("A write is going on for this job.");
