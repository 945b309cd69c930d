using Junctra.Core.Modes;
using Junctra.Core.Phones;
using Junctra.Store;
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
        if (options.DemoPorts.Count == 0) return;
        var db = services.GetRequiredService<JunctraDb>();
        foreach (var (name, address) in options.DemoPorts)
        {
            if (await db.Ports.FindAsync(name) is { } port) port.Address = address;
            else db.Ports.Add(new PortRow { Name = name, Address = address });
        }

        if (!await db.Jobs.AnyAsync())
        {
            var now = services.GetRequiredService<TimeProvider>().GetUtcNow();
            db.Jobs.Add(ToBeSold(now));
            db.Jobs.Add(HalfWritten(now));
        }

        await db.SaveChangesAsync();
    }

    private static JobRow ToBeSold(DateTimeOffset now)
    {
        var job = new JobRow
        {
            Ticket = "0421",
            Description = "grey case, ferry crew sticker",
            Complaint = "Runs a custom system with root. Is to be sold: wants it as it left the maker.",
            DataWish = DataWish.MayGo,
            OwnershipStated = true,
            TakenInAt = now.AddMinutes(-35),
            PromisedAt = now.AddHours(2),
        };
        Add(job, FactName.ModelCode, "HX204", FactSource.Label, -34);
        Add(job, FactName.DeviceStatus, "custom", FactSource.Customer, -34);
        Add(job, FactName.Root, "present", FactSource.CustomSystem, -33);
        Add(job, FactName.Mode, PhoneMode.System.Id(), FactSource.Customer, -33);
        return job;

        void Add(JobRow to, FactName name, string value, FactSource source, int minutes) =>
            to.Facts.Add(FactRow.Of(new Fact(name, value, source, now.AddMinutes(minutes), Counter)));
    }

    private static JobRow HalfWritten(DateTimeOffset now)
    {
        var job = new JobRow
        {
            Ticket = "0424",
            Description = "cracked corner, no case",
            Complaint = "Restarts for ever since a one-click update failed half way. The photos on it are wanted.",
            DataWish = DataWish.Keep,
            OwnershipStated = true,
            TakenInAt = now.AddMinutes(-12),
            PromisedAt = now.AddHours(4),
        };
        job.Facts.Add(FactRow.Of(new Fact(FactName.ModelCode, "HX204", FactSource.Label, now.AddMinutes(-12), Counter)));
        job.Facts.Add(FactRow.Of(new Fact(FactName.Mode, PhoneMode.BootLoop.Id(), FactSource.Customer, now.AddMinutes(-12), Counter)));
        return job;
    }
}
