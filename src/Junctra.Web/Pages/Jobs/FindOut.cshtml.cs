using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>Facts with their sources; reading the phone; noting what a person reads.</summary>
public sealed class FindOutModel(JobLoader jobs, JobStore store, PhoneVisits visits, JunctraDb db, ModelCatalogue catalogue, TimeProvider time) : JobPage(jobs)
{
    public override Station Station => Station.FindOut;

    /// <summary>Facts that a person can read somewhere and note.</summary>
    public static IReadOnlyList<FactName> Typable { get; } =
    [
        FactName.ModelCode, FactName.Build, FactName.RollbackFloor, FactName.BootloaderRevision, FactName.LockState, FactName.Serial,
        FactName.OsVersion, FactName.SecurityPatch, FactName.Region, FactName.ChipFamily, FactName.RadioBuild, FactName.BatteryPercent, FactName.StorageSize, FactName.DeviceStatus, FactName.Root,
    ];

    public IReadOnlyList<ResolvedFact> Facts { get; private set; } = [];

    public IReadOnlyList<ResolvedFact> Partitions { get; private set; } = [];

    public IReadOnlyList<(FactName Name, string Where)> Missing { get; private set; } = [];

    public IReadOnlyList<FactRow> Gone { get; private set; } = [];

    public IReadOnlyList<PortRow> Ports { get; private set; } = [];

    public string? PortWanted { get; private set; }

    public string? TypedName { get; private set; }

    public string? TypedValue { get; private set; }

    public FactSource TypedSource { get; private set; } = FactSource.Settings;

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        var all = Job.Phone.Names.Select(name => Job.Phone[name]).ToList();
        Facts = [.. all.Where(fact => !fact.Name.IsPartitionSize).OrderBy(fact => Rank(fact.Name))];
        Partitions = [.. all.Where(fact => fact.Name.IsPartitionSize && fact.State == FactState.Known)];
        Gone = [.. Job.Row.Facts.Where(row => !row.Counts && !new FactName(row.Name).IsPartitionSize)];
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        PortWanted = Job.Row.PortName ?? (Ports.Count > 0 ? Ports[0].Name : null);
        Missing = [.. Wanted().Where(pair => Job.Phone[pair.Name].State == FactState.Unknown)];
    }

    /// <summary>The rows behind a fact's claims, in the claims' order.</summary>
    public IReadOnlyList<FactRow> RowsOf(ResolvedFact fact) =>
        [.. fact.Claims.Select(claim => Job.Row.Facts.Last(row => row.Counts && row.ToFact() == claim))];

    public async Task<IActionResult> OnPostReadAsync(string port, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen) return Refused(frozen);
        var visit = await visits.ReadAsync(Job.Row, port, cancel);
        if (visit.Reading is null)
        {
            PortWanted = port;
            return Refused($"{visit.Problem} Nothing was recorded. Check the cable and the port; the phone must show its bootloader menu.");
        }

        Done = string.Join(" ", [$"Read {visit.Reading.Facts.Count} facts at port {port}.", .. visit.Reading.Remarks]);
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostNoteAsync(string? name, string? value, FactSource source, CancellationToken cancel)
    {
        (TypedName, TypedValue, TypedSource) = (name, value, source);
        if (WhyFrozen is { } frozen) return Refused(frozen);
        if (!ModelState.IsValid || !IntakeForm.Sources.Contains(source) || Typable.FirstOrDefault(n => n.Value == name) is not { Value: not null } fact) return Refused("That is no fact a person can note here.");
        var at = time.GetUtcNow();
        if (fact == FactName.ModelCode || fact == FactName.Build)
        {
            var code = CodeReading.Read(value, catalogue);
            if (code.Problem is not null || (code.Model is null && code.Build is null)) return Refused(code.Problem ?? "The value is empty.");
            await store.AddFactsAsync(Job.Row, code.Facts(source, at, PhoneVisits.Bench), cancel);
        }
        else if (FactValues.Normalise(fact, value) is { } normal)
        {
            await store.AddFactsAsync(Job.Row, [new Fact(fact, normal, source, at, PhoneVisits.Bench)], cancel);
        }
        else
        {
            return Refused($"“{value}” is no {fact.Label.ToLowerInvariant()}. {Hint(fact)}");
        }

        Done = $"Noted: {fact.Label.ToLowerInvariant()}.";
        return To(Station.FindOut);
    }

    public async Task<IActionResult> OnPostWithdrawAsync(int factId, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen) return Refused(frozen);
        Done = await store.WithdrawAsync(Job.Row, factId, PhoneVisits.Bench, cancel) ? "Withdrawn. It stays in the history." : "That fact no longer counted.";
        return To(Station.FindOut);
    }

    private IEnumerable<(FactName Name, string Where)> Wanted()
    {
        yield return (FactName.ModelCode, Job.Model?.FindModelCode.Where ?? "Over the link in fastboot mode, 1 min; or in the settings, or on the label.");
        yield return (FactName.Serial, "Over the link in fastboot mode: 1 min.");
        yield return (FactName.LockState, "Over the link, or on the bootloader screen: 1 min.");
        if (catalogue.MakerOf(Job.Model?.Code)?.HasRollbackFuses ?? true)
            yield return (FactName.RollbackFloor, "Over the link, or on the bootloader screen: 2 min. Nothing else tells it.");
        yield return (FactName.BatteryPercent, "Over the link, or on the screen: 1 min.");
    }

    private static string Hint(FactName name) =>
        name == FactName.LockState ? "Write locked or unlocked."
        : name == FactName.BatteryPercent ? "Write whole percent, 0 to 100."
        : name == FactName.RollbackFloor || name == FactName.BootloaderRevision ? "Write a whole number."
        : name == FactName.SecurityPatch ? "Write year and month, such as 2026-08."
        : "Read it again.";

    private static int Rank(FactName name)
    {
        FactName[] order = [FactName.ModelCode, FactName.Serial, FactName.Mode, FactName.LockState, FactName.RollbackFloor, FactName.BootloaderRevision, FactName.Build];
        var place = Array.IndexOf(order, name);
        return place < 0 ? order.Length : place;
    }
}
