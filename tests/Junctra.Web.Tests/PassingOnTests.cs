using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>Of two web processes, work that only one does passes on to the other when the one is killed.</summary>
[Trait("Turn", "8")]
public sealed class PassingOnTests() : TwoNodesBench(keepsTimetable: true)
{
    [Fact]
    public async Task What_the_one_did_the_other_does_once_the_one_is_gone()
    {
        await OwnersPassOnAsync();
        await DownloadsGoOnAsync();
    }

    /// <summary>What only one does is done by the other; both serve, and both say who it is.</summary>
    private async Task OwnersPassOnAsync()
    {
        await Until.TrueAsync(
            async () =>
                (await AskAsync(db => db.Owners.Select(row => row.What).ToListAsync(Cancel))) is var all
                && all.Contains("timetable")
                && all.Contains("audit"),
            "somebody does what only one does"
        );
        var owner = NodeOf(
            await AskAsync(db => db.Owners.Where(row => row.What == "timetable").Select(row => row.Holder).SingleAsync(Cancel))
        );
        var other = 1 - owner;
        await Nodes[owner].KillAsync();
        await Until.TrueAsync(
            async () =>
                await AskAsync(db => db.Owners.Where(row => row.What == "timetable").Select(row => row.Holder).SingleOrDefaultAsync(Cancel))
                    is { } holder
                && NodeOf(holder) == other,
            "the other makes the timetable"
        );
        Assert.Contains("timetable", await Nodes[other].GetAsync("/operation"));
        // What people do at the one that is left is sealed all the same.
        await Nodes[other].PostAsync("/account", "Token", ("tokenName", "for two"));
        await Until.TrueAsync(
            async () =>
                await AskAsync(db =>
                    db.Audit.AnyAsync(line => line.Act.Contains("for two") && db.AuditSeals.Any(seal => seal.AuditId == line.Id), Cancel)
                ),
            "the audit is sealed"
        );
        await Nodes[owner].StartAsync();
    }

    private async Task DownloadsGoOnAsync()
    {
        await Nodes[0].PostAsync("/sources", "Read");
        var file = await AskAsync(db =>
            db.MirrorFiles.Where(f => f.SizeBytes > 2_000_000)
                .OrderBy(f => f.SizeBytes)
                .Select(f => new { f.Id, f.SizeBytes })
                .FirstAsync(Cancel)
        );
        await Nodes[0].PostAsync("/sources", "Fetch", ("file", $"{file.Id}"));
        async Task<ArrivalRow> ArrivalAsync() =>
            await AskAsync(db => db.Arrivals.AsNoTracking().OrderByDescending(a => a.CreatedAt).FirstAsync(Cancel));
        await Until.TrueAsync(async () => await ArrivalAsync() is { Worker: not null, BytesDone: > 0 }, "a node fetches it");
        var worker = NodeOf((await ArrivalAsync()).Worker!);
        await Nodes[worker].KillAsync();
        await Until.TrueAsync(async () => (await ArrivalAsync()).State == ArrivalState.Done, "the other has fetched it");
        var done = await ArrivalAsync();
        Assert.Equal(file.SizeBytes, done.SizeBytes);
        Assert.True(File.Exists(Path.Combine(Folder, "store", "content", done.PackageId![..2], done.PackageId)));
    }
}
