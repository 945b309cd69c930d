using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Link;
using Junctra.Store;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Writing;

/// <summary>
/// Listens at the ports of runs that wait for hands to bring the phone into a mode with a link: once the very phone answers in that mode,
/// the run goes on, and nobody needs to press anything. Only a serial that is known and told does it.
/// </summary>
internal sealed class HandsWatch(
    RunJournal journal,
    IServiceScopeFactory scopes,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    Ownership owners,
    TimeProvider time,
    ILogger<HandsWatch> log
) : BackgroundService
{
    /// <summary>Who says it, in the journal.</summary>
    public const string Link = "the link";

    private const string Turn = "hands";
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(1);

    // A phone that is not there yet is no fault; a slow answer must not hold up the other ports.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (true)
            {
                await Task.Delay(LookEvery, time, stoppingToken);
                try
                {
                    var waiting = await WaitingAsync(stoppingToken);
                    // Two that ask a phone at once are heard by neither.
                    if (waiting.Count > 0 && await owners.TakeAsync(Turn, stoppingToken))
                        await Task.WhenAll(waiting.Select(run => LookAsync(run, stoppingToken)));
                }
                catch (Exception error) when (!stoppingToken.IsCancellationRequested)
                {
                    log.LogWarning(error, "No port was listened at; the next look may");
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The program ends.
        }
    }

    private async Task<List<RunRow>> WaitingAsync(CancellationToken cancel)
    {
        await using var scope = scopes.CreateAsyncScope();
        return await scope
            .ServiceProvider.GetRequiredService<JunctraDb>()
            .Runs.AsNoTracking()
            .Where(run => run.Status == RunStatus.Waiting && run.Address != null)
            .ToListAsync(cancel);
    }

    private async Task LookAsync(RunRow run, CancellationToken cancel)
    {
        var state = RunState.Of(run.Plan, await journal.ReadAsync(run.Id, cancel: cancel));
        if (
            state is not { Status: RunStatus.Waiting, Step: { } step }
            || WantedBy(step.Act) is not { } mode
            || run.Plan.Target.Serial is not { } serial
            || LinkAddress.Parse(run.Address) is not { } address
        )
            return;
        try
        {
            var brisk = clocks with { Connect = Patience, Answer = Patience };
            var reading = await PhoneReader.ReadAsync(address, brisk, catalogue, time.GetUtcNow(), Link, cancel);
            if (reading[FactName.Mode] == mode.Id() && string.Equals(reading[FactName.Serial], serial, StringComparison.OrdinalIgnoreCase))
                await journal.SayAsync(run.Id, new HandsSaid(step.Number, Link, mode.Id(), true), cancel);
        }
        catch (LinkException)
        {
            // It is not there yet.
        }
    }

    /// <summary>The mode that an act for hands brings, where a link can tell that it is reached; else null.</summary>
    private static PhoneMode? WantedBy(Act act) =>
        act
            is BringInto
            {
                To: PhoneMode.Fastboot
                    or PhoneMode.Download
                    or PhoneMode.StockRecovery
                    or PhoneMode.CustomRecovery
                    or PhoneMode.RecoveryCommands
            } bring
            ? bring.To
            : null;
}
