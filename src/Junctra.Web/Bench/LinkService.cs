using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Link;
using Junctra.Link.Bench;
using Junctra.Store;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Bench;

/// <summary>What the computer's list shows for a job's phone.</summary>
/// <param name="Listed">The phones that are listed; null where nobody can ask the computer.</param>
/// <param name="Reading">What the list says of the phone that is meant; null where it cannot be asked.</param>
/// <param name="Problem">Why the list cannot be asked; null where it can, or where there is none.</param>
public sealed record ListLook(IReadOnlyList<ListedPhone>? Listed, ListReading? Reading, string? Problem);

/// <summary>Looks at the computer's list of phones, and orders remedies by the shop's own tries.</summary>
public sealed class LinkService(LinkHistory book, ModelCatalogue catalogue, LinkClocks clocks, IOptions<JunctraOptions> options)
{
    /// <summary>Looks at the list of the computer at a port.</summary>
    /// <param name="job">The job: its phone is told by serial alone.</param>
    /// <param name="port">The port.</param>
    /// <param name="wanted">The mode in which the phone should be listed.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ListLook> LookAsync(JobView job, string? port, PhoneMode wanted, CancellationToken cancel)
    {
        if (port is null || LinkAddress.Parse(options.Value.PhoneList) is not { } address)
            return new ListLook(null, null, null);
        try
        {
            var listed = await BenchClient.ListAsync(address, clocks, port, cancel);
            return new ListLook(listed, ListReading.Of(listed, job.Phone[FactName.Serial].Value, wanted), null);
        }
        catch (LinkException error)
        {
            return new ListLook(null, null, $"The computer's list cannot be read: {error.Message}");
        }
    }

    /// <summary>The remedies for a sign, by the shop's tries; those of this job since the sign first showed come no more.</summary>
    public async Task<IReadOnlyList<RankedRemedy>> OrderAsync(string sign, IReadOnlyList<LinkTryRow> ofJob, CancellationToken cancel)
    {
        // A try after which the phone was seen ended its case: what follows is another one.
        var triedNow = ofJob
            .OrderByDescending(one => one.Id)
            .TakeWhile(one => !one.Worked)
            .Where(one => one.Sign == sign)
            .Select(one => one.Remedy)
            .ToHashSet();
        return LinkDoctor.Order(catalogue.Links, sign, await book.HistoryAsync(cancel), triedNow);
    }
}
