using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Link.Bench;
using Junctra.Link.Fastboot;

namespace Junctra.Link;

/// <summary>What was read from a phone in one visit.</summary>
/// <param name="Facts">The facts, all with the source <see cref="FactSource.Link"/>.</param>
/// <param name="Remarks">What could not be read or made sense of.</param>
public sealed record PhoneReading(IReadOnlyList<Fact> Facts, IReadOnlyList<string> Remarks)
{
    /// <summary>The value read for a fact, or null.</summary>
    public string? this[FactName name] => Facts.FirstOrDefault(fact => fact.Name == name)?.Value;
}

/// <summary>Reads what a phone says of itself, in whatever mode it answers. Changes nothing on it.</summary>
public static class PhoneReader
{
    // Names that the open protocol itself gives to what every bootloader should answer.
    private static readonly LinkVariable[] OpenVariables =
    [
        new(FactName.ModelCode, "product", new Dictionary<string, string>()),
        new(FactName.Serial, "serialno", new Dictionary<string, string>()),
        new(FactName.RadioBuild, "version-baseband", new Dictionary<string, string>()),
        new(
            FactName.LockState,
            "unlocked",
            new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase)
            {
                ["yes"] = FactName.LockState.Write(LockState.Unlocked),
                ["no"] = FactName.LockState.Write(LockState.Locked),
            }
        ),
    ];

    /// <summary>Connects, reads, and lets go of the phone.</summary>
    /// <exception cref="LinkException">The phone does not answer or cannot be understood.</exception>
    public static async Task<PhoneReading> ReadAsync(
        LinkAddress address,
        LinkClocks clocks,
        ModelCatalogue catalogue,
        DateTimeOffset at,
        string recordedBy,
        CancellationToken cancel = default
    )
    {
        try
        {
            await using var client = await FastbootClient.ConnectAsync(address, clocks, cancel).ConfigureAwait(false);
            return await ReadAsync(client, catalogue, at, recordedBy, cancel).ConfigureAwait(false);
        }
        catch (LinkException error) when (error.Fault == LinkFault.NotUnderstood)
        {
            try
            {
                return await BenchClient.ReadAsync(address, clocks, catalogue, at, recordedBy, cancel).ConfigureAwait(false);
            }
            catch (LinkException)
            {
                // It speaks neither; the first fault is the one to name.
            }

            throw;
        }
    }

    /// <summary>Reads over a connection that stands, in fastboot mode.</summary>
    public static async Task<PhoneReading> ReadAsync(
        FastbootClient client,
        ModelCatalogue catalogue,
        DateTimeOffset at,
        string recordedBy,
        CancellationToken cancel = default
    )
    {
        // Bootloader and recovery-hosted command mode speak the same protocol; one variable of it tells them apart.
        var mode = await client.GetVariableAsync("is-userspace", cancel).ConfigureAwait(false) is "yes"
            ? PhoneMode.RecoveryCommands
            : PhoneMode.Fastboot;
        var facts = new List<Fact>
        {
            FactName.Mode.Claim(mode, FactSource.Link, at, recordedBy),
            FactName.Reached(mode).Claim(true, FactSource.Link, at, recordedBy),
        };
        var remarks = new List<string>();
        var model = await FindModelAsync(client, catalogue, cancel).ConfigureAwait(false);
        var variables = model is null ? OpenVariables : catalogue.MakerOf(model.Code)!.LinkVariables;
        foreach (var variable in variables)
        {
            var answer = await client.GetVariableAsync(variable.Variable, cancel).ConfigureAwait(false);
            if (answer is null)
                continue;
            var value = variable.Read(answer) is { } text ? variable.Fact.Normalise(text) : null;
            if (value is null)
                remarks.Add($"The phone answers “{answer}” for its {variable.Fact.Label.ToLowerInvariant()}, which is no value of it.");
            else
                facts.Add(new Fact(variable.Fact, value, FactSource.Link, at, recordedBy));
        }

        if (model is null)
        {
            remarks.Add("The phone's product is not in the catalogue: only what the open protocol names was read.");
            return new PhoneReading(BuildFacts.With(facts, catalogue), remarks);
        }

        foreach (var partition in model.Partitions)
        {
            var answer = await client.GetVariableAsync("partition-size:" + partition.Name, cancel).ConfigureAwait(false);
            var name = FactName.PartitionSize(partition.Name);
            if (answer is null)
                remarks.Add($"The phone knows no partition {partition.Name}.");
            else if (FactValues.Size(answer, partition.SizeBytes) is { } size)
                facts.Add(new Fact(name, size.ToString(), FactSource.Link, at, recordedBy));
            else
                remarks.Add($"The phone answers “{answer}” for the size of {partition.Name}, which is no size.");
        }

        return new PhoneReading(BuildFacts.With(facts, catalogue), remarks);
    }

    private static async Task<PhoneModel?> FindModelAsync(FastbootClient client, ModelCatalogue catalogue, CancellationToken cancel)
    {
        var names = catalogue
            .Makers.SelectMany(maker => maker.LinkVariables)
            .Where(v => v.Fact == FactName.ModelCode)
            .Select(v => v.Variable)
            .Distinct(StringComparer.Ordinal);
        foreach (var name in names)
        {
            if (catalogue.Model(await client.GetVariableAsync(name, cancel).ConfigureAwait(false)) is { } model)
                return model;
        }

        return null;
    }
}
