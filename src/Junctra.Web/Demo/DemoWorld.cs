using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Formats.Text;
using Junctra.Schedule;
using Junctra.Store;
using Junctra.Web.Library.Arrivals;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Demo;

/// <summary>The demo world's jobs and ports; written once, when demo ports are set and the bench is empty.</summary>
internal static class DemoWorld
{
    private const string Counter = "counter";

    public static async Task SeedAsync(IServiceProvider services)
    {
        var options = services.GetRequiredService<IOptions<JunctraOptions>>().Value;
        if (options.DemoPorts.Count == 0)
            return;
        var db = services.GetRequiredService<JunctraDb>();
        foreach (var (name, address) in options.DemoPorts)
        {
            if (await db.Ports.FindAsync(name) is { } port)
                port.Address = address;
            else
                db.Ports.Add(new PortRow { Name = name, Address = address });
        }

        foreach (var (name, address) in options.DemoMirrors)
        {
            if (await db.Mirrors.SingleOrDefaultAsync(m => m.Name == name) is { } mirror)
                mirror.BaseAddress = address;
            else
                db.Mirrors.Add(
                    new MirrorRow
                    {
                        Name = name,
                        BaseAddress = address,
                        IndexForm = MirrorIndex.JsonForm,
                        IndexPath = "index.json",
                        NeedsTicket = name == "Drift",
                        PublishesChecksums = name == "Breakwater",
                    }
                );
        }

        // The lists that the makers of the demo world sent to the shop.
        var makers = Path.Combine(options.Library, ".published.sha256");
        if (
            File.Exists(makers)
            && !await db.PublishedDigests.AnyAsync()
            && ChecksumText.Read(await File.ReadAllTextAsync(makers), isNamedAsList: true) is { } list
        )
        {
            db.PublishedDigests.AddRange(
                list.Lines.Select(line => new PublishedDigestRow
                {
                    FileName = line.FileName,
                    Digest = line.Digest,
                    From = "the makers' list",
                    At = services.GetRequiredService<TimeProvider>().GetUtcNow(),
                    By = "lead",
                    IsTrusted = true,
                })
            );
        }

        if (!await db.BenchThings.AnyAsync())
        {
            foreach (
                var (kind, label) in new[]
                {
                    (LinkThing.Cable, "red, short"),
                    (LinkThing.Cable, "grey, 1 m"),
                    (LinkThing.Cable, "white, frayed"),
                    (LinkThing.Computer, "bench computer"),
                    (LinkThing.Computer, "counter computer"),
                }
            )
                db.BenchThings.Add(new BenchThingRow { Kind = kind, Label = label });
        }

        // The demo starts at any hour, and its promises lie hours from then: its ferry terminal never closes.
        if (!await db.BenchHours.AnyAsync())
            db.BenchHours.Add(
                new BenchHoursRow
                {
                    Hours = JsonSerializer.Serialize(
                        new BenchHours(
                            default,
                            default,
                            Enum.GetValues<DayOfWeek>(),
                            [new BenchPerson("bench", default, default), new BenchPerson("lead", default, default)],
                            2
                        ),
                        StoreJson.Options
                    ),
                    By = "lead",
                    At = services.GetRequiredService<TimeProvider>().GetUtcNow(),
                }
            );

        if (!await db.Jobs.AnyAsync())
        {
            var now = services.GetRequiredService<TimeProvider>().GetUtcNow();
            db.Jobs.AddRange(DemoJobs.All.OrderBy(job => job.Ticket, StringComparer.Ordinal).Select(job => RowOf(job, now)));
        }

        await db.SaveChangesAsync();
    }

    private static JobRow RowOf(DemoJob job, DateTimeOffset now)
    {
        var taken = now.AddMinutes(-job.TakenMinutesAgo);
        var row = new JobRow
        {
            Ticket = job.Ticket,
            Description = job.Description,
            Complaint = job.Complaint,
            DataWish = job.Wish,
            OwnershipStated = true,
            Accessories = job.Accessories,
            TakenInAt = taken,
            PromisedAt = now.AddMinutes(job.PromisedInMinutes),
        };
        row.Promises.Add(
            new PromiseRow
            {
                At = taken,
                By = Counter,
                PromisedFor = row.PromisedAt,
            }
        );
        row.Facts.AddRange(job.FactsAt(taken, Counter).Select(FactRow.Of));
        row.TriageAnswers.AddRange(
            job.Said.Select(said => new TriageAnswerRow
            {
                CheckId = said.CheckId,
                OutcomeId = said.OutcomeId,
                At = taken,
                By = Counter,
            })
        );
        row.Claims.AddRange(
            job.Claims.Select(claim => new ClaimRow
            {
                Text = claim.Text,
                SaidBy = claim.SaidBy,
                At = taken,
                RecordedBy = Counter,
            })
        );
        return row;
    }
}
