using Hangfire;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Operation;

/// <summary>A web process that takes work from the queue.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Since">Since when it runs.</param>
/// <param name="SeenAt">When it gave its last sign of life.</param>
public sealed record ProcessView(string Name, DateTimeOffset Since, DateTimeOffset SeenAt)
{
    /// <summary>After so long without a sign of life it counts as gone.</summary>
    public static readonly TimeSpan Silence = TimeSpan.FromMinutes(2);
}

/// <summary>A run that is open, and whose it is.</summary>
/// <param name="Run">Its number.</param>
/// <param name="Ticket">Its job.</param>
/// <param name="Port">Its port, or null.</param>
/// <param name="Status">Its state.</param>
/// <param name="Holder">The process that writes, or null.</param>
/// <param name="Until">When its lease is out, or null.</param>
public sealed record LeaseView(int Run, string Ticket, string? Port, RunStatus Status, string? Holder, DateTimeOffset? Until);

/// <summary>A folder, and the disk that it lies on.</summary>
/// <param name="Name">What it holds.</param>
/// <param name="Folder">Where it is.</param>
/// <param name="FreeBytes">Bytes free on its disk.</param>
/// <param name="TotalBytes">Size of its disk.</param>
/// <param name="Problem">Why it cannot be used, or null.</param>
public sealed record DiskView(string Name, string Folder, long FreeBytes, long TotalBytes, string? Problem)
{
    /// <summary>Below this share of a disk somebody should look.</summary>
    public const double LittleFree = 0.1;

    /// <summary>Share that is free, 0 to 1.</summary>
    public double Free => TotalBytes > 0 ? (double)FreeBytes / TotalBytes : 0;
}

/// <summary>How the house is, as one look found it.</summary>
public sealed record HouseState
{
    public required DateTimeOffset At { get; init; }

    /// <summary>Web processes on this database.</summary>
    public required IReadOnlyList<ProcessView> Processes { get; init; }

    /// <summary>What only one process does, and which one.</summary>
    public required IReadOnlyList<OwnerRow> Owners { get; init; }

    /// <summary>Work that waits in the queue, that is being done, that is planned for later, and that failed.</summary>
    public required (long Waiting, long Doing, long Planned, long Failed) Queue { get; init; }

    /// <summary>Packages on their way, by state.</summary>
    public required IReadOnlyDictionary<ArrivalState, int> Arrivals { get; init; }

    /// <summary>Runs that are open.</summary>
    public required IReadOnlyList<LeaseView> Leases { get; init; }

    /// <summary>All runs that there ever were, by state.</summary>
    public required IReadOnlyDictionary<RunStatus, int> Runs { get; init; }

    /// <summary>Jobs whose phone is still here.</summary>
    public required int OpenJobs { get; init; }

    public required IReadOnlyList<DiskView> Disks { get; init; }

    /// <summary>Ports, and when a phone last answered there.</summary>
    public required IReadOnlyList<PortRow> Ports { get; init; }

    /// <summary>Size of the database, bytes.</summary>
    public required long DatabaseBytes { get; init; }

    /// <summary>Connections to the database, and how many it allows.</summary>
    public required (int Now, int Max) Connections { get; init; }

    /// <summary>The last backup, or null.</summary>
    public required BackupRow? Backup { get; init; }

    /// <summary>Runs whose lease is out and that nobody has ended yet.</summary>
    public int LateLeases => Leases.Count(lease => lease.Status == RunStatus.Writing && lease.Until < At);
}

/// <summary>Looks how the house is.</summary>
public sealed class HouseLook(IDbContextFactory<JunctraDb> databases, JobStorage queue, IOptions<JunctraOptions> options, TimeProvider time)
{
    /// <summary>Looks now.</summary>
    public async Task<HouseState> LookAsync(CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var monitor = queue.GetMonitoringApi();
        var waiting = monitor.GetStatistics();
        return new HouseState
        {
            // By the clock that leases are of.
            At = await DatabaseClock.NowAsync(db, time, cancel),
            Processes =
            [
                .. monitor
                    .Servers()
                    .Select(server => new ProcessView(server.Name, Utc(server.StartedAt), Utc(server.Heartbeat ?? server.StartedAt)))
                    .OrderBy(server => server.Name, StringComparer.Ordinal),
            ],
            Owners = await db.Owners.AsNoTracking().OrderBy(row => row.What).ToListAsync(cancel),
            Queue = (waiting.Enqueued, waiting.Processing, waiting.Scheduled, waiting.Failed),
            Arrivals = await db
                .Arrivals.GroupBy(row => row.State)
                .Select(group => new { group.Key, Count = group.Count() })
                .ToDictionaryAsync(group => group.Key, group => group.Count, cancel),
            Leases = await db
                .Runs.Where(run => run.Status == RunStatus.Queued || run.Status == RunStatus.Writing || run.Status == RunStatus.Waiting)
                .OrderBy(run => run.Id)
                .Select(run => new LeaseView(run.Id, run.Job.Ticket, run.PortName, run.Status, run.ClaimedBy, run.LeaseUntil))
                .ToListAsync(cancel),
            Runs = await db
                .Runs.GroupBy(run => run.Status)
                .Select(group => new { group.Key, Count = group.Count() })
                .ToDictionaryAsync(group => group.Key, group => group.Count, cancel),
            OpenJobs = await db.Jobs.CountAsync(job => job.HandedBackAt == null, cancel),
            Disks = Disks(options.Value),
            Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel),
            DatabaseBytes = await db
                .Database.SqlQuery<long>($"select pg_database_size(current_database()) as \"Value\"")
                .SingleAsync(cancel),
            Connections = (
                await db.Database.SqlQuery<int>($"select count(*)::int as \"Value\" from pg_stat_activity").SingleAsync(cancel),
                await db.Database.SqlQuery<int>($"select current_setting('max_connections')::int as \"Value\"").SingleAsync(cancel)
            ),
            Backup = await db.Backups.AsNoTracking().OrderByDescending(row => row.At).FirstOrDefaultAsync(cancel),
        };
    }

    /// <summary>The folders of packages, and how full their disks are.</summary>
    public static IReadOnlyList<DiskView> Disks(JunctraOptions options) =>
        [Disk("Packages", options.Library, isWrittenTo: false), Disk("Fetched and unpacked", options.StoreFolder, isWrittenTo: true)];

    private static DiskView Disk(string name, string folder, bool isWrittenTo)
    {
        try
        {
            Directory.CreateDirectory(folder);
            var drive = new DriveInfo(Path.GetFullPath(folder));
            _ = Directory.EnumerateFileSystemEntries(folder).FirstOrDefault();
            if (isWrittenTo)
            {
                // Whether anything can be written there is known when something was.
                var probe = Path.Combine(folder, $".look-{Guid.NewGuid():N}");
                File.WriteAllBytes(probe, [0]);
                File.Delete(probe);
            }

            return new DiskView(name, folder, drive.AvailableFreeSpace, drive.TotalSize, null);
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException or ArgumentException)
        {
            return new DiskView(name, folder, 0, 0, error.Message);
        }
    }

    private static DateTimeOffset Utc(DateTime at) => new(DateTime.SpecifyKind(at, DateTimeKind.Utc));
}
