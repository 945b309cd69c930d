using Junctra.Store;
using Junctra.Store.Operation;

namespace Junctra.Web.Operation;

/// <summary>Seals new lines of the audit every few seconds, and goes along the whole chain once a day. One web process does.</summary>
public sealed class AuditSealer(AuditChain chain, Ownership owners, TimeProvider time, ILogger<AuditSealer> log) : BackgroundService
{
    private const string What = "audit";
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(3),
        CheckEvery = TimeSpan.FromDays(1);

    /// <summary>What the last look along the chain said, and when; null before the first.</summary>
    public (DateTimeOffset At, AuditCheck Check)? Last { get; private set; }

    /// <summary>Goes along the chain now.</summary>
    public async Task<AuditCheck> CheckAsync(CancellationToken cancel)
    {
        var check = await chain.CheckAsync(cancel);
        Last = (time.GetUtcNow(), check);
        if (check.Problem is { } problem)
            log.LogError("The audit was changed from outside: {Problem}", problem);
        return check;
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (await owners.TakeAsync(What, stoppingToken))
                {
                    var isDue = Last is not { } last || time.GetUtcNow() - last.At > CheckEvery;
                    await chain.SealAsync(onlyLate: !isDue, stoppingToken);
                    if (isDue)
                        await CheckAsync(stoppingToken);
                }
            }
            catch (Exception error) when (!stoppingToken.IsCancellationRequested)
            {
                if (DatabaseAbsence.Is(error))
                    log.LogWarning(error, "The audit could not be sealed; it is tried again");
                else
                    log.LogError(error, "The audit could not be sealed; it is tried again");
            }

            await Task.Delay(Rest, time, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
