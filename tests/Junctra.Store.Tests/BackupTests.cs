using System.Diagnostics;
using System.Security.Cryptography;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Store.Tests;

/// <summary>A shop that is backed up, lost, and restored into a fresh place by the scripts of <c>deploy/</c>.</summary>
public sealed class BackupTests : IAsyncLifetime
{
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-backup-").FullName;
    private readonly string restored = "restored_" + Guid.NewGuid().ToString("N");
    private TestDatabase shop = null!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private string Backup => Path.Combine(folder, "backup");

    public async ValueTask InitializeAsync() => shop = await TestDatabase.CreateAsync();

    public async ValueTask DisposeAsync()
    {
        await shop.DisposeAsync();
        await AdministerAsync($"drop database if exists {restored} with (force)");
        Directory.Delete(folder, true);
    }

    private async Task AdministerAsync(string command)
    {
        await using var server = NpgsqlDataSource.Create(new NpgsqlConnectionStringBuilder(shop.Connection) { Database = "postgres" });
        await using var act = server.CreateCommand(command);
        await act.ExecuteNonQueryAsync(CancellationToken.None);
    }

    private async Task<bool> IsThereAsync(string database)
    {
        await using var server = NpgsqlDataSource.Create(new NpgsqlConnectionStringBuilder(shop.Connection) { Database = "postgres" });
        await using var ask = server.CreateCommand("select exists (select from pg_database where datname = $1)");
        ask.Parameters.Add(new NpgsqlParameter { Value = database });
        return (bool)(await ask.ExecuteScalarAsync(Cancel))!;
    }

    private async Task<(int Code, string Said)> RunAsync(string script, string database, string? keys = null, string? from = null)
    {
        var connection = new NpgsqlConnectionStringBuilder(shop.Connection);
        var start = new ProcessStartInfo(Path.Combine(Repo.Root, "deploy", script), [from ?? Backup])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["PGHOST"] = connection.Host;
        start.Environment["PGPORT"] = $"{connection.Port}";
        start.Environment["PGUSER"] = connection.Username;
        start.Environment["PGPASSWORD"] = connection.Password;
        start.Environment["PGDATABASE"] = database;
        if (keys is not null)
            start.Environment["JUNCTRA_KEYS"] = keys;
        using var process = Process.Start(start)!;
        var (said, wrong) = (process.StandardOutput.ReadToEndAsync(Cancel), process.StandardError.ReadToEndAsync(Cancel));
        await process.WaitForExitAsync(Cancel);
        return (process.ExitCode, await said + await wrong);
    }

    private string Database => new NpgsqlConnectionStringBuilder(shop.Connection).Database!;

