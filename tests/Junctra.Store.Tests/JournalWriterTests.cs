using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Store.Tests;

/// <summary>A database that goes away in the middle of a run: cut off, or restarted. The wire to it is cut, as a restart would.</summary>
public sealed class JournalWriterTests : IAsyncLifetime
{
    private static readonly Plan Plan = Planned.Plan();
    private TestDatabase database = null!;
    private TcpProxy wire = null!;
    private RunJournal behindWire = null!;
    private RunJournal direct = null!;
    private int runId;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync();
        (wire, var connection) = database.BehindWire();
        behindWire = new RunJournal(new Databases(connection), TimeProvider.System);
        direct = new RunJournal(database, TimeProvider.System);

        await using var db = database.CreateDbContext();
        var store = new JobStore(db, TimeProvider.System);
        var job = new JobRow
        {
            Ticket = "0418",
            Description = "blue case",
            Complaint = "loops",
            TakenInAt = Sample.Noon,
        };
        await store.TakeInAsync(job, "counter");
        var run = new RunRow
        {
            JobId = job.Id,
            PackageId = Plan.Package!.Id,
            Plan = Plan,
            Report = Matcher.Match(Sample.Cairn(), Sample.Package(), Repo.Catalogue),
            PortName = "A",
            Address = "127.0.0.1:1",
            Status = RunStatus.Queued,
            BegunAt = DateTimeOffset.UtcNow,
            QueuedAt = DateTimeOffset.UtcNow,
            BegunBy = "bench",
        };
        Assert.Null(await store.BeginAsync(run));
        runId = run.Id;
        await direct.ClaimAsync("w");
    }

    public async ValueTask DisposeAsync()
    {
        await wire.DisposeAsync();
        await database.DisposeAsync();
    }

    private sealed class Databases(string connection) : IDbContextFactory<JunctraDb>
    {
        public JunctraDb CreateDbContext()
        {
            var options = new DbContextOptionsBuilder<JunctraDb>();
            JunctraDb.Configure(options, connection);
            return new JunctraDb(options.Options);
        }
    }

    private async Task<List<RunEvent>> EventsAsync() => [.. (await direct.ReadAsync(runId)).Skip(2).Select(entry => entry.Event)];

    [Fact]
    public async Task An_event_waits_for_a_database_that_is_away_and_is_written_once()
    {
        var pen = await behindWire.TakePenAsync(runId, "w");
        await pen.WriteAsync(new StepStarted(1, "Verify"));
        wire.Cut();
        var writing = pen.WriteAsync(new StepDone(1));
        await Assert.ThrowsAnyAsync<Exception>(() => behindWire.StopAskedByAsync(runId));
        Assert.False(writing.IsCompleted);
        wire.Mend();
        await writing;
        await pen.WriteAsync(new StepStarted(2, "Read again"));
        Assert.Equal([new StepStarted(1, "Verify"), new StepDone(1), new StepStarted(2, "Read again")], await EventsAsync());
    }

    [Fact]
    public async Task Wherever_the_connection_breaks_no_event_is_lost_or_doubled()
    {
        var random = new Random(5);
        var pen = await behindWire.TakePenAsync(runId, "w");
        List<RunEvent> written = [];
        for (var i = 0; i < 25; i++)
        {
            var what = new PieceAccepted(7, i + 1, 25, i);
            // The answers to one event are some hundred bytes; the cut may fall before, within or after its commit.
            if (i % 2 == 0)
                wire.CutAfter(random.Next(0, 700));
            var writing = pen.WriteAsync(what);
            await Until.TrueAsync(() => Task.FromResult(wire.IsCut || writing.IsCompleted), "the wire is cut or the event stands");
            if (wire.IsCut)
                wire.Mend();
            else
                wire.CutAfter(long.MaxValue);
            await writing;
            written.Add(what);
        }

        Assert.Equal(written, await EventsAsync());
        Assert.Equal(Enumerable.Range(1, 27).Select(seq => (long)seq), (await direct.ReadAsync(runId)).Select(entry => entry.Seq));
    }

    [Fact]
    public async Task The_end_of_a_run_is_written_once_too()
    {
        var pen = await direct.TakePenAsync(runId, "w");
        var end = new RunStopped("bench", "Read it again.");
        await pen.WriteAsync(end);
        // As after a commit whose answer was lost: the same event under the same number.
        await direct.AppendAsync(runId, "w", end, 3);
        await Assert.ThrowsAsync<RunLostException>(() => direct.AppendAsync(runId, "w", new RunFailed("x", "y"), 3));
        Assert.Equal([end], await EventsAsync());
        await using var db = database.CreateDbContext();
        Assert.Equal(RunStatus.Stopped, (await db.Runs.SingleAsync()).Status);
    }

    [Fact]
    public async Task A_pen_that_is_no_longer_the_runs_own_writes_nothing()
    {
        var pen = await direct.TakePenAsync(runId, "somebody else");
        await Assert.ThrowsAsync<RunLostException>(() => pen.WriteAsync(new RunFinished()));
        Assert.Empty(await EventsAsync());
    }

    [Fact]
    public async Task A_wait_can_be_given_up()
    {
        var pen = await behindWire.TakePenAsync(runId, "w");
        wire.Cut();
        using var giveUp = new CancellationTokenSource();
        var writing = pen.WriteAsync(new StepStarted(1, "Verify"), giveUp.Token);
        await giveUp.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => writing);
    }

    [Fact]
    public async Task A_writer_that_is_still_there_is_not_taken_for_gone_however_long_the_database_was()
    {
        var late = new RunJournal(database, new ManualTime(DateTimeOffset.UtcNow + 10 * RunJournal.UsualLease));
        Assert.Empty(await late.FailAbandonedAsync(but: "w"));
        Assert.Equal([runId], await late.FailAbandonedAsync(but: "another"));
    }

    [Fact]
    public async Task A_writer_that_hangs_in_a_transaction_cannot_keep_others_from_ending_its_run()
    {
        await using var hung = database.CreateDbContext();
        await hung.Database.OpenConnectionAsync();
        // The server's own limit, with less patience than the program asks it for.
        await hung.Database.ExecuteSqlRawAsync("set idle_in_transaction_session_timeout = '500ms'");
        await using var transaction = await hung.Database.BeginTransactionAsync();
        await hung.Database.ExecuteSqlAsync($"select 1 from runs where id = {runId} for update");
        hung.RunEvents.Add(
            new RunEventRow
            {
                RunId = runId,
                Seq = 3,
                At = DateTimeOffset.UtcNow,
                Event = new StepStarted(1, "never committed"),
            }
        );
        await hung.SaveChangesAsync();
        var late = new RunJournal(database, new ManualTime(DateTimeOffset.UtcNow + 10 * RunJournal.UsualLease));
        await Until.TrueAsync(async () => (await late.FailAbandonedAsync(but: "another")).Contains(runId), "the run was ended by another");
        Assert.IsType<RunFailed>(Assert.Single(await EventsAsync()));
        await Assert.ThrowsAnyAsync<Exception>(() => transaction.CommitAsync());
        Assert.IsType<RunFailed>(Assert.Single(await EventsAsync()));
    }

    [Fact]
    public async Task Stopping_is_asked_once_and_of_an_open_run_only()
    {
        Assert.Null(await direct.StopAskedByAsync(runId));
        Assert.True(await direct.AskToStopAsync(runId, "bench"));
        Assert.True(await direct.AskToStopAsync(runId, "lead"));
        Assert.Equal("bench", await direct.StopAskedByAsync(runId));
        await direct.AppendAsync(runId, "w", new RunFinished());
        Assert.False(await direct.AskToStopAsync(runId, "bench"));
    }

    [Fact]
    public void A_database_that_says_no_is_not_taken_for_absent()
    {
        Assert.False(
            DatabaseAbsence.Is(new InvalidOperationException("x", new PostgresException("m", "s", "s", PostgresErrorCodes.UniqueViolation)))
        );
        Assert.True(
            DatabaseAbsence.Is(new InvalidOperationException("x", new PostgresException("m", "s", "s", PostgresErrorCodes.AdminShutdown)))
        );
        Assert.True(DatabaseAbsence.Is(new NpgsqlException("gone", new IOException())));
        Assert.False(DatabaseAbsence.Is(new RunLostException(1)));
    }
}
