using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Link;
using Junctra.Link.Bench;
using Junctra.Link.Fastboot;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;

namespace Junctra.Web.Writing;

/// <summary>Listens at the port of a run that waits for hands, and gives the phone there the command of a way, where that is one.</summary>
public sealed class PortHearing(LinkService links, ModelCatalogue catalogue, LinkClocks clocks, TimeProvider time)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    private LinkClocks Brisk => clocks with { Connect = Patience, Answer = Patience };

    /// <summary>What is heard there now; null where the run waits for no hands, or at no port.</summary>
    public async Task<Hearing?> ListenAsync(JobView job, RunState? state, CancellationToken cancel)
    {
        if (
            state is not { Status: RunStatus.Waiting, Step: { } step }
            || job.LastRun is not { PortName: { } port, Address: { } at }
            || LinkAddress.Parse(at) is not { } address
        )
            return null;
        var wanted = (step.Act as BringInto)?.To;
        var listed = await links.LookAsync(job, port, wanted ?? PhoneMode.Unknown, cancel);
        return Hearing.Of(port, state.Plan.Target.Serial, wanted, await HeardAsync(address, cancel), listed.Listed?.Count);
    }

    /// <summary>Gives the phone the command by which the way at hand leads on; what it shows then is heard or said as ever.</summary>
    public async Task<ActResult> CommandAsync(JobView job, RunState? state, HandsOrder? hands, string who, CancellationToken cancel)
    {
        if (CommandOf(hands) is not { } command || job.LastRun?.Address is not { } at || LinkAddress.Parse(at) is not { } address)
            return ActResult.Refuse("No command leads on from here.");
        if (await HeardAsync(address, cancel) is not { } heard)
            return ActResult.Refuse("Nothing answers at the port, so no command was given. Look at cable and screen.");
        if (state?.Plan.Target.Serial is not { } serial || !string.Equals(heard.Serial, serial, StringComparison.OrdinalIgnoreCase))
            return ActResult.Refuse("The phone there does not say that it is this one. No command was given: do it at the phone itself.");
        try
        {
            if (heard.Mode is PhoneMode.Fastboot or PhoneMode.RecoveryCommands)
            {
                await using var client = await FastbootClient.ConnectAsync(address, Brisk, cancel);
                await client.RestartAsync(command, cancel);
            }
            else if (await BenchClient.CommandAsync(address, Brisk, command, cancel) is { } why)
            {
                return ActResult.Refuse($"The phone does not obey: {why}");
            }
        }
        catch (LinkException error)
        {
            return ActResult.Refuse($"The command did not get through: {error.Message}");
        }

        return ActResult.Did($"{who} gave the command. Look at what the phone shows.");
    }

    /// <summary>The command of the way at hand; null where that goes by keys or a menu, or changes the lock.</summary>
    public static string? CommandOf(HandsOrder? hands) =>
        hands?.Way is { Kind: WayKind.Command, Risk: null, To: not PhoneMode.LockChange } way ? way.Score.Id : null;

    private async Task<(PhoneMode Mode, string? Serial)?> HeardAsync(LinkAddress address, CancellationToken cancel)
    {
        try
        {
            var reading = await PhoneReader.ReadAsync(address, Brisk, catalogue, time.GetUtcNow(), "port", cancel);
            return (PhoneModes.Parse(reading[FactName.Mode]) ?? PhoneMode.Unknown, reading[FactName.Serial]);
        }
        catch (LinkException)
        {
            // It is not there, or not yet.
            return null;
        }
    }
}
