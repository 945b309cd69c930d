using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Tests;

/// <summary>Runs, leases and journals on the real server.</summary>
public sealed class JournalTests : IAsyncLifetime
{
    private static readonly Plan Plan = Planned.Plan();
    private static readonly int FirstWrite = Plan.Steps.First(s => s.IsWrite()).Number;
    private readonly ManualTime time = new(Sample.Noon);
    private TestDatabase database = null!;
    private RunJournal journal = null!;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync();
        journal = new RunJournal(database, time);
    }

    public ValueTask DisposeAsync() => database.DisposeAsync();

    private async Task<int> BeginAsync(string ticket, string port)
    {
        await using var db = database.CreateDbContext();
        var store = new JobStore(db, time);
        var job = NewJob(ticket);
        job.Facts.AddRange(Sample.Cairn().All.Select(FactRow.Of));
        Assert.True(await store.TakeInAsync(job, "counter"));
        Assert.Null(await store.BeginAsync(NewRun(job.Id, port)));
        return (await db.Runs.SingleAsync(r => r.JobId == job.Id)).Id;
    }

    /// <summary>Begins another run for a job, which is taken in where it is not there yet; why it cannot, or null.</summary>
    private async Task<string?> TryBeginAsync(string ticket, string port)
    {
        await using var db = database.CreateDbContext();
        if (await db.Jobs.SingleOrDefaultAsync(job => job.Ticket == ticket) is not { } row)
        {
            row = NewJob(ticket);
            db.Jobs.Add(row);
            await db.SaveChangesAsync();
        }

        return await new JobStore(db, time).BeginAsync(NewRun(row.Id, port));
    }

    private static JobRow NewJob(string ticket) =>
        new()
        {
            Ticket = ticket,
            Description = "blue case",
            Complaint = "loops",
            TakenInAt = Sample.Noon,
        };

    private RunRow NewRun(int jobId, string port) =>
        new()
        {
            JobId = jobId,
            PackageId = Plan.Package!.Id,
            Plan = Plan,
            Report = Matcher.Match(Sample.Cairn(), Sample.Package(), Repo.Catalogue),
            PortName = port,
            Address = "127.0.0.1:1",
            Status = RunStatus.Queued,
            BegunAt = time.GetUtcNow(),
            QueuedAt = time.GetUtcNow(),
            BegunBy = "bench",
        };

    [Fact]
    public async Task A_run_is_claimed_once_however_many_writers_reach_for_it()
    {
        for (var i = 0; i < 4; i++)
            await BeginAsync($"04{i:00}", $"P{i}");
        var claimed = await Task.WhenAll(Enumerable.Range(0, 12).Select(i => journal.ClaimAsync($"writer {i}")));
        Assert.Equal(4, claimed.Count(run => run is not null));
        Assert.Equal(4, claimed.OfType<RunRow>().Select(run => run.Id).Distinct().Count());
        Assert.Null(await journal.ClaimAsync("late"));
    }

    [Fact]
    public async Task A_frozen_plan_and_every_event_come_back_as_they_went_in()
    {
        var id = await BeginAsync("0418", "A");
        var run = (await journal.ClaimAsync("w"))!;
        // But for what was to be read before it was begun.
        Assert.Equivalent(Plan with { Rehearsal = Plan.Rehearsal with { OpenFacts = [] } }, run.Plan, strict: true);
        Assert.Equal(Verdict.Go, run.Report!.Verdict);
        RunEvent[] all =
        [
            new StepStarted(1, "Verify"),
            new TargetConfirmed(Plan.Target),
            new BytesSent(3, 17),
            new WriteAsked(3, 1, 2),
            new PieceAccepted(3, 1, 2, 99),
            new ImageAccepted(3, "boot", "ab"),
            new PartitionErased(12, "userdata"),
            new RestartAsked(4, true),
            new PhoneBack(4, "HXA70431"),
            new PhoneSaid("writing “boot”"),
            new StepDone(1),
            new RunFinished(),
        ];
        foreach (var what in all)
            await journal.AppendAsync(id, "w", what);
        var entries = await journal.ReadAsync(id);
        Assert.Equal(Enumerable.Range(1, all.Length + 2).Select(i => (long)i), entries.Select(e => e.Seq));
        Assert.Equal([new RunQueued("bench", "A"), new RunStarted("w"), .. all], entries.Select(e => e.Event));
        Assert.Equal(all[^2..], (await journal.ReadAsync(id, after: entries.Count - 2)).Select(e => e.Event));
    }

    [Fact]
    public async Task Only_the_writer_that_holds_a_run_may_add_to_it()
    {
        var id = await BeginAsync("0418", "A");
        await journal.ClaimAsync("right");
        await Assert.ThrowsAsync<RunLostException>(() => journal.AppendAsync(id, "wrong", new RunFinished()));
        Assert.Equal(2, (await journal.ReadAsync(id)).Count);
    }

    [Fact]
    public async Task A_claim_whose_answer_was_lost_is_given_to_the_same_writer_and_to_nobody_else()
    {
        var id = await BeginAsync("0418", "A");
        Assert.Equal(id, (await journal.ClaimAsync("w"))!.Id);
        Assert.Null(await journal.ClaimAsync("another"));
        Assert.Null(await journal.ClaimAsync("w", known: [id]));
        Assert.Equal(id, (await journal.ClaimAsync("w", known: []))!.Id);
        Assert.Equal([new RunQueued("bench", "A"), new RunStarted("w")], (await journal.ReadAsync(id)).Select(e => e.Event));
        // The writer is there; what it does not go on with is ended all the same.
        time.Advance(RunJournal.UsualLease * 2);
        Assert.Empty(await journal.FailAbandonedAsync(but: "w"));
        Assert.Equal([id], await journal.FailAbandonedAsync(but: "w", brokeOff: [id]));
    }

    [Fact]
    public async Task A_run_whose_writer_has_gone_is_ended_and_never_taken_up_again()
    {
        var id = await BeginAsync("0418", "A");
        await journal.ClaimAsync("gone");
        await journal.AppendAsync(id, "gone", new StepStarted(FirstWrite, "Write bootloader"));
        await journal.AppendAsync(id, "gone", new WriteAsked(FirstWrite, 1, 1));
        time.Advance(RunJournal.UsualLease / 2);
        Assert.Empty(await journal.FailAbandonedAsync());
        Assert.True(await journal.RenewAsync(id, "gone"));
        time.Advance(RunJournal.UsualLease * 0.9);
        Assert.Empty(await journal.FailAbandonedAsync());
        time.Advance(RunJournal.UsualLease);
        Assert.Equal([id], await journal.FailAbandonedAsync());

        var state = RunState.Of(Plan, await journal.ReadAsync(id));
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains("Perhaps half written: bootloader", state.PhoneNow);
        Assert.Null(await journal.ClaimAsync("next"));
        Assert.False(await journal.RenewAsync(id, "gone"));
        await Assert.ThrowsAsync<RunLostException>(() => journal.AppendAsync(id, "gone", new StepDone(FirstWrite)));
        Assert.Empty(await journal.FailAbandonedAsync());
    }

    [Fact]
    public async Task A_run_that_waits_for_hands_is_held_by_nobody_taken_by_nobody_and_ended_by_nobody()
    {
        var id = await BeginAsync("0419", "B");
        await journal.ClaimAsync("w");
        await journal.AppendAsync(id, "w", new StepStarted(2, "Hands"));
        await journal.AppendAsync(id, "w", new HandsWanted(2, "Hands", "off"));
        time.Advance(TimeSpan.FromHours(5));
        Assert.Empty(await journal.FailAbandonedAsync());
        Assert.Null(await journal.ClaimAsync("another"));
        // Its job and its port are held all the same, and its old writer has no word any more.
        Assert.NotNull(await TryBeginAsync("0419", "C"));
        Assert.NotNull(await TryBeginAsync("0420", "B"));
        await Assert.ThrowsAsync<RunLostException>(() => journal.AppendAsync(id, "w", new StepDone(2)));

        Assert.False(await journal.SayAsync(id, new HandsSaid(3, "bench", "off", true)));
        var said = await Task.WhenAll(
            Enumerable.Range(0, 4).Select(_ => journal.SayAsync(id, new HandsSaid(2, "bench", "stock-recovery", true)))
        );
        Assert.Single(said, taken => taken);
        Assert.Empty(await journal.FailAbandonedAsync());
        Assert.Equal(id, (await journal.ClaimAsync("another"))!.Id);
    }

    [Fact]
    public async Task A_run_that_waits_for_hands_ends_at_once_when_somebody_stops_it()
    {
        var id = await BeginAsync("0419", "B");
        await journal.ClaimAsync("w");
        await journal.AppendAsync(id, "w", new HandsWanted(2, "Hands", "off"));
        Assert.True(await journal.AskToStopAsync(id, "bench"));
        Assert.IsType<RunStopped>((await journal.ReadAsync(id))[^1].Event);
        Assert.False(await journal.SayAsync(id, new HandsSaid(2, "bench", "off", true)));
        Assert.Null(await TryBeginAsync("0419", "B"));
    }

    [Fact]
    public async Task A_run_that_no_writer_took_in_time_is_never_written()
    {
        var id = await BeginAsync("0418", "A");
        time.Advance(RunJournal.UsualLease * 0.9);
        Assert.Empty(await journal.FailAbandonedAsync());
        time.Advance(RunJournal.UsualLease);
        Assert.Null(await journal.ClaimAsync("late"));
        Assert.Equal([id], await journal.FailAbandonedAsync());
        var state = RunState.Of(Plan, await journal.ReadAsync(id));
        Assert.Equal(
            (RunStatus.Failed, "No writer took this run in time.", false),
            (state.Status, state.WhatHappened, state.HasTouchedPhone)
        );
    }

    [Fact]
    public async Task A_write_makes_earlier_readings_void_in_the_transaction_that_ends_it()
    {
        var id = await BeginAsync("0418", "A");
        await journal.ClaimAsync("w");
        await journal.AppendAsync(id, "w", new StepStarted(FirstWrite, "Write bootloader"));
        await journal.AppendAsync(id, "w", new WriteAsked(FirstWrite, 1, 1));
        time.Advance(TimeSpan.FromMinutes(3));
        await journal.AppendAsync(id, "w", new RunFailed("The link broke.", "Again."));
        await using var db = database.CreateDbContext();
        // The boot chain was touched, the system was not: its build and its version are still what they were.
        var counting = (await db.Facts.ToListAsync()).Where(f => f.Counts).Select(f => f.Name).Order();
        Assert.Equal(
            [FactName.Build.Value, FactName.ModelCode.Value, FactName.OsVersion.Value, FactName.RadioBuild.Value, FactName.Serial.Value],
            counting
        );
    }

    [Fact]
    public async Task A_run_that_never_touched_the_phone_voids_nothing()
    {
        var id = await BeginAsync("0418", "A");
        await journal.ClaimAsync("w");
        await journal.AppendAsync(id, "w", new StepStarted(1, "Verify"));
        await journal.AppendAsync(id, "w", new RunFailed("The file has changed.", "Get it again."));
        await using var db = database.CreateDbContext();
        Assert.All(await db.Facts.ToListAsync(), f => Assert.True(f.Counts));
    }

    [Fact]
    public async Task One_port_and_one_job_have_one_open_run()
    {
        var id = await BeginAsync("0418", "A");
        await using var db = database.CreateDbContext();
        var store = new JobStore(db, time);
        var other = NewJob("0419");
        await store.TakeInAsync(other, "counter");
        Assert.Contains("already going on", await store.BeginAsync(NewRun(other.Id, "A")));
        var first = await db.Runs.AsNoTracking().SingleAsync(r => r.Id == id);
        Assert.Contains("already going on", await store.BeginAsync(NewRun(first.JobId, "B")));
        await journal.ClaimAsync("w");
        await journal.AppendAsync(id, "w", new RunFailed("x", "y"));
        Assert.Null(await store.BeginAsync(NewRun(other.Id, "A")));
    }

    [Fact]
    public async Task A_ticket_is_given_once()
    {
        await using var db = database.CreateDbContext();
        var store = new JobStore(db, time);
        Assert.True(await store.TakeInAsync(NewJob("0500"), "counter"));
        Assert.False(await store.TakeInAsync(NewJob("0500"), "counter"));
        Assert.True(await store.TakeInAsync(NewJob("0501"), "counter"));
    }

    [Fact]
    public async Task Two_people_changing_one_job_are_told_apart()
    {
        await using var mine = database.CreateDbContext();
        await new JobStore(mine, time).TakeInAsync(NewJob("0500"), "counter");
        await using var yours = database.CreateDbContext();
        var (a, b) = (await mine.Jobs.SingleAsync(), await yours.Jobs.SingleAsync());
        a.Description = "mine";
        await mine.SaveChangesAsync();
        b.Description = "yours";
        await Assert.ThrowsAsync<DbUpdateConcurrencyException>(() => yours.SaveChangesAsync());
    }

    [Fact]
    public async Task A_withdrawn_fact_stays_in_the_history_and_in_the_audit()
    {
        await using var db = database.CreateDbContext();
        var store = new JobStore(db, time);
        var job = NewJob("0500");
        await store.TakeInAsync(job, "counter");
        await store.AddFactsAsync(job, [Sample.Fact(FactName.ModelCode, "HX204C", FactSource.Label)]);
        Assert.True(await store.WithdrawAsync(job, job.Facts[0].Id, "bench"));
        Assert.False(await store.WithdrawAsync(job, job.Facts[0].Id, "bench"));
        await using var again = database.CreateDbContext();
        Assert.False((await again.Facts.SingleAsync()).Counts);
        Assert.Contains(await again.Audit.ToListAsync(), a => a.Act.Contains("HX204C") && a.By == "bench");
    }
}
