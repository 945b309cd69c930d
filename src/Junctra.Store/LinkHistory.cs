using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Routes;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

/// <summary>The shop's log of links: cables and computers with their labels, and every try to get a phone seen.</summary>
public sealed class LinkHistory(JunctraDb db, TimeProvider time)
{
    /// <summary>Longest label.</summary>
    public const int MaxCharacters = 40;

    // What long ago mended a link says little of today's cables and drivers.
    private const int MaxTries = 2000;

    /// <summary>Cables and computers that are in use, by label.</summary>
    public async Task<IReadOnlyList<BenchThingRow>> ThingsAsync(CancellationToken cancel) =>
        await db.BenchThings.AsNoTracking().Where(thing => thing.RetiredAt == null).OrderBy(thing => thing.Label).ToListAsync(cancel);

    /// <summary>The tries of the shop, as the link doctor counts them.</summary>
    public async Task<IReadOnlyList<LinkTry>> HistoryAsync(CancellationToken cancel) =>
        [
            .. (await db.LinkTries.AsNoTracking().OrderByDescending(one => one.Id).Take(MaxTries).ToListAsync(cancel)).Select(
                one => new LinkTry(one.Sign, one.Remedy, one.Worked)
            ),
        ];

    /// <summary>The tries for one job, the latest first.</summary>
    public async Task<IReadOnlyList<LinkTryRow>> OfJobAsync(int jobId, CancellationToken cancel) =>
        await db.LinkTries.AsNoTracking().Where(one => one.JobId == jobId).OrderByDescending(one => one.Id).ToListAsync(cancel);

    /// <summary>What each cable or computer has done.</summary>
    public async Task<IReadOnlyList<(BenchThingRow Thing, ThingRecord Record)>> RecordsAsync(CancellationToken cancel)
    {
        var things = await ThingsAsync(cancel);
        var cables = await db
            .LinkTries.Where(one => one.CableId != null)
            .GroupBy(one => new { Id = one.CableId!.Value, one.Worked })
            .Select(group => new
            {
                group.Key.Id,
                group.Key.Worked,
                Count = group.Count(),
            })
            .ToListAsync(cancel);
        var computers = await db
            .LinkTries.Where(one => one.ComputerId != null)
            .GroupBy(one => new { Id = one.ComputerId!.Value, one.Worked })
            .Select(group => new
            {
                group.Key.Id,
                group.Key.Worked,
                Count = group.Count(),
            })
            .ToListAsync(cancel);
        return
        [
            .. things.Select(thing =>
            {
                var of = (thing.Kind == LinkThing.Cable ? cables : computers).Where(count => count.Id == thing.Id).ToList();
                return (
                    thing,
                    new ThingRecord(
                        thing.Label,
                        of.Where(count => count.Worked).Sum(count => count.Count),
                        of.Where(count => !count.Worked).Sum(count => count.Count)
                    )
                );
            }),
        ];
    }

    /// <summary>What each port has done.</summary>
    public async Task<IReadOnlyList<ThingRecord>> PortRecordsAsync(CancellationToken cancel)
    {
        var counts = await db
            .LinkTries.Where(one => one.PortName != null)
            .GroupBy(one => new { Name = one.PortName!, one.Worked })
            .Select(group => new
            {
                group.Key.Name,
                group.Key.Worked,
                Count = group.Count(),
            })
            .ToListAsync(cancel);
        return
        [
            .. counts
                .GroupBy(count => count.Name)
                .OrderBy(group => group.Key, StringComparer.Ordinal)
                .Select(group => new ThingRecord(
                    group.Key,
                    group.Where(count => count.Worked).Sum(count => count.Count),
                    group.Where(count => !count.Worked).Sum(count => count.Count)
                )),
        ];
    }

    /// <summary>Adds a cable or computer.</summary>
    /// <returns>Null, or why not.</returns>
    public async Task<string?> AddAsync(LinkThing kind, string? label, CancellationToken cancel)
    {
        var text = label?.Trim() ?? "";
        if (kind is not (LinkThing.Cable or LinkThing.Computer))
            return "Only cables and computers are added here.";
        if (!ShownText.IsFit(text))
            return "A label is letters, digits and signs that can be seen, in one line.";
        if (text.Length is 0 or > MaxCharacters)
            return $"A label is 1 to {MaxCharacters} characters.";
        if (await db.BenchThings.FirstOrDefaultAsync(thing => thing.Kind == kind && thing.Label == text, cancel) is { } known)
        {
            if (known.RetiredAt is null)
                return $"There is a {kind.ToString().ToLowerInvariant()} {text} already.";
            known.RetiredAt = null;
        }
        else
        {
            db.BenchThings.Add(new BenchThingRow { Kind = kind, Label = text });
        }

        await db.SaveChangesAsync(cancel);
        return null;
    }

    /// <summary>Takes a cable or computer out of use; its record stays.</summary>
    public Task RetireAsync(int id, CancellationToken cancel) =>
        db
            .BenchThings.Where(thing => thing.Id == id && thing.RetiredAt == null)
            .ExecuteUpdateAsync(set => set.SetProperty(thing => thing.RetiredAt, time.GetUtcNow()), cancel);

    /// <summary>Records a try.</summary>
    public async Task RecordAsync(LinkTryRow tried, CancellationToken cancel)
    {
        tried.At = time.GetUtcNow();
        db.LinkTries.Add(tried);
        await db.SaveChangesAsync(cancel);
    }
}
