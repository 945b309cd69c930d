using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Link.Running;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>The stand-in phones of one class of tests.</summary>
public sealed class PhoneBench : IAsyncLifetime
{
    internal StandInProcess Phones { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Phones = await StandInProcess.BorrowAsync();

    public ValueTask DisposeAsync() => Phones.GiveBackAsync();
}

/// <summary>
/// What tests of the writer share: the stand-in phones, for every test as they first came, and a write whose journal is kept in memory.
/// </summary>
public abstract class WriteBench(PhoneBench bench) : IAsyncLifetime, IClassFixture<PhoneBench>
{
    protected static LinkClocks Clocks => ReadyPhone.Clocks;

    /// <summary>The phones; a test that ends their program takes some of its own.</summary>
    protected StandInProcess Phones { get; set; } = bench.Phones;

    /// <summary>What the last write wrote down.</summary>
    protected List<RunEvent> Journal { get; } = [];

    public async ValueTask InitializeAsync()
    {
        foreach (var phone in new[] { "A", "B", "C" })
            await Phones.DoAsync(phone, "renew");
    }

    public ValueTask DisposeAsync()
    {
        GC.SuppressFinalize(this);
        return ValueTask.CompletedTask;
    }

    protected static Task<PhoneReading> ReadAsync(LinkAddress at) =>
        PhoneReader.ReadAsync(at, Clocks, Repo.Catalogue, Sample.Noon, "bench");

    protected static async Task<(Plan Plan, Package Package)> PlanAsync(LinkAddress at, string file, bool erase = true)
    {
        var package = await DemoLibrary.ReadAsync(file);
        var outcome = Planned.Compile(new Phone((await ReadAsync(at)).Facts), package, erase);
        Assert.Empty(outcome.Refusals);
        return (outcome.Plan!, package);
    }

    /// <summary>Carries out a plan and folds what was written down.</summary>
    protected async Task<RunState> WriteAsync(
        Plan plan,
        Package package,
        LinkAddress at,
        Func<RunEvent, Task>? atEvent = null,
        Func<string?>? stopAsked = null,
        string? path = null,
        LinkClocks? clocks = null,
        string? work = null,
        CancellationToken cancel = default
    )
    {
        Journal.Clear();
        var writer = new PlanWriter(
            Repo.Catalogue,
            clocks ?? Clocks,
            async what =>
            {
                Journal.Add(what);
                if (atEvent is not null)
                    await atEvent(what);
            },
            TimeProvider.System,
            () => ValueTask.FromResult(stopAsked?.Invoke())
        );
        await writer.RunAsync(
            new WriteOrder(plan, [new PackageFile(package, path ?? await DemoLibrary.PathAsync(package.FileName))], at, WorkFolder: work),
            cancel
        );
        return Fold(plan);
    }

    /// <summary>The run as the journal tells it so far.</summary>
    protected RunState Fold(Plan plan) => RunState.Of(plan, Journal.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what)));

    /// <summary>Hands bring the phone that is written over the download link into its mode.</summary>
    protected Task IntoDownloadAsync() => ReadyPhone.IntoDownloadAsync(Phones, "H");

    /// <summary>Lets go of the keys that moves have left held.</summary>
    protected static IEnumerable<TwinEvent> LetGo(IReadOnlyList<TwinEvent> made) =>
        made.OfType<KeyDown>()
            .Select(down => down.Key)
            .Distinct()
            .Where(key => made.OfType<KeyDown>().Count(one => one.Key == key) > made.OfType<KeyUp>().Count(one => one.Key == key))
            .Select(key => new KeyUp(key));

    /// <summary>What the journal says the phone accepted, in the words of the phone's own log.</summary>
    protected List<string> Journalled(Plan plan) =>
        [
            .. Journal
                .Select(what =>
                    what switch
                    {
                        PieceAccepted piece => $"flash {plan.Steps[piece.Step - 1].Partition()}",
                        PartitionErased erased => $"erase {erased.Partition}",
                        _ => "",
                    }
                )
                .Where(line => line.Length > 0),
        ];
}
