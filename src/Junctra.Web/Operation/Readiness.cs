using Junctra.Store;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Diagnostics.HealthChecks;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Operation;

/// <summary>
/// Ready when people can be sent here: the database answers and is of this program's version, packages can be read and stored, and the
/// program is not about to end.
/// </summary>
internal sealed class Readiness(IDbContextFactory<JunctraDb> databases, IHostApplicationLifetime life, IOptions<JunctraOptions> options)
    : IHealthCheck
{
    /// <summary>Mark of checks that readiness asks for, and health does not.</summary>
    public const string Tag = "ready";

    public async Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
    {
        if (life.ApplicationStopping.IsCancellationRequested)
            return HealthCheckResult.Unhealthy("The program is about to end.");
        await using var db = await databases.CreateDbContextAsync(cancellationToken);
        // Of a newer program's database it is known as little whether it may be written to as of an older one's.
        var known = db.Database.GetMigrations().ToHashSet(StringComparer.Ordinal);
        if (!known.SetEquals(await db.Database.GetAppliedMigrationsAsync(cancellationToken)))
            return HealthCheckResult.Unhealthy("The database is of another version of the program.");
        return HouseLook.Disks(options.Value).FirstOrDefault(disk => disk.Problem is not null) is { } disk
            ? HealthCheckResult.Unhealthy($"{disk.Name}: the folder cannot be used.")
            : HealthCheckResult.Healthy();
    }
}
