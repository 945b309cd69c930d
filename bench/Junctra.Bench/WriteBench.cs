using System.Diagnostics;
using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Inspection;
using Junctra.Link;
using Junctra.Link.Running;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Bench;

/// <summary>Writing a package to a simulated phone against a plain program that digests, sends and stores the same file.</summary>
internal static class WriteBench
{
    private const int Rounds = 3;
    private const int Megabytes = 640;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work, string database)
    {
        var catalogueFolder = MakeCatalogue(root, work);
        var catalogue = CatalogueReader.Read(catalogueFolder);
        var standIns = Path.Combine(root, "src/Junctra.StandIns/bin/Release/net10.0/Junctra.StandIns.dll");
        var packagePath = Path.Combine(work, "write.tar");
        if (!File.Exists(packagePath))
            await Programs.MeasureAsync("dotnet", standIns, "large-package", packagePath, Megabytes.ToString());
        var package = PackageReader.Read("write.tar", await PackageInspector.InspectFileAsync(packagePath), catalogue);

        var (control, port) = (Programs.FreePort(), Programs.FreePort());
        var phones = Path.Combine(work, "phones");
        if (Directory.Exists(phones))
            Directory.Delete(phones, recursive: true);
        using var phone = Programs.Start(
            "dotnet",
            standIns,
            "serve",
            $"--catalogue={catalogueFolder}",
            $"--data={phones}",
            $"--control={control}",
            $"--phone-a={port}",
            $"--phone-b={Programs.FreePort()}",
            $"--phone-c={Programs.FreePort()}",
            "--restart-ms=0",
            "--first-boot-ms=0",
            $"--most-download={64 << 20}"
        );
        using var http = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{control}") };
        await Programs.UntilAsync(async () => (await http.GetAsync("/phones")).IsSuccessStatusCode);
        try
        {
            var options = new DbContextOptionsBuilder<JunctraDb>();
            JunctraDb.Configure(options, database);
            var databases = new Databases(options.Options);
            await using (var db = databases.CreateDbContext())
            {
                await db.Database.EnsureDeletedAsync();
                await db.Database.MigrateAsync();
            }

            var (ours, theirs) = (new List<double>(), new List<double>());
            for (var round = 0; round <= Rounds; round++)
            {
                Console.WriteLine($"Write, round {round} of {Rounds} ...");
                var seconds = await WriteAsync(databases, catalogue, package, packagePath, new LinkAddress("127.0.0.1", port), http, round);
                var plain = await PlainAsync(root, work, packagePath);
                if (round == 0)
                    continue;
                ours.Add(seconds);
                theirs.Add(plain);
            }

            // Rates: the same bytes went both ways.
            var ratio = BenchRow.Median(theirs) / BenchRow.Median(ours);
            return
            [
                new BenchRow(
                    $"write {Megabytes} MiB to a simulated phone, rate",
                    "read, digest, send and store by a plain program",
                    BenchRow.Seconds(BenchRow.Median(ours)),
                    BenchRow.Seconds(BenchRow.Median(theirs)),
                    BenchRow.Ratio(ratio),
                    "at least 0.85",
                    ratio >= 0.85
                ),
            ];
        }
        finally
        {
            phone.Kill();
            await phone.WaitForExitAsync();
        }
    }

    /// <summary>From the first look at the file to the acceptance of the last image, the journal in the database.</summary>
    private static async Task<double> WriteAsync(
        Databases databases,
        ModelCatalogue catalogue,
        Package package,
        string path,
        LinkAddress address,
        HttpClient http,
        int round
    )
    {
        await Programs.UntilAsync(async () =>
            (await http.GetStringAsync("/phones")).Contains("setup-wizard", StringComparison.Ordinal) || round == 0
        );
        await http.PostAsync("/phones/A/hold-menu-keys", null);
        var clocks = LinkClocks.From(catalogue.Figures);
        var phone = new Phone((await PhoneReader.ReadAsync(address, clocks, catalogue, DateTimeOffset.UtcNow, "bench")).Facts);
        var plan = PathList.Compile(new PathCase(phone, package, true, catalogue)).Plan
            ?? throw new InvalidOperationException("There is no plan.");
        var journal = new RunJournal(databases, TimeProvider.System);
        await using (var db = databases.CreateDbContext())
        {
            var store = new JobStore(db, TimeProvider.System);
            var job = new JobRow
            {
                Ticket = $"B{round}",
                Description = "bench",
                Complaint = "bench",
                TakenInAt = DateTimeOffset.UtcNow,
            };
            await store.TakeInAsync(job, "bench");
            await store.BeginAsync(
                new RunRow
                {
                    JobId = job.Id,
                    PackageId = package.Id,
                    Plan = plan,
                    Report = Matcher.Match(phone, package, catalogue),
                    PortName = "A",
                    Address = address.ToString(),
                    Status = RunStatus.Queued,
                    BegunAt = DateTimeOffset.UtcNow,
                    QueuedAt = DateTimeOffset.UtcNow,
                    BegunBy = "bench",
                }
            );
        }

        var run = await journal.ClaimAsync("bench") ?? throw new InvalidOperationException("There is no run.");
        var pen = await journal.TakePenAsync(run.Id, "bench");
        var watch = Stopwatch.StartNew();
        double? accepted = null;
        await new PlanWriter(
            catalogue,
            clocks,
            async what =>
            {
                await pen.WriteAsync(what);
                if (what is ImageAccepted)
                    accepted = watch.Elapsed.TotalSeconds;
            },
            TimeProvider.System
        ).RunAsync(new WriteOrder(plan, [new PackageFile(package, path)], address));
        var state = RunState.Of(plan, await journal.ReadAsync(run.Id));
        return state.Status == RunStatus.Finished
            ? accepted!.Value
            : throw new InvalidOperationException($"The write ended early: {state.WhatHappened}");
    }

    private static async Task<double> PlainAsync(string root, string work, string path)
    {
        var plain = Path.Combine(root, "bench/Plain/bin/Release/net10.0/Plain.dll");
        var port = Programs.FreePort();
        using var store = Programs.Start("dotnet", plain, "store", port.ToString(), Path.Combine(work, "stored"));
        await Programs.UntilAsync(() =>
            Task.FromResult(File.ReadLines("/proc/net/tcp").Any(line => line.Contains($":{port:X4} ", StringComparison.Ordinal)))
        );
        var watch = Stopwatch.StartNew();
        await Programs.MeasureAsync("dotnet", plain, "send", path, port.ToString());
        await store.WaitForExitAsync();
        return watch.Elapsed.TotalSeconds;
    }

    /// <summary>The catalogue that ships, with a system partition that takes the large image.</summary>
    private static string MakeCatalogue(string root, string work)
    {
        var from = Path.Combine(root, "catalogue");
        var to = Path.Combine(work, "catalogue");
        foreach (var file in Directory.EnumerateFiles(from, "*.yaml", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.WriteAllText(copy, File.ReadAllText(file).Replace("role: system, size: 192 MiB", "role: system, size: 1024 MiB"));
        }

        return to;
    }

    private sealed class Databases(DbContextOptions<JunctraDb> options) : IDbContextFactory<JunctraDb>
    {
        public JunctraDb CreateDbContext() => new(options);
    }
}
