using Junctra.Store.Operation;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Tests;

/// <summary>Of several web processes one does what only one may do, whoever of them goes.</summary>
public sealed class OwnershipTests : IAsyncLifetime
{
    private static readonly TimeSpan Long = TimeSpan.FromMinutes(10),
        Short = TimeSpan.FromMilliseconds(400);

    private TestDatabase database = null!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync() => database = await TestDatabase.CreateAsync();

    public ValueTask DisposeAsync() => database.DisposeAsync();

    private Ownership Of(string holder, TimeSpan? lease = null, Func<string, bool>? isGone = null) =>
        new(database, holder, lease ?? Long, isGone);

    [Fact]
    public async Task One_has_it_until_it_lets_go()
    {
        var (one, other) = (Of("one"), Of("other"));
        Assert.True(await one.TakeAsync("x", Cancel));
        Assert.True(await one.TakeAsync("x", Cancel));
        Assert.False(await other.TakeAsync("x", Cancel));
        Assert.True(await other.TakeAsync("y", Cancel));
        await other.LetGoAsync("x");
        Assert.False(await other.TakeAsync("x", Cancel));
        await one.LetGoAsync();
        Assert.True(await other.TakeAsync("x", Cancel));
        Assert.False(await one.TakeAsync("x", Cancel));
    }

    [Fact]
    public async Task Whoever_gives_no_sign_of_life_loses_it()
    {
        Assert.True(await Of("hung", Short).TakeAsync("x", Cancel));
        await Until.TrueAsync(() => Of("other").TakeAsync("x", Cancel), "the lease is out");
        Assert.False(await Of("hung").TakeAsync("x", Cancel));
    }

    [Fact]
    public async Task What_a_killed_process_had_is_free_at_once()
    {
        Assert.True(await Of("killed").TakeAsync("x", Cancel));
        Assert.False(await Of("other", isGone: name => name == "somebody").TakeAsync("x", Cancel));
        Assert.True(await Of("other", isGone: name => name == "killed").TakeAsync("x", Cancel));
        Assert.False(await Of("third", isGone: name => name == "killed").TakeAsync("x", Cancel));
    }

    [Fact]
    public async Task Of_many_that_ask_at_once_one_gets_it()
    {
        var got = await Task.WhenAll(Enumerable.Range(0, 12).Select(i => Task.Run(() => Of($"p{i}").TakeAsync("x", Cancel), Cancel)));
        Assert.Single(got, isTaken => isTaken);
    }

    [Fact]
    public async Task Turns_never_overlap_and_everybody_has_one()
    {
        var (inside, most, turns) = (0, 0, 0);
        await Task.WhenAll(
            Enumerable
                .Range(0, 5)
                .Select(i =>
                    Of($"p{i}", Ownership.UsualLease)
                        .InTurnAsync(
                            "x",
                            async cancel =>
                            {
                                most = Math.Max(most, Interlocked.Increment(ref inside));
                                // A lookup of the database each, so that others have a chance to be here.
                                for (var n = 0; n < 5; n++)
                                    Assert.False(await Of("outside").TakeAsync("x", cancel));
                                Interlocked.Decrement(ref inside);
                                Interlocked.Increment(ref turns);
                            },
                            Cancel
                        )
                )
        );
        Assert.Equal((1, 5), (most, turns));
    }

    [Fact]
    public async Task A_turn_that_lasts_is_kept_and_let_go_of_at_its_end()
    {
        await Of("long", Ownership.UsualLease)
            .InTurnAsync(
                "x",
                async cancel =>
                {
                    var first = await UntilAsync();
                    await Until.TrueAsync(async () => await UntilAsync() > first, "the lease is made longer");
                    Assert.False(await Of("other").TakeAsync("x", cancel));
                },
                Cancel
            );
        Assert.True(await Of("other").TakeAsync("x", Cancel));
    }

    private async Task<DateTimeOffset> UntilAsync()
    {
        await using var db = database.CreateDbContext();
        return await db.Owners.Where(row => row.What == "x").Select(row => row.Until).SingleAsync(Cancel);
    }

    [Fact]
    public async Task Whoever_loses_the_turn_is_told()
    {
        var began = new TaskCompletionSource();
        var turn = Of("hung", Short)
            .InTurnAsync(
                "x",
                async cancel =>
                {
                    began.SetResult();
                    await Task.Delay(Timeout.Infinite, cancel);
                },
                Cancel
            );
        await began.Task;
        await using (var db = database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync(
                "update owners set holder = 'other', until = clock_timestamp() + interval '1 hour'",
                Cancel
            );
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => turn);
        Assert.True(await Of("other").TakeAsync("x", Cancel));
    }
}
