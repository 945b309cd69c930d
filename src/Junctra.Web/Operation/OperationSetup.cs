using Junctra.Store;
using Junctra.Store.Operation;
using Junctra.Web.Library.Arrivals;
using Microsoft.AspNetCore.Diagnostics.HealthChecks;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;

namespace Junctra.Web.Operation;

/// <summary>What whoever keeps the house running needs: owners, the audit's chain, health, figures and traces.</summary>
internal static class OperationSetup
{
    /// <summary>Setting by which traces are sent somewhere; that of the collector's own specification.</summary>
    private const string Collector = "OTEL_EXPORTER_OTLP_ENDPOINT";

    /// <summary>Setting by which this program is called something else there; of the same specification.</summary>
    private const string ProgramName = "OTEL_SERVICE_NAME";

    public static void AddOperation(this IServiceCollection services, IConfiguration configuration)
    {
        services.AddSingleton(provider => new Ownership(
            provider.GetRequiredService<IDbContextFactory<JunctraDb>>(),
            // One host of a process is not another.
            $"{WorkerName.Of(Environment.ProcessId)}:{Guid.NewGuid():N}",
            Ownership.UsualLease,
            WorkerName.IsGone
        ));
        // Begun before all that takes turns, it ends after them.
        services.AddHostedService<TurnsEnd>();
        services.AddSingleton<IAuditHead>(provider => new AuditHeadFile(
            provider.GetRequiredService<IOptions<JunctraOptions>>().Value.KeysFolder
        ));
        services.AddSingleton<AuditChain>();
        services.AddSingleton<AuditSealer>();
        services.AddHostedService(provider => provider.GetRequiredService<AuditSealer>());
        services.AddSingleton<SlowQueries>();
        services.AddSingleton<HouseLook>();
        services.AddSingleton<Readiness>();
        services.AddSingleton<HouseMeter>();
        services.AddHostedService(provider => provider.GetRequiredService<HouseMeter>());
        services.AddHealthChecks().AddCheck<DatabaseHealth>("database").AddCheck<Readiness>("readiness", tags: [Readiness.Tag]);
        var telemetry = services
            .AddOpenTelemetry()
            .ConfigureResource(program => program.AddService(configuration[ProgramName] ?? HouseMeter.Name))
            .WithMetrics(metrics =>
                metrics
                    .AddMeter(
                        HouseMeter.Name,
                        "Microsoft.AspNetCore.Hosting",
                        "Microsoft.AspNetCore.Server.Kestrel",
                        "System.Runtime",
                        "Npgsql"
                    )
                    .AddPrometheusExporter()
            );
        if (configuration[Collector] is { Length: > 0 })
            telemetry.WithTracing(traces =>
                traces
                    .AddSource(HouseMeter.Name, "Npgsql")
                    .AddAspNetCoreInstrumentation(requests =>
                        // An address holds a ticket, and what somebody searched for; the route says enough.
                        requests.EnrichWithHttpResponse = (activity, response) =>
                        {
                            activity.SetTag("url.path", null);
                            activity.SetTag("url.query", null);
                            activity.SetTag("client.address", null);
                            activity.SetTag("user_agent.original", null);
                        }
                    )
                    .AddOtlpExporter()
            );
    }

    public static void MapOperation(this IEndpointRouteBuilder endpoints)
    {
        endpoints
            .MapHealthChecks("/healthz", new HealthCheckOptions { Predicate = check => !check.Tags.Contains(Readiness.Tag) })
            .AllowAnonymous();
        endpoints.MapHealthChecks("/readyz").AllowAnonymous();
        endpoints.MapPrometheusScrapingEndpoint("/metrics").RequireAuthorization(Staff.Policies.AnyoneOrProgram);
    }
}
