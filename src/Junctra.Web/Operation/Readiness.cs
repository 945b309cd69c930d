using Junctra.Store;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Diagnostics.HealthChecks;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Operation;

/// <summary>
/// Ready when people can be sent here: the database answers and is of this program's version, packages can be read and stored, and the
/// program is not about to end. Anybody may ask, and asking writes a file: it is looked once a second at most, whoever asks.
/// </summary>
internal sealed class Readiness(
    IDbContextFactory<JunctraDb> databases,
    IHostApplicationLifetime life,
    IOptions<JunctraOptions> options,
    TimeProvider time
) : IHealthCheck, IDisposable
{
    /// <summary>Mark of checks that readiness asks for, and health does not.</summary>
    public const string Tag = "ready";

    private static readonly TimeSpan Holds = TimeSpan.FromSeconds(1);
    private readonly SemaphoreSlim one = new(1);
    private (DateTimeOffset At, HealthCheckResult Result)? last;

    public async Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
    {
        if (life.ApplicationStopping.IsCancellationRequested)
            return HealthCheckResult.Unhealthy("The program is about to end.");
        await one.WaitAsync(cancellationToken);
        try
        {
            if (last is not { } known || time.GetUtcNow() - known.At is var age && (age > Holds || age < TimeSpan.Zero))
                last = known = (time.GetUtcNow(), await LookAsync(cancellationToken));
            return known.Result;
        }
        finally
        {
            one.Release();
        }
    }

    public void Dispose() => one.Dispose();

    private async Task<HealthCheckResult> LookAsync(CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        // Of a newer program's database it is known as little whether it may be written to as of an older one's.
        var known = db.Database.GetMigrations().ToHashSet(StringComparer.Ordinal);
        if (!known.SetEquals(await db.Database.GetAppliedMigrationsAsync(cancel)))
            return HealthCheckResult.Unhealthy("The database is of another version of the program.");
        return HouseLook.Disks(options.Value).FirstOrDefault(disk => disk.Problem is not null) is { } disk
            ? HealthCheckResult.Unhealthy($"{disk.Name}: the folder cannot be used.")
            : HealthCheckResult.Healthy();
    }
}
