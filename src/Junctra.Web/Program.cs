using Hangfire;
using Junctra.Formats.CatalogueFiles;
using Junctra.Link;
using Junctra.Store;
using Junctra.Store.Logbook;
using Junctra.Web;
using Junctra.Web.Api;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Bench.Days;
using Junctra.Web.Demo;
using Junctra.Web.Library;
using Junctra.Web.Library.Arrivals;
using Junctra.Web.Logbook;
using Junctra.Web.Operation;
using Junctra.Web.Practising;
using Junctra.Web.Staff;
using Junctra.Web.Writing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Serilog;
using Serilog.Formatting.Compact;

var builder = WebApplication.CreateBuilder(args);
builder.Services.AddSerilog(log =>
{
    log.ReadFrom.Configuration(builder.Configuration);
    if (builder.Environment.IsProduction())
        log.WriteTo.Console(new CompactJsonFormatter());
    else
        log.WriteTo.Console();
});
builder.Services.AddOptions<JunctraOptions>().BindConfiguration("Junctra").ValidateDataAnnotations().ValidateOnStart();

var connection = builder.Configuration.GetConnectionString("Junctra")
    ?? throw new InvalidOperationException("No database is named. Set ConnectionStrings__Junctra, or start with ./junctra up.");
builder.Services.AddDbContextFactory<JunctraDb>(
    (services, options) => JunctraDb.Configure(options, connection).AddInterceptors(services.GetRequiredService<SlowQueries>())
);
builder.Services.AddScoped(services => services.GetRequiredService<IDbContextFactory<JunctraDb>>().CreateDbContext());
builder.Services.AddSingleton(TimeProvider.System);
builder.Services.AddSingleton(services => CatalogueReader.Read(services.GetRequiredService<IOptions<JunctraOptions>>().Value.Catalogue));
builder.Services.AddSingleton(services => LinkClocks.From(services.GetRequiredService<Junctra.Core.Catalogue.ModelCatalogue>().Figures));
builder.Services.AddSingleton(services => new RunJournal(
    services.GetRequiredService<IDbContextFactory<JunctraDb>>(),
    services.GetRequiredService<TimeProvider>(),
    TimeSpan.FromSeconds(services.GetRequiredService<IOptions<JunctraOptions>>().Value.LeaseSeconds)
));
builder.Services.AddOperation(builder.Configuration);
builder.Services.AddStaff(builder.Configuration);
builder.Services.AddMatchApi();
builder.Services.AddSingleton(services =>
{
    var catalogue = services.GetRequiredService<Junctra.Core.Catalogue.ModelCatalogue>();
    return new ExerciseShelf(
        catalogue,
        PracticeReader.Read(services.GetRequiredService<IOptions<JunctraOptions>>().Value.Catalogue, catalogue)
    );
});
builder.Services.AddScoped<PracticeService>();
builder.Services.AddScoped<LicenceService>();
builder.Services.AddHttpContextAccessor();
builder.Services.AddScoped<JobStore>();
builder.Services.AddSingleton<JobCache>();
builder.Services.AddScoped<JobLoader>();
builder.Services.AddScoped<PhoneVisits>();
builder.Services.AddScoped<PackageIndex>();
builder.Services.AddSingleton<ReadPackages>();
builder.Services.AddScoped<PolicyHistory>();
builder.Services.AddScoped<LinkHistory>();
builder.Services.AddScoped<LinkService>();
builder.Services.AddScoped<MatchService>();
builder.Services.AddScoped<CataloguePreview>();
builder.Services.AddScoped<RouteService>();
builder.Services.AddScoped<Planner>();
builder.Services.AddScoped<ObservationService>();
builder.Services.AddScoped<ChoiceService>();
builder.Services.AddScoped<RecordService>();
builder.Services.AddScoped<RescueRecord>();
builder.Services.AddScoped<RescueService>();
builder.Services.AddSingleton<LogbookIndex>();
builder.Services.AddSingleton<LogbookEntries>();
builder.Services.AddScoped<LogbookSearch>();
builder.Services.AddScoped<ShopInsight>();
builder.Services.AddSingleton<LearnedTimes>();
builder.Services.AddScoped<CustomerWords>();
builder.Services.AddSingleton<LogbookTakeIn>();
builder.Services.AddHostedService(services => services.GetRequiredService<LogbookTakeIn>());
builder.Services.AddHostedService<DemoHistory>();
builder.Services.AddSingleton<LogbookKeeper>();
builder.Services.AddHostedService(services => services.GetRequiredService<LogbookKeeper>());
builder.Services.AddSingleton<MadeDayCache>();
builder.Services.AddScoped<DayService>();
builder.Services.AddScoped<JobWork>();
builder.Services.AddSingleton<TimetableKeeper>();
if (builder.Configuration.GetValue("Junctra:KeepsTimetable", true))
    builder.Services.AddHostedService(services => services.GetRequiredService<TimetableKeeper>());
