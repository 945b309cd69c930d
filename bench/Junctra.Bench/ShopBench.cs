using System.Diagnostics;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Bench;

/// <summary>
/// A shop that has worked for years: 20,000 jobs, of which 200 are open, and 100,000 packages. How long it takes to start, and to show the
/// first page; the bench and the logbook against a plain page that runs the same queries; every other list by its slowest of twenty; and
/// what the program holds in memory after 100,000 requests.
/// </summary>
internal static class ShopBench
{
    private const int Jobs = 20_000,
        Open = 200,
        Packages = 100_000,
        Requests = 100_000,
        AtOnce = 8;

    // What people open all day, besides the two that are held against a plain page.
    private static readonly string[] Others =
    [
        "/jobs/00100/find-out",
        "/jobs/00100/match",
        "/jobs/00100/plan",
        "/packages",
        "/packages?q=Cairn",
        "/logbook?q=starts",
        "/find?q=00100",
        "/insight",
        "/operation",
    ];

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work, string database)
    {
        database = database.Replace("Database=junctra_bench", "Database=junctra_shop");
        await FillAsync(root, database);
        var library = Path.Combine(work, "no-packages");
        Directory.CreateDirectory(library);
        var (web, plain) = (Programs.FreePort(), Programs.FreePort());
        Process Start() =>
            Programs.Serve(
                "dotnet",
                PageBench.Environment(
                    database,
                    web,
                    ("Junctra__Catalogue", Path.Combine(root, "catalogue")),
                    ("Junctra__Library", library),
                    ("Junctra__DemoPorts__A", "127.0.0.1:9")
                ),
                Path.Combine(root, "src/Junctra.Web/bin/Release/net10.0/Junctra.Web.dll"),
                "--contentRoot",
                Path.Combine(root, "src/Junctra.Web")
            );

        var rows = new List<BenchRow>();
        void Add(BenchRow row)
        {
            rows.Add(row);
            Console.WriteLine($"{row.What}: {row.Measured}");
        }

        var ours = Start();
        using var theirs = Programs.Serve(
            "dotnet",
            PageBench.Environment(database, plain),
            Path.Combine(root, "bench/PlainPage/bin/Release/net10.0/PlainPage.dll")
        );
        try
        {
            using var page = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{web}"), Timeout = TimeSpan.FromMinutes(5) };
            using var bare = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{plain}") };
            await Programs.UntilAsync(async () => (await page.GetAsync("/healthz")).IsSuccessStatusCode);
            await Programs.UntilAsync(async () => (await bare.GetAsync("/open?bytes=1")).IsSuccessStatusCode);
            await PageBench.SignInAsync(page);
            await UntilLogbookIsMadeAsync(database);

            // A start as it is on any morning, with the cookie of yesterday: until it answers, and until somebody sees the bench.
            var (starts, firsts) = (new List<double>(), new List<double>());
            for (var i = 0; i < 3; i++)
            {
                ours.Kill();
                await ours.WaitForExitAsync();
                var began = Stopwatch.StartNew();
                ours = Start();
                while (!await AnswersAsync(page))
                    await Task.Delay(20);
                starts.Add(began.Elapsed.TotalSeconds);
                began.Restart();
                await page.GetStringAsync("/");
                firsts.Add(began.Elapsed.TotalSeconds);
            }

            Add(Seconds($"a start of a shop with {Jobs:N0} jobs and {Packages:N0} packages", BenchRow.Median(starts), 6));
            Add(Seconds("its first page after a start", BenchRow.Median(firsts), 5));
            Add(
                await PageBench.CompareAsync(
                    $"the bench of a shop with {Jobs:N0} jobs and {Packages:N0} packages",
                    page,
                    "/",
                    bare,
                    "/open"
                )
            );
            Add(await PageBench.CompareAsync($"the logbook of a shop with {Jobs:N0} jobs", page, "/logbook", bare, "/done"));
            foreach (var path in Others)
                Add(await SlowestAsync(page, path));
            Add(await MemoryAsync(ours, page));
            return rows;
        }
        finally
        {
            foreach (var program in new[] { ours, theirs })
            {
                program.Kill();
                await program.WaitForExitAsync();
            }

            ours.Dispose();
        }
    }

    private static BenchRow Seconds(string what, double took, double most) =>
        new(what, "", BenchRow.Seconds(took), "", BenchRow.Seconds(took), $"at most {most} s", took <= most);

    private static async Task<bool> AnswersAsync(HttpClient page)
    {
        try
        {
            return (await page.GetAsync("/healthz")).IsSuccessStatusCode;
        }
        catch (HttpRequestException)
        {
            return false;
        }
    }

    /// <summary>The slowest of twenty, one after the other, once it is warm.</summary>
    private static async Task<BenchRow> SlowestAsync(HttpClient page, string path)
    {
        Console.WriteLine($"Page {path} ...");
        for (var i = 0; i < 3; i++)
            (await page.GetAsync(path)).EnsureSuccessStatusCode();
        var times = new List<double>();
        for (var i = 0; i < 20; i++)
        {
            var began = Stopwatch.GetTimestamp();
            await page.GetByteArrayAsync(path);
            times.Add(Stopwatch.GetElapsedTime(began).TotalSeconds);
        }

        return Seconds($"{path} of that shop, the slowest of twenty", times.Max(), 1);
    }

    /// <summary>What the program holds after many requests, against what it held after a tenth of them.</summary>
    private static async Task<BenchRow> MemoryAsync(Process program, HttpClient page)
    {
        Console.WriteLine($"{Requests:N0} requests ...");
        string[] paths = ["/", "/logbook", "/jobs/00120/find-out", "/jobs/00110/route", "/find?q=00101", "/account", "/healthz", "/ports"];
        // What looks through 100,000 packages takes many times as long as any other page.
        string[] heavy = ["/packages", "/packages?q=Cairn", "/jobs/00100/match", "/insight"];
        var (asked, early) = (0, 0L);
        await Task.WhenAll(
            Enumerable
                .Range(0, AtOnce)
                .Select(_ =>
                    Task.Run(async () =>
                    {
                        for (int n; (n = Interlocked.Increment(ref asked)) <= Requests; )
                        {
                            var path = n % 100 == 0 ? heavy[n / 100 % heavy.Length] : paths[n % paths.Length];
                            using var answer = await page.GetAsync(path, HttpCompletionOption.ResponseHeadersRead);
                            answer.EnsureSuccessStatusCode();
                            await answer.Content.CopyToAsync(Stream.Null);
                            if (n == Requests / 10)
                            {
                                program.Refresh();
                                early = program.WorkingSet64;
                            }
                        }
                    })
                )
        );
        program.Refresh();
        var ratio = program.WorkingSet64 / (double)early;
        return new BenchRow(
            $"memory of the web process after {Requests:N0} requests",
            $"after {Requests / 10:N0}",
            $"{program.WorkingSet64 >> 20} MB",
            $"{early >> 20} MB",
            BenchRow.Ratio(ratio),
            "at most 1.25",
            ratio <= 1.25
        );
    }

    private static async Task UntilLogbookIsMadeAsync(string database)
    {
        Console.WriteLine("The logbook is made ...");
        await using var db = new JunctraDb(Options(database));
        while (await db.LogbookDue.AnyAsync())
            await Task.Delay(1000);
    }

    private static DbContextOptions<JunctraDb> Options(string database)
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, database);
        return options.Options;
    }

    private static async Task FillAsync(string root, string database)
    {
        Console.WriteLine("The shop is made ...");
        await using var db = new JunctraDb(Options(database));
        db.Database.SetCommandTimeout(TimeSpan.FromMinutes(20));
        await db.Database.EnsureDeletedAsync();
        await db.Database.MigrateAsync();
        var catalogue = CatalogueReader.Read(Path.Combine(root, "catalogue"));
        var models = catalogue.Models.Select(model => model.Code).ToArray();
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into jobs (ticket, description, complaint, taken_in_at, promised_at, cell, handed_back_at,
                data_wish, wish_kind, ownership_stated, erases_data)
            select lpad(i::text, 5, '0'), 'grey case, a sticker', 'Starts again and again since ' || i || '.',
                now() - i * interval '1 hour',
                now() + i * interval '1 minute', 'Sound', case when i < {Open} then null else now() - i * interval '50 minutes' end,
                'MayGo', 'None', true, true
            from generate_series(0, {Jobs - 1}) i
            """
        );
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into facts (job_id, name, value, source, at, recorded_by)
            select job.id, fact.name,
                case fact.name when 'model-code' then ({models})[1 + job.id % {models.Length}] else fact.value end, 'Label', now(), 'bench'
            from jobs job, (values ('model-code', ''), ('lock-state', 'unlocked'), ('region', 'WHM'),
                ('battery-percent', '80'), ('rollback-floor', '3'), ('os-version', '15')) fact (name, value)
            """
        );
        // A package as the library has it, many times with another name, digest and model.
        var tar = Path.Combine(Path.GetTempPath(), $"junctra-shop-{Guid.NewGuid():N}.tar");
        await File.WriteAllBytesAsync(tar, new byte[10240]);
        var contents = await PackageInspector.InspectFileAsync(tar, null, null, null, CancellationToken.None);
        File.Delete(tar);
        var row = new PackageRow
        {
            Id = contents.Sha256,
            FileName = "one.tar",
            Contents = contents,
            SizeBytes = contents.SizeBytes,
            InspectorVersion = PackageInspector.Version,
            AddedAt = DateTimeOffset.UtcNow,
            InspectedAt = DateTimeOffset.UtcNow,
        };
        row.Describe(Core.Packages.PackageReader.Read(row.FileName, contents, catalogue), catalogue.Stamp);
        db.Packages.Add(row);
        await db.SaveChangesAsync();
        var columns = db
            .Model.FindEntityType(typeof(PackageRow))!
            .GetProperties()
            .Select(property => property.GetColumnName())
            .Where(name => name != "xmin")
            .ToList();
        // Names of columns, which are ours.
        var values = columns.Select(name =>
            name switch
            {
                "id" => "md5('a' || i) || md5('b' || i)",
                "file_name" => "'package-' || i || '.tar'",
                "title" => "'Cairn package ' || i",
                "model_codes" => $"array[(array['{string.Join("','", models)}'])[1 + i % {models.Length}]]",
                _ => $"p.{name}",
            }
        );
        var copies =
            $"insert into packages ({string.Join(", ", columns)}) select {string.Join(", ", values)} from packages p, generate_series(1, {Packages - 1}) i";
        await db.Database.ExecuteSqlRawAsync(copies);
        await db.Database.ExecuteSqlRawAsync("analyze");
    }
}
