using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Web.Drawing;
using Junctra.Web.Operation;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>How the house is, for the lead: what waits, who holds what, how full the disks are, when it was last backed up.</summary>
[Authorize(Policies.Lead)]
public sealed class OperationModel(HouseLook house, SlowQueries slow, AuditSealer audit, TimeProvider time) : PageModel
{
    /// <summary>A backup is taken every night; one that is older than this was missed.</summary>
    private static readonly TimeSpan BackupIsOld = TimeSpan.FromHours(36);

    public HouseState House { get; private set; } = null!;

    public IReadOnlyList<SlowQuery> Slow => slow.Worst;

    /// <summary>What the last look along the audit's chain said; null before the first.</summary>
    public (DateTimeOffset At, AuditCheckView Check)? Audit { get; private set; }

    /// <summary>What somebody should see to.</summary>
    public IReadOnlyList<Worry> Worries { get; private set; } = [];

    /// <summary>A process for people: its computer, and its number there.</summary>
    public static string NameOf(string process) =>
        process.Split(':') is [var machine, var number, ..] ? $"{machine}, process {number}" : process;

    public Task OnGetAsync(CancellationToken cancel) => LoadAsync(cancel);

    /// <summary>Goes along the audit's chain now.</summary>
    public async Task<IActionResult> OnPostAuditAsync(CancellationToken cancel)
    {
        await audit.CheckAsync(cancel);
        return Redirect("/operation#audit");
    }

    private async Task LoadAsync(CancellationToken cancel)
    {
        House = await house.LookAsync(cancel);
        if (audit.Last is { } last)
            Audit = (last.At, new AuditCheckView(last.Check.Problem is null, AuditCommand.Say(last.Check)));
        Worries = [.. Found()];
    }

    private IEnumerable<Worry> Found()
    {
        if (Audit is { Check: { IsWhole: false } broken })
            yield return new(true, broken.Sentence + " Find out who has access to the database, and keep a backup of before.");
        foreach (var disk in House.Disks)
            if (disk.Problem is not null)
                yield return new(true, $"{disk.Name}: {disk.Folder} cannot be used. Look at its disk and its rights.");
            else if (disk.Free < DiskView.LittleFree)
                yield return new(
                    false,
                    $"{disk.Name}: {ByteSize.Text(disk.FreeBytes)} are free of {ByteSize.Text(disk.TotalBytes)}. Make room under Packages, Disk space."
                );
        if (House.LateLeases > 0)
            yield return new(
                false,
                $"{House.LateLeases} run{(House.LateLeases == 1 ? " was" : "s were")} left by the process that wrote. Another ends {(House.LateLeases == 1 ? "it" : "them")} within seconds; if not, no process runs."
            );
        if (House.Queue.Failed > 0)
            yield return new(
                false,
                $"{House.Queue.Failed} piece{(House.Queue.Failed == 1 ? "" : "s")} of work in the queue failed. The log says why."
            );
        if (House.Processes.FirstOrDefault(process => House.At - process.SeenAt > ProcessView.Silence) is { } silent)
            yield return new(
                false,
                $"{NameOf(silent.Name)} gives no sign of life since {Say.When(silent.SeenAt, House.At)}. Whatever it did, another goes on with."
            );
        if (House.Connections.Now > House.Connections.Max * 0.8)
            yield return new(
                false,
                $"{House.Connections.Now} of {House.Connections.Max} connections to the database are in use. Allow more, or find out who holds them."
            );
        if (House.Backup is not { } backup)
            yield return new(false, "No backup was ever taken of this database. Set it up as docs/operation.md says.");
        else if (time.GetUtcNow() - backup.At > BackupIsOld)
            yield return new(false, $"The last backup is of {Say.When(backup.At, House.At)}. One is taken every night: see what keeps it.");
    }
}

/// <summary>Something that a lead should see to.</summary>
/// <param name="IsStop">Whether it cannot wait.</param>
/// <param name="Sentence">What, and what to do.</param>
public sealed record Worry(bool IsStop, string Sentence)
{
    /// <summary>The same as a signal.</summary>
    public Verdict Signal => IsStop ? Verdict.Stop : Verdict.Care;
}

/// <summary>What a look along the audit's chain said.</summary>
/// <param name="IsWhole">Whether the chain is whole.</param>
/// <param name="Sentence">What it said.</param>
public sealed record AuditCheckView(bool IsWhole, string Sentence);
