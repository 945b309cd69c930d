using System.Diagnostics;
using System.Diagnostics.Metrics;
using Junctra.Core;
using Junctra.Store;

namespace Junctra.Web.Operation;

/// <summary>
/// Figures of this process and its house, for whatever collects them, and the marks of work that takes its time. Nothing in them names a
/// person, a customer, a ticket or a phone.
/// </summary>
public sealed class HouseMeter : BackgroundService
{
    /// <summary>Name of meter and activity source.</summary>
    public const string Name = "Junctra";

    /// <summary>Where work that takes its time is marked, for traces.</summary>
    public static readonly ActivitySource Work = new(Name);

    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(15);
    private readonly HouseLook house;
    private readonly TimeProvider time;
    private readonly ILogger<HouseMeter> log;
    private readonly Counter<long> refused;
    private volatile HouseState? last;

    public HouseMeter(
        HouseLook house,
        SlowQueries slow,
        AuditSealer audit,
        IMeterFactory meters,
        TimeProvider time,
        ILogger<HouseMeter> log
    )
    {
        (this.house, this.time, this.log) = (house, time, log);
        var meter = meters.Create(Name);
        refused = meter.CreateCounter<long>("junctra.sign_ins.refused", description: "Sign-ins that were refused");
        meter.CreateObservableCounter("junctra.queries.slow", () => slow.Count, description: "Statements that took long");
        Gauge("junctra.jobs.open", "Jobs whose phone is here", state => [new(state.OpenJobs)]);
        Gauge("junctra.runs", "Runs by state", state =>
            [.. state.Runs.Select(pair => new Measurement<long>(pair.Value, Tag("state", EnumNames.Of(pair.Key))))]
        );
        Gauge("junctra.leases.late", "Runs whose lease is out", state => [new(state.LateLeases)]);
        Gauge("junctra.queue", "Work in the queue", state =>
            [
                new(state.Queue.Waiting, Tag("state", "waiting")),
                new(state.Queue.Doing, Tag("state", "doing")),
                new(state.Queue.Planned, Tag("state", "planned")),
                new(state.Queue.Failed, Tag("state", "failed")),
            ]
        );
        Gauge("junctra.arrivals", "Packages on their way, by state", state =>
            [.. state.Arrivals.Select(pair => new Measurement<long>(pair.Value, Tag("state", EnumNames.Of(pair.Key))))]
        );
        Gauge(
            "junctra.disk.free",
            "Bytes free where packages lie",
            state => [.. state.Disks.Select(disk => new Measurement<long>(disk.FreeBytes, Tag("place", disk.Name.ToLowerInvariant())))],
            "By"
        );
        Gauge("junctra.database.size", "Size of the database", state => [new(state.DatabaseBytes)], "By");
        Gauge("junctra.database.connections", "Connections to the database", state => [new(state.Connections.Now)]);
        Gauge("junctra.processes", "Web processes that give signs of life", state => [new(Alive(state))]);
        Gauge(
            "junctra.backup.age",
            "Seconds since the last backup",
            state => state.Backup is { } backup ? [new((long)(state.At - backup.At).TotalSeconds)] : [],
            "s"
        );
        meter.CreateObservableGauge<long>(
            "junctra.audit.broken",
            () => audit.Last is { } look ? [new(look.Check.Problem is null ? 0 : 1)] : [],
            description: "1 where the chain over the audit is broken"
        );

        void Gauge(string name, string what, Func<HouseState, Measurement<long>[]> read, string? unit = null) =>
            meter.CreateObservableGauge(name, () => last is { } state ? read(state) : [], unit, what);
    }

    /// <summary>A sign-in was refused.</summary>
    public void Refused() => refused.Add(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                last = await house.LookAsync(stoppingToken);
            }
            catch (Exception error) when (!stoppingToken.IsCancellationRequested)
            {
                // Figures that are old are worse than none.
                last = null;
                if (!DatabaseAbsence.Is(error))
                    log.LogWarning(error, "The figures of the house could not be read");
            }

            await Task.Delay(LookEvery, time, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private static long Alive(HouseState state) => state.Processes.Count(process => state.At - process.SeenAt < ProcessView.Silence);

    private static KeyValuePair<string, object?> Tag(string name, string value) => new(name, value);
}