builder.Services.AddScoped<RunActs>();
builder.Services.AddScoped<PortHearing>();
builder.Services.AddLibrary(connection);
builder.Services.AddSingleton<LibraryWatch>();
builder.Services.AddHostedService(services => services.GetRequiredService<LibraryWatch>());
builder.Services.AddSingleton<JournalWatch>();
builder.Services.AddHostedService(services => services.GetRequiredService<JournalWatch>());
builder.Services.AddHostedService<WriterService>();
builder.Services.AddHostedService<HandsWatch>();
builder.Services.AddSingleton<KeptFiles>();
builder.Services.AddRazorPages().AddMvcOptions(mvc => mvc.Filters.Add<PlainFields>(int.MinValue));

// Not what is packed already. Pages hold tokens, but those are sealed anew in every answer, and nothing is compressed over TLS.
builder.Services.AddResponseCompression(options =>
    options.MimeTypes = ["text/html", "application/json", "text/css", "text/javascript", "application/javascript", "image/svg+xml"]
);

// A write finishes its image before this program ends, a boot chain and its restart included.
builder.Services.Configure<HostOptions>(options => options.ShutdownTimeout = TimeSpan.FromMinutes(10));

var app = builder.Build();
try
{
    app.Services.GetRequiredService<Junctra.Core.Catalogue.ModelCatalogue>();
}
catch (CatalogueException error)
{
    // A mistake of whoever edited the files, not of the program: say where it is, and nothing else.
    Console.Error.WriteLine(error.Message);
    return 1;
}

if (args is [AuditCommand.Name, ..])
    return await AuditCommand.RunAsync(app.Services, Console.Out);

await using (var scope = app.Services.CreateAsyncScope())
{
    // Whether there is anything to migrate is asked first: that is cheap, and migrating compares the whole model even where nothing is new.
    var database = scope.ServiceProvider.GetRequiredService<JunctraDb>().Database;
    if ((await database.GetPendingMigrationsAsync()).Any())
        await database.MigrateAsync();
    await StaffSetup.SeedAsync(scope.ServiceProvider, scope.ServiceProvider.GetRequiredService<IOptions<JunctraOptions>>().Value.IsDemo);
    await DemoWorld.SeedAsync(scope.ServiceProvider);
    await scope
        .ServiceProvider.GetRequiredService<MirrorTickets>()
        .SealOldAsync(scope.ServiceProvider.GetRequiredService<JunctraDb>(), CancellationToken.None);
    await scope.ServiceProvider.GetRequiredService<ArrivalService>().TakeUpAsync(CancellationToken.None);
    scope
        .ServiceProvider.GetRequiredService<IRecurringJobManager>()
        .AddOrUpdate<ArrivalService>("arrivals-left", desk => desk.TakeUpLeftAsync(), ArrivalService.TakesUpLeft);
    scope
        .ServiceProvider.GetRequiredService<IRecurringJobManager>()
        .AddOrUpdate<CustomerWords>("customers-words", words => words.RemoveDueAsync(), Cron.Daily(hour: 2));
}

using var refusals = ServerRefusals.Listen(app.Services.GetRequiredService<System.Diagnostics.DiagnosticListener>());
app.UseMiddleware<SecurityHeaders>();
app.UseExceptionHandler("/error");
app.UseStatusCodePagesWithReExecute("/error", "?status={0}");
app.UseResponseCompression();
app.UseStaticFiles(
    new StaticFileOptions
    {
        // What is asked for by its digest never changes; nor do fonts, while they have their names.
        OnPrepareResponse = context =>
            context.Context.Response.Headers.CacheControl =
                context.Context.Request.Query.ContainsKey("v") || context.File.Name.EndsWith(".woff2", StringComparison.Ordinal)
                    ? "public, max-age=31536000, immutable"
                    : "public, max-age=3600",
    }
);
app.UseRouting();
app.UseAuthentication();
app.UseMiddleware<PlainInput>();
app.UseAuthorization();
app.MapOperation();
app.MapRunEvents();
app.MapRunReplay();
app.MapRecords();
app.MapUploads();
app.MapPackageFiles();
app.MapMatchApi();
app.MapRazorPages();
await app.StartAsync();
await app.Services.GetRequiredService<FirstLead>().AnnounceAsync(Console.Out);
await app.WaitForShutdownAsync();
return 0;
