using Hangfire;
using Hangfire.AspNetCore;
using Hangfire.PostgreSql;
using Hangfire.PostgreSql.Factories;
using Junctra.Store.Files;
using Junctra.Web.Library.Arrivals;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Library;

/// <summary>What the library needs: the store of its files, and the queue that works on what is on its way.</summary>
internal static class LibrarySetup
{
    private const int AtOnce = 4;

    private static readonly PostgreSqlStorageOptions QueueOptions = new()
    {
        // An order holds a lease of its own, so that a queue that gives it out twice does no harm.
        QueuePollInterval = TimeSpan.FromSeconds(1),
        InvisibilityTimeout = TimeSpan.FromMinutes(5),
        UseSlidingInvisibilityTimeout = true,
        // A lock is held for moments. One that a killed program left must be gone before the wait for it is, or the next program would not
        // start.
        DistributedLockTimeout = TimeSpan.FromSeconds(5),
    };

    public static void AddLibrary(this IServiceCollection services, string connection)
    {
        services.AddSingleton(provider => new ContentStore(provider.GetRequiredService<IOptions<JunctraOptions>>().Value.StoreFolder));
        services.AddSingleton<MirrorTickets>();
        services.AddSingleton(provider => new MirrorClient(MirrorClient.CreateHttp(), provider.GetRequiredService<MirrorTickets>()));
        services.AddSingleton<LinePace>();
        services.AddSingleton<DigestRate>();
        services.AddSingleton<UnpackedImageCache>();
        services.AddScoped<ArrivalService>();
        services.AddScoped<ArrivalWorker>();
        services.AddScoped<MirrorStore>();
        services.AddScoped<PublishedDigests>();
        services.AddScoped<LibraryCleanup>();
        services.AddScoped<PackageSearch>();
        // The queue and what makes its workers belong to this host. Left to the package they would be static, and of two hosts
        // in one process the first would work with the services of the second, also after that one has ended.
        services.AddSingleton<JobActivator>(provider => new AspNetCoreJobActivator(provider.GetRequiredService<IServiceScopeFactory>()));
        services.AddSingleton<JobStorage>(_ => new PostgreSqlStorage(new NpgsqlConnectionFactory(connection, QueueOptions), QueueOptions));
        services.AddHangfire(config => config.UseSimpleAssemblyNameTypeSerializer().UseRecommendedSerializerSettings());
        services.AddHangfireServer(server =>
        {
            server.WorkerCount = AtOnce;
            server.SchedulePollingInterval = TimeSpan.FromSeconds(2);
            server.ShutdownTimeout = TimeSpan.FromSeconds(10);
        });
    }
}
