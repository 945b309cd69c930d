using Junctra.Store.Operation;

namespace Junctra.Web.Operation;

/// <summary>Lets go of whatever only this process did, when it ends, so that another need not wait for the lease.</summary>
internal sealed class TurnsEnd(Ownership owners, ILogger<TurnsEnd> log) : IHostedService
{
    public Task StartAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    public async Task StopAsync(CancellationToken cancellationToken)
    {
        try
        {
            await owners.LetGoAsync();
        }
        catch (Exception error)
        {
            // The leases run out by themselves.
            log.LogInformation(error, "The turns of this process could not be let go of");
        }
    }
}