    private JunctraDb Restored()
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(
            options,
            new NpgsqlConnectionStringBuilder(shop.Connection) { Database = restored, Pooling = false }.ConnectionString
        );
        return new JunctraDb(options.Options);
    }

    private async Task FillAsync()
    {
        await using var db = shop.CreateDbContext();
        var job = new JobRow
        {
            Ticket = "0301",
            Description = "blue case",
            Complaint = "loops; “Zoë”, \n two lines",
            TakenInAt = Sample.Noon.AddTicks(10),
        };
        job.Facts.AddRange(Sample.Cairn().All.Select(FactRow.Of));
        db.Jobs.Add(job);
        var package = Sample.Package();
        var row = new PackageRow
        {
            Id = package.Id,
            FileName = package.FileName,
            Contents = package.Contents,
        };
        row.Describe(package, "test");
        db.Packages.Add(row);
        await db.SaveChangesAsync(Cancel);
        var run = new RunRow
        {
            JobId = job.Id,
            Plan = Planned.Plan(),
            PortName = "A",
            Address = "tcp:127.0.0.1:1",
            BegunAt = Sample.Noon,
            QueuedAt = Sample.Noon,
            BegunBy = "bench",
        };
        Assert.Null(await new JobStore(db, new ManualTime(Sample.Noon)).BeginAsync(run, Cancel));
    }

    [Fact]
    public async Task Every_job_run_fact_and_digest_is_there_again_and_the_keys_beside_them()
    {
        await FillAsync();
        var keys = Directory.CreateDirectory(Path.Combine(folder, "keys")).FullName;
        await File.WriteAllTextAsync(Path.Combine(keys, "key"), "sealed", Cancel);
        var (code, said) = await RunAsync("backup", Database, keys);
        Assert.True(code == 0, said);
        Assert.Contains("1 packages named", said);

        // The shop goes on meanwhile: what comes later is in no backup of before.
        await using (var db = shop.CreateDbContext())
            await db.Facts.ExecuteDeleteAsync(Cancel);
        var again = Path.Combine(folder, "keys-again");
        (code, said) = await RunAsync("restore", restored, again);
        Assert.True(code == 0, said);
        Assert.Equal("sealed", await File.ReadAllTextAsync(Path.Combine(again, "key"), Cancel));
        await using var then = Restored();
        var job = await then.Jobs.Include(row => row.Facts).Include(row => row.Runs).AsNoTracking().SingleAsync(Cancel);
        Assert.Equal(("loops; “Zoë”, \n two lines", Sample.Noon.AddTicks(10)), (job.Complaint, job.TakenInAt));
        Assert.Equal(
            Sample.Cairn().All.Select(fact => $"{fact.Name.Value} {fact.Value}").Order(),
            job.Facts.Select(row => row.ToFact()).Select(fact => $"{fact.Name.Value} {fact.Value}").Order()
        );
        Assert.Equal(Planned.Plan().Key, Assert.Single(job.Runs).Plan.Key);
        Assert.NotEmpty(await then.RunEvents.ToListAsync(Cancel));
        Assert.Equal(Sample.Package().Id, (await then.Packages.AsNoTracking().SingleAsync(Cancel)).Id);
        Assert.Empty(await then.Database.GetPendingMigrationsAsync(Cancel));
    }

    [Fact]
    public async Task Nothing_is_written_over_and_a_backup_that_is_damaged_half_or_not_the_same_is_refused()
    {
        await FillAsync();
        Assert.Equal(0, (await RunAsync("backup", Database)).Code);
        var (code, said) = await RunAsync("backup", Database);
        Assert.True(code == 1 && said.Contains("is not empty"), said);
        (code, said) = await RunAsync("restore", Database);
        Assert.True(code == 1 && said.Contains("there already"), said);

        // A tally that tells of another row: what came back is not what was there, and is taken away again.
        var tally = Path.Combine(Backup, "tally.txt");
        await File.AppendAllTextAsync(tally, "zebras 1 1\n", Cancel);
        (code, said) = await RunAsync("restore", restored);
        Assert.True(code == 1 && said.Contains("damaged"), said);
        await SumAsync();
        (code, said) = await RunAsync("restore", restored);
        Assert.True(code == 1 && said.Contains("not what was backed up"), said);
        Assert.False(await IsThereAsync(restored));

        var dump = Path.Combine(Backup, "database.dump");
        await File.WriteAllBytesAsync(dump, (await File.ReadAllBytesAsync(dump, Cancel))[..2000], Cancel);
        await SumAsync();
        (code, said) = await RunAsync("restore", restored);
        Assert.True(code == 1 && said.Contains("could not be read in"), said);
        Assert.False(await IsThereAsync(restored));
        File.Delete(Path.Combine(Backup, "SHA256SUMS"));
        Assert.Contains("not finished", (await RunAsync("restore", restored)).Said);
        (code, said) = await RunAsync("backup", "no_such_shop", from: Path.Combine(folder, "nothing"));
        Assert.True(code == 1, said);
        Assert.False(File.Exists(Path.Combine(folder, "nothing", "SHA256SUMS")));
    }

    private async Task SumAsync()
    {
        var sums = new List<string>();
        foreach (var file in Directory.EnumerateFiles(Backup).Where(file => !file.EndsWith("SHA256SUMS", StringComparison.Ordinal)))
            sums.Add(
                $"{Convert.ToHexStringLower(SHA256.HashData(await File.ReadAllBytesAsync(file, Cancel)))}  ./{Path.GetFileName(file)}"
            );
        await File.WriteAllLinesAsync(Path.Combine(Backup, "SHA256SUMS"), sums, Cancel);
    }
}
