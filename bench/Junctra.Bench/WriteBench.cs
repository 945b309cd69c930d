using System.Diagnostics;
using System.Text.Json;
using System.Text.RegularExpressions;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
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

/// <summary>
/// Writing a package to a simulated phone against a plain program that digests, sends and stores the same file: a factory set in fastboot
/// mode, a bundle in download mode; and the memory that a bundle of 8 GiB takes of this program.
/// </summary>
internal static class WriteBench
{
    private const int Rounds = 5;
    private const int Megabytes = 640;

    // With what else lies in it more than 8 GiB; the number of bytes of one file in such an archive ends there.
    private const int LargeMegabytes = 8191;
    private const long PeakBudget = 150_000_000;

    /// <summary>What is written, where, and how the phone comes into the mode for it.</summary>
    private sealed record Subject(string Command, string File, int Megabytes, string Phone, string Hands, PhoneMode Mode, bool Erases);

    private static readonly Subject Set = new("large-package", "write.tar", Megabytes, "A", "hold-menu-keys", PhoneMode.Fastboot, true);
    private static readonly Subject Bundle = new(
        "large-bundle",
        "write-bundle.tar",
        Megabytes,
        "I",
        "into/download",
        PhoneMode.Download,
        false
    );
    private static readonly Subject LargeBundle = Bundle with { File = "write-8.tar", Megabytes = LargeMegabytes };

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work, string database)
    {
        var catalogueFolder = MakeCatalogue(root, work);
        var catalogue = CatalogueReader.Read(catalogueFolder);
        var standIns = Path.Combine(root, "src/Junctra.StandIns/bin/Release/net10.0/Junctra.StandIns.dll");
        var control = Programs.FreePort();
        var ports = new Dictionary<string, int> { ["A"] = Programs.FreePort(), ["I"] = Programs.FreePort() };
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
            $"--phone-a={ports["A"]}",
            $"--phone-i={ports["I"]}",
            // A phone that restarts takes its own time, which is not that of the write.
            "--pace=1000",
            "--long-pace=2000",
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

            var rows = new List<BenchRow>();
            foreach (var (subject, what) in new[] { (Set, ""), (Bundle, ", a bundle over the download link") })
            {
                var (ours, theirs) = (new List<double>(), new List<double>());
                for (var round = 0; round <= Rounds; round++)
                {
                    Console.WriteLine($"Write{what}, round {round} of {Rounds} ...");
                    var path = await MakeAsync(standIns, work, subject);
                    var seconds = await WriteAsync(databases, catalogue, subject, path, At(subject), http);
                    var plain = await PlainAsync(root, work, path);
                    if (round == 0)
                        continue;
                    ours.Add(seconds);
                    theirs.Add(plain);
                }

                // Rates: the same bytes went both ways. Round by round: what else the machine does then slows both.
                var ratio = BenchRow.Median([.. theirs.Zip(ours, (plain, own) => plain / own)]);
                rows.Add(
                    new BenchRow(
                        $"write {Megabytes} MiB to a simulated phone{what}, rate",
                        "read, digest, send and store by a plain program",
                        BenchRow.Seconds(BenchRow.Median(ours)),
                        BenchRow.Seconds(BenchRow.Median(theirs)),
                        BenchRow.Ratio(ratio),
                        "at least 0.85",
                        ratio >= 0.85
                    )
                );
            }

            Console.WriteLine("Write a bundle of 8 GiB over the download link ...");
            var large = await MakeAsync(standIns, work, LargeBundle);
            var before = PeakBytes(anew: true);
            await WriteAsync(databases, catalogue, LargeBundle, large, At(LargeBundle), http);
            var more = PeakBytes(anew: false) - before;
            rows.Add(
                new BenchRow(
                    "write a bundle of 8 GiB over the download link, peak memory above that of before",
                    "",
                    $"{more / 1e6:0} MB",
                    "",
                    $"{more / 1e6:0} MB",
                    $"at most {PeakBudget / 1e6:0} MB",
                    more <= PeakBudget
                )
            );
            return rows;

            LinkAddress At(Subject subject) => new("127.0.0.1", ports[subject.Phone]);
        }
        finally
        {
            phone.Kill();
            await phone.WaitForExitAsync();
        }
    }

    /// <summary>The most memory that this program had at once, in bytes; since now, where it is asked anew.</summary>
    private static long PeakBytes(bool anew)
    {
        if (anew)
        {
            GC.Collect();
            // Linux: the peak is counted from here.
            File.WriteAllText("/proc/self/clear_refs", "5");
        }

        var line = File.ReadLines("/proc/self/status").First(line => line.StartsWith("VmHWM:", StringComparison.Ordinal));
        return long.Parse(line["VmHWM:".Length..^"kB".Length], System.Globalization.CultureInfo.InvariantCulture) * 1024;
    }

    private static async Task<string> MakeAsync(string standIns, string work, Subject subject)
    {
        var path = Path.Combine(work, subject.File);
        if (!File.Exists(path))
            await Programs.MeasureAsync("dotnet", standIns, subject.Command, path, subject.Megabytes.ToString());
        return path;
    }

    /// <summary>From the first look at the file to the acceptance of the last image, the journal in the database.</summary>
    private static async Task<double> WriteAsync(
        Databases databases,
        ModelCatalogue catalogue,
        Subject subject,
        string path,
        LinkAddress address,
        HttpClient http
    )
    {
        var package = PackageReader.Read(subject.File, await PackageInspector.InspectFileAsync(path), catalogue);
        await Programs.UntilAsync(async () =>
        {
            await http.PostAsync($"/phones/{subject.Phone}/{subject.Hands}", null);
            using var phones = JsonDocument.Parse(await http.GetStringAsync("/phones"));
            return phones.RootElement.GetProperty(subject.Phone).GetProperty("mode").GetString() == subject.Mode.Id();
        });
        var clocks = LinkClocks.From(catalogue.Figures);
        var phone = new Phone((await PhoneReader.ReadAsync(address, clocks, catalogue, DateTimeOffset.UtcNow, "bench")).Facts);
        var outcome = PathList.Compile(new PathCase(phone, package, subject.Erases, catalogue));
        var plan = outcome.Plan ?? throw new InvalidOperationException($"There is no plan: {string.Join(" ", outcome.Refusals)}");
        var journal = new RunJournal(databases, TimeProvider.System);
        await using (var db = databases.CreateDbContext())
        {
            var store = new JobStore(db, TimeProvider.System);
            var job = new JobRow
            {
                Ticket = $"B{await db.Jobs.CountAsync()}",
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
                    PortName = subject.Phone,
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
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.WriteAllText(
                copy,
                Regex.Replace(File.ReadAllText(file), @"role: system, size: (96|192) MiB", $"role: system, size: {LargeMegabytes + 64} MiB")
            );
        }

        return to;
    }

    private sealed class Databases(DbContextOptions<JunctraDb> options) : IDbContextFactory<JunctraDb>
    {
        public JunctraDb CreateDbContext() => new(options);
    }
}
