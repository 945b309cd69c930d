using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Link;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench;

/// <summary>What a visit to a phone brought.</summary>
/// <param name="Reading">What was read, or null.</param>
/// <param name="Problem">What went wrong, or null.</param>
public sealed record Visit(PhoneReading? Reading, string? Problem);

/// <summary>Reads phones at the ports of the bench, and remembers which serial was seen where.</summary>
public sealed class PhoneVisits(JunctraDb db, JobStore store, ModelCatalogue catalogue, LinkClocks clocks, TimeProvider time)
{
    /// <summary>
    /// Reads the phone at a port and records what it says as facts of the job. Does not disturb a write: a port on which one
    /// is going on is not visited.
    /// </summary>
    public async Task<Visit> ReadAsync(JobRow job, string portName, string who, CancellationToken cancel)
    {
        if (await db.Ports.FindAsync([portName], cancel) is not { } port)
            return new Visit(null, $"There is no port {portName} on this bench.");
        if (await BusyWithAsync(port.Address, null, cancel) is { } busy)
            return new Visit(null, busy);
        if (LinkAddress.Parse(port.Address) is not { } address)
            return new Visit(null, $"The address {port.Address} of port {portName} is no host and port.");
        try
        {
            var reading = await PhoneReader.ReadAsync(address, clocks, catalogue, time.GetUtcNow(), who, cancel);
            port.LastSerial = reading[FactName.Serial];
            port.LastSeenAt = time.GetUtcNow();
            if (OtherPhone(job, reading) is { } other)
            {
                await db.SaveChangesAsync(cancel);
                return new Visit(null, other);
            }

            await ForgetElsewhereAsync(port, cancel);
            job.PortName = portName;
            await store.AddFactsAsync(job, reading.Facts, cancel);
            return new Visit(reading, null);
        }
        catch (LinkException error)
        {
            return new Visit(null, error.Message);
        }
    }

    /// <summary>Names of the ports at which a serial was seen last.</summary>
    public async Task<IReadOnlyList<string>> PortsWithAsync(string? serial, CancellationToken cancel) =>
        serial is null
            ? []
            : await db.Ports.Where(p => p.LastSerial == serial).OrderBy(p => p.Name).Select(p => $"port {p.Name}").ToListAsync(cancel);

    /// <summary>A phone that moved to this port is no longer at the one where it was seen before; a second one with the same
    /// serial still is, and then the target is not clear.</summary>
    private async Task ForgetElsewhereAsync(PortRow here, CancellationToken cancel)
    {
        if (here.LastSerial is null)
            return;
        foreach (var other in await db.Ports.Where(p => p.Name != here.Name && p.LastSerial == here.LastSerial).ToListAsync(cancel))
        {
            if (LinkAddress.Parse(other.Address) is not { } address || await BusyWithAsync(other.Address, null, cancel) is not null)
                continue;
            try
            {
                other.LastSerial = (await PhoneReader.ReadAsync(address, clocks, catalogue, time.GetUtcNow(), "", cancel))[FactName.Serial];
            }
            catch (LinkException)
            {
                other.LastSerial = null;
            }
        }
    }

    /// <summary>
    /// What is being written at an address, by whatever name of a port or a computer it is reached, or to a phone of that serial; null
    /// where nothing is. A port is where it leads, not what it is called.
    /// </summary>
    public async Task<string?> BusyWithAsync(string? address, string? serial, CancellationToken cancel)
    {
        var open = await db
            .Runs.AsNoTracking()
            .Where(r =>
                r.Status == Core.Runs.RunStatus.Queued || r.Status == Core.Runs.RunStatus.Writing || r.Status == Core.Runs.RunStatus.Waiting
            )
            .Select(r => new
            {
                r.PortName,
                r.Address,
                r.Plan,
            })
            .ToListAsync(cancel);
        foreach (var run in open)
        {
            if (address is not null && run.Address is not null && await LinkAddress.LeadToOneAsync(address, run.Address, cancel))
                return $"A write is going on at port {run.PortName}, which leads to the same phone. Do not touch it; go on when it has ended.";
            if (serial is not null && serial.Equals(run.Plan.Target.Serial, StringComparison.OrdinalIgnoreCase))
                return $"A write is going on to a phone of the serial {serial}{(run.PortName is null ? "" : $", at port {run.PortName}")}.";
        }

        return null;
    }

    /// <summary>One job is one phone: once its serial was read over the link, another phone's facts must not mix in.</summary>
    private static string? OtherPhone(JobRow job, PhoneReading reading)
    {
        // A serial that the phone itself gave counts before one that somebody read; any is enough to keep another phone out.
        var serials = job.Facts.Where(f => f.Counts && f.Name == FactName.Serial.Value).ToList();
        var known = (serials.LastOrDefault(f => f.Source == FactSource.Link) ?? serials.LastOrDefault())?.Value;
        var read = reading[FactName.Serial];
        return known is not null && read is not null && !known.Equals(read, StringComparison.OrdinalIgnoreCase)
            ? $"This is another phone: its serial is {read}, this job's is {known}. Connect the right one, or withdraw the serial if the job's was wrong."
            : null;
    }
}
