using Junctra.Store.Operation;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Tests;

/// <summary>What is done to the audit behind the program's back is noticed; what the program does is not taken for it.</summary>
public sealed class AuditChainTests : IAsyncLifetime
{
    private const int Lines = 12;

    private sealed class Head(byte keyByte = 7) : IAuditHead
    {
        private (long Seq, byte[] Link) last = (0, []);

        public byte[] Key { get; } = [.. Enumerable.Repeat(keyByte, 32)];

        public (long Seq, byte[] Link) Read() => last;

        public void Write(long seq, byte[] link) => last = (seq, link);
    }

    private readonly Head head = new();
    private TestDatabase database = null!;
    private AuditChain chain = null!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync();
        chain = new AuditChain(database, head);
        await AddAsync(Lines);
        Assert.Equal(Lines, await chain.SealAsync(cancel: Cancel));
    }

    public ValueTask DisposeAsync() => database.DisposeAsync();

    private async Task AddAsync(int count)
    {
        await using var db = database.CreateDbContext();
        for (var i = 0; i < count; i++)
            db.Audit.Add(
                new AuditRow
                {
                    // Finer than the database keeps it.
                    At = DateTimeOffset.UnixEpoch.AddYears(56).AddTicks(i * 1234567 + 9),
                    By = $"person-{i % 3}",
                    Act = $"Did “{i}”: é, and a line\u2028that is long. {new string('x', i * 100)}",
                }
            );
        await db.SaveChangesAsync(Cancel);
    }

    private async Task DoAsync(string sql)
    {
        await using var db = database.CreateDbContext();
        Assert.True(await db.Database.ExecuteSqlRawAsync(sql, Cancel) > 0, sql);
    }

    [Fact]
    public async Task What_nobody_touched_is_whole_and_new_lines_wait_until_they_are_sealed()
    {
        Assert.Equal(new AuditCheck(Lines, 0, null), await chain.CheckAsync(Cancel));
        await AddAsync(3);
        Assert.Equal(new AuditCheck(Lines, 3, null), await chain.CheckAsync(Cancel));
        Assert.Equal(3, await chain.SealAsync(cancel: Cancel));
        Assert.Equal(0, await chain.SealAsync(cancel: Cancel));
        Assert.Equal(new AuditCheck(Lines + 3, 0, null), await chain.CheckAsync(Cancel));
    }

    [Theory]
    [InlineData("update audit set act = act || '.' where id = 5")]
    [InlineData("update audit set by = 'somebody' where id = 1")]
    [InlineData("update audit set at = at + interval '1 microsecond' where id = 12")]
    [InlineData("update audit set id = 900 where id = 4")]
    [InlineData("delete from audit where id = 6")]
    [InlineData("delete from audit where id = 12")]
    [InlineData("delete from audit")]
    [InlineData("update audit a set act = b.act from audit b where a.id + b.id = 7 and a.id in (3, 4)")]
    // With the seals, too.
    [InlineData("with gone as (delete from audit where id = 12) delete from audit_seals where audit_id = 12")]
    [InlineData("with gone as (delete from audit where id = 6) delete from audit_seals where audit_id = 6")]
    [InlineData("with gone as (delete from audit) delete from audit_seals")]
    [InlineData("update audit_seals set line = link where seq = 2")]
    [InlineData("update audit_seals set audit_id = 900 where seq = 2")]
    [InlineData("insert into audit_seals select 13, audit_id, line, link from audit_seals where seq = 12")]
    [InlineData("with gone as (delete from audit where id = 6) update audit_seals set audit_id = 5 where audit_id = 6")]
    public async Task Whatever_is_done_with_access_to_the_database_alone_is_noticed(string sql)
    {
        await DoAsync(sql);
        Assert.NotNull((await chain.CheckAsync(Cancel)).Problem);
        // Nor is it forgotten once the program has gone on.
        await AddAsync(2);
        await chain.SealAsync(cancel: Cancel);
        Assert.NotNull((await chain.CheckAsync(Cancel)).Problem);
    }

    [Theory, InlineData(""), InlineData(" where seq > 3")]
    public async Task Seals_that_are_taken_away_alone_are_missed_until_they_are_made_again_as_they_were(string which)
    {
        await DoAsync("delete from audit_seals" + which);
        Assert.NotNull((await chain.CheckAsync(Cancel)).Problem);
        await chain.SealAsync(cancel: Cancel);
        Assert.Equal(new AuditCheck(Lines, 0, null), await chain.CheckAsync(Cancel));
        // Not where a line was changed meanwhile.
        await DoAsync("delete from audit_seals" + which);
        await DoAsync("update audit set act = 'Did nothing' where id = 7");
        await chain.SealAsync(cancel: Cancel);
        Assert.NotNull((await chain.CheckAsync(Cancel)).Problem);
    }

    [Fact]
    public async Task Lines_that_the_program_itself_changes_are_sealed_anew()
    {
        await AddAsync(1);
        await using (var db = database.CreateDbContext())
        {
            // Two that are sealed, and one that is not yet.
            var lines = await db.Audit.Where(line => line.Id == 3 || line.Id == 9 || line.Id == Lines + 1).ToListAsync(Cancel);
            foreach (var line in lines)
                line.Act = "(removed)";
            await using var transaction = await db.Database.BeginTransactionAsync(Cancel);
            await db.SaveChangesAsync(Cancel);
            await chain.SealAnewAsync(db, lines, Cancel);
            await transaction.CommitAsync(Cancel);
        }

        Assert.Equal(new AuditCheck(Lines + 2, 1, null), await chain.CheckAsync(Cancel));
        await chain.SealAsync(cancel: Cancel);
        Assert.Equal(new AuditCheck(Lines + 3, 0, null), await chain.CheckAsync(Cancel));
        // And whoever puts the old words back is noticed again.
        await DoAsync("update audit set act = 'Did' where id = 3");
        Assert.NotNull((await chain.CheckAsync(Cancel)).Problem);
    }

    [Fact]
    public async Task A_look_near_the_end_finds_what_is_new()
    {
        await AddAsync(4);
        Assert.Equal(4, await chain.SealAsync(onlyLate: true, Cancel));
        Assert.Equal(new AuditCheck(Lines + 4, 0, null), await chain.CheckAsync(Cancel));
    }

    [Fact]
    public async Task A_chain_of_another_key_is_none()
    {
        Assert.NotNull((await new AuditChain(database, new Head(8)).CheckAsync(Cancel)).Problem);
    }

    [Fact]
    public async Task Processes_that_seal_at_once_make_one_chain()
    {
        await AddAsync(300);
        await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => Task.Run(() => chain.SealAsync(cancel: Cancel), Cancel)));
        Assert.Equal(new AuditCheck(Lines + 300, 0, null), await chain.CheckAsync(Cancel));
    }
}
