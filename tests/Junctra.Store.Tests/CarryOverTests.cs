using System.IO.Compression;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Junctra.Store.Tests;

/// <summary>
/// A dump of a demo database with five runs, of the time before plans were made of acts: all of it is there afterwards, and reads as it
/// did.
/// </summary>
public class CarryOverTests
{
    private const string LastMigrationBefore = "20261128063523_EndedSignIns";

    private static async Task<TestDatabase> LoadAsync()
    {
        var database = await TestDatabase.CreateAsync(migrate: false);
        await using (var before = database.CreateDbContext())
            await before.GetService<IMigrator>().MigrateAsync(LastMigrationBefore);
        await using (
            var packed = new GZipStream(
                File.OpenRead(Path.Combine(Repo.Root, "tests", "Junctra.Store.Tests", "Dumps", "demo-with-runs-of-plan-version-1.sql.gz")),
                CompressionMode.Decompress
            )
        )
        {
            using var reader = new StreamReader(packed);
            // The names of tables stand in it without the quotes that parameters would need; it holds no placeholder.
            await using var db = database.CreateDbContext();
            await using var command = db.Database.GetDbConnection().CreateCommand();
            command.CommandText = await reader.ReadToEndAsync();
            await db.Database.OpenConnectionAsync();
            await command.ExecuteNonQueryAsync();
        }

        await using var after = database.CreateDbContext();
        await after.Database.MigrateAsync();
        return database;
    }

    [Fact]
    public async Task Runs_of_the_first_version_fold_as_before()
    {
        await using var database = await LoadAsync();
        await using var db = database.CreateDbContext();
        var journal = new RunJournal(database, TimeProvider.System);
        var runs = await db.Runs.Include(run => run.Job).OrderBy(run => run.Id).ToListAsync();
        Assert.Equal(
            [RunStatus.Finished, RunStatus.Stopped, RunStatus.Finished, RunStatus.Failed, RunStatus.Finished],
            runs.Select(run => run.Status)
        );
        foreach (var run in runs)
        {
            var state = RunState.Of(run.Plan, await journal.ReadAsync(run.Id));
            Assert.Equal(run.Status, state.Status);
            Assert.Equal((1, "F", "HX204"), (run.Plan.Version, run.Plan.Choice.Path, run.Plan.Target.ModelCode));
            Assert.Equal(run.PackageId, run.Plan.Package!.Id);
            Assert.Equal(run.BegunAt, run.QueuedAt);
            Assert.True(run.Plan.RiskOf(run.Plan.Steps.First(step => step.Act is WriteImage { Image.Partition: "bootloader" })).IsNoReturn);
            Assert.NotEmpty(run.Plan.Rehearsal.Fates);
            Assert.Contains(run.Plan.Rehearsal.Expectations, expected => expected.Fact == FactName.Serial);
            if (run.Status != RunStatus.Finished)
                continue;
            Assert.Equal(1, state.Progress);
            Assert.Equal(["boot", "bootloader", "overlay", "radio", "recovery", "system", "verify"], state.Accepted.Keys.Order());
            Assert.Equal(run.Plan.ErasesData, state.Erased.Contains("userdata"));
        }

        var stopped = RunState.Of(runs[1].Plan, await journal.ReadAsync(runs[1].Id));
        Assert.Contains("asked for it", stopped.WhatHappened);
        Assert.Contains("Accepted whole: bootloader", stopped.PhoneNow);
        var failed = RunState.Of(runs[3].Plan, await journal.ReadAsync(runs[3].Id));
        Assert.Contains("Not begun", failed.PhoneNow);
        Assert.NotEqual(WriteTouch.None, failed.TouchedBy);
    }

    [Fact]
    public async Task Answers_of_before_hold_for_no_plan_of_now_and_are_still_there()
    {
        await using var database = await LoadAsync();
        await using var db = database.CreateDbContext();
        var answers = await db.Answers.ToListAsync();
        Assert.NotEmpty(answers);
        Assert.All(answers, answer => Assert.Null(answer.PlanKey));
        Assert.All(answers, answer => Assert.NotNull(answer.PackageId));
    }

    [Fact]
    public async Task What_is_read_of_the_first_version_is_written_and_read_as_the_same()
    {
        await using var database = await LoadAsync();
        await using var db = database.CreateDbContext();
        foreach (var run in await db.Runs.AsNoTracking().ToListAsync())
        {
            var again = PlanVersions.Read(System.Text.Json.JsonSerializer.Serialize(run.Plan, StoreJson.Options));
            Assert.Equivalent(run.Plan, again, strict: true);
            Assert.Equal(run.Plan.Key, again.Key);
        }
    }
}
