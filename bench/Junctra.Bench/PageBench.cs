using System.Diagnostics;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Core.Triage;
using Junctra.Formats.CatalogueFiles;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Bench;

/// <summary>
/// The bench and the logbook with 200 jobs and 10,000 facts each, at 50 requests a second, against a plain page that runs the same queries.
/// </summary>
internal static class PageBench
{
    private const int Jobs = 200,
        FactsEach = 50,
        RequestsPerSecond = 50,
        Seconds = 8,
        Rounds = 3;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work, string database)
    {
        database = database.Replace("Database=junctra_bench", "Database=junctra_pages");
        await FillAsync(root, database);
        var library = Path.Combine(work, "no-packages");
        Directory.CreateDirectory(library);
        var (web, plain) = (Programs.FreePort(), Programs.FreePort());
        using var ours = Programs.Serve(
            "dotnet",
            Environment(
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
        using var theirs = Programs.Serve(
            "dotnet",
            Environment(database, plain),
            Path.Combine(root, "bench/PlainPage/bin/Release/net10.0/PlainPage.dll")
        );
        try
        {
            using var page = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{web}") };
            using var bare = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{plain}") };
            await Programs.UntilAsync(async () => (await page.GetAsync("/healthz")).IsSuccessStatusCode);
            await Programs.UntilAsync(async () => (await bare.GetAsync("/open?bytes=1")).IsSuccessStatusCode);
            await SignInAsync(page);
            return
            [
                await CompareAsync($"the bench with {Jobs} jobs and {Jobs * FactsEach} facts", page, "/", bare, "/open"),
                await CompareAsync($"the logbook with {Jobs} jobs and {Jobs * FactsEach} facts", page, "/logbook", bare, "/done"),
            ];
        }
        finally
        {
            foreach (var program in new[] { ours, theirs })
            {
                program.Kill();
                await program.WaitForExitAsync();
            }
        }
    }

    /// <summary>A page against a plain one, at an even rate.</summary>
    internal static async Task<BenchRow> CompareAsync(string name, HttpClient page, string path, HttpClient bare, string plainPath)
    {
        var bytes = (await page.GetByteArrayAsync(path)).Length;
        plainPath += $"?bytes={bytes}";
        var (ours, theirs) = (new List<double>(), new List<double>());
        for (var round = 0; round <= Rounds; round++)
        {
            Console.WriteLine($"Page {path}, round {round} of {Rounds} ...");
            var mine = await SlowestOfTwentyAsync(page, path);
            var plain = await SlowestOfTwentyAsync(bare, plainPath);
            if (round == 0)
                continue;
            ours.Add(mine);
            theirs.Add(plain);
        }

        var ratio = BenchRow.Median(ours) / BenchRow.Median(theirs);
        return new BenchRow(
            $"{name}, {RequestsPerSecond} requests a second, 95th percentile",
            "a page that runs the same queries and sends as many bytes",
            BenchRow.Seconds(BenchRow.Median(ours)),
            BenchRow.Seconds(BenchRow.Median(theirs)),
            BenchRow.Ratio(ratio),
            "at most 1.50",
            ratio <= 1.5
        );
    }

    /// <summary>The 95th percentile at an even rate; a request waits for none before it.</summary>
    private static async Task<double> SlowestOfTwentyAsync(HttpClient client, string path)
    {
        var watch = Stopwatch.StartNew();
        var asked = new List<Task<double>>();
        using var beat = new PeriodicTimer(TimeSpan.FromSeconds(1.0 / RequestsPerSecond));
        while (asked.Count < RequestsPerSecond * Seconds && await beat.WaitForNextTickAsync())
        {
            asked.Add(
                Task.Run(async () =>
                {
                    var from = watch.Elapsed;
                    using var answer = await client.GetAsync(path);
                    answer.EnsureSuccessStatusCode();
                    await answer.Content.ReadAsByteArrayAsync();
                    return (watch.Elapsed - from).TotalSeconds;
                })
            );
        }

        var times = (await Task.WhenAll(asked)).Order().ToList();
        return times[(int)(times.Count * 0.95)];
    }

    internal static async Task SignInAsync(HttpClient page)
    {
        var html = await page.GetStringAsync("/sign-in");
        var token = Regex.Match(html, "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        using var answer = await page.PostAsync(
            "/sign-in",
            new FormUrlEncodedContent([
                KeyValuePair.Create("Name", "lead"),
                KeyValuePair.Create("Password", "slipway-lead"),
                KeyValuePair.Create("__RequestVerificationToken", token),
            ])
        );
        answer.EnsureSuccessStatusCode();
    }

    private static async Task FillAsync(string root, string database)
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, database);
        await using var db = new JunctraDb(options.Options);
        await db.Database.EnsureDeletedAsync();
        await db.Database.MigrateAsync();
        var models = CatalogueReader.Read(Path.Combine(root, "catalogue")).Models.ToList();
        var names = FactName
            .All.Where(name => name.Definition is { IsTypable: true, Form: TextForm and not (CodeForm or MonthForm or DigestForm) })
            .ToList();
        var now = DateTimeOffset.UtcNow;
        for (var i = 0; i < 2 * Jobs; i++)
        {
            var job = new JobRow
            {
                Ticket = $"{i:0000}",
                Description = "grey case, a sticker",
                Complaint = "Starts again and again.",
                TakenInAt = now.AddMinutes(-i),
                PromisedAt = now.AddMinutes(i),
                Cell = CellState.Sound,
                HandedBackAt = i < Jobs ? null : now.AddMinutes(-i),
            };
            job.Facts.Add(FactRow.Of(new Fact(FactName.ModelCode, models[i % models.Count].Code, FactSource.Label, now, "bench")));
            job.Facts.Add(
                FactRow.Of(new Fact(FactName.LockState, i % 3 == 0 ? "locked" : "unlocked", FactSource.BootloaderScreen, now, "bench"))
            );
            for (var k = 2; k < FactsEach; k++)
                job.Facts.Add(FactRow.Of(new Fact(names[k % names.Count], $"value {k}", (FactSource)(k % 4), now.AddSeconds(k), "bench")));
            db.Jobs.Add(job);
        }

        await db.SaveChangesAsync();
    }

    internal static Dictionary<string, string> Environment(string database, int port, params (string, string)[] more) =>
        new([
            KeyValuePair.Create("ConnectionStrings__Junctra", database),
            KeyValuePair.Create("ASPNETCORE_URLS", $"http://127.0.0.1:{port}"),
            KeyValuePair.Create("ASPNETCORE_ENVIRONMENT", "Production"),
            .. more.Select(pair => KeyValuePair.Create(pair.Item1, pair.Item2)),
        ]);
}
