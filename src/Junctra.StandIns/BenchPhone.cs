using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net.Sockets;
using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>How fast a stand-in does things.</summary>
/// <param name="BytesPerSecond">Rate of a transfer; 0 for no limit.</param>
/// <param name="Passing">How many of its seconds pass in one of ours while it restarts.</param>
/// <param name="Long">The same while it boots for the first time, wipes, updates or charges. While keys are held its time is ours.</param>
/// <param name="MaxDownload">Largest download in bytes; small, so that larger images come in pieces.</param>
internal sealed record StandInPace(long BytesPerSecond, double Passing, double Long, int MaxDownload);

/// <summary>
/// A simulated phone: the core's twin behind a socket. Its clock runs, its port is open while a computer would hear it, and
/// on it the phone speaks the open fastboot protocol or Junctra's own, as its mode wants. State and partitions lie in a folder.
/// </summary>
internal sealed partial class BenchPhone : IAsyncDisposable
{
    /// <summary>The computer to which the cables of the demo bench lead.</summary>
    public const string Computer = "bench computer";

    private const int RestoredApps = 40;
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(30);
    private readonly SemaphoreSlim hands = new(1, 1);
    private readonly SemaphoreSlim stirred = new(0);
    private readonly CancellationTokenSource ending = new();
    private readonly StandInPace pace;
    private readonly ModelCatalogue catalogue;
    private readonly TwinOrigin birth;
    private readonly Task clock;
    private readonly Socket? reserved;
    private long lastTick = Stopwatch.GetTimestamp();
    private string? openFor;
    private CancellationTokenSource? open;
    private Task serving = Task.CompletedTask;

    private BenchPhone(
        string name,
        int port,
        PhoneTwin twin,
        PhonePartitions partitions,
        TwinState state,
        TwinOrigin birth,
        StandInPace pace,
        ModelCatalogue catalogue
    )
    {
        this.catalogue = catalogue;
        (Name, Port, Twin, Partitions, State, this.birth, this.pace) = (name, port, twin, partitions, state, birth, pace);
        Storage = new PhoneFolder(Path.Combine(partitions.Folder, "storage"), Built);
        CardFolder = new PhoneFolder(Path.Combine(partitions.Folder, "card"), OnCard);
        if (port != 0)
            reserved = LoopbackPort.Reserve(port);
        clock = RunClockAsync();
    }

    public string Name { get; }

    /// <summary>TCP port on which it answers; 0 where it never does.</summary>
    public int Port { get; }

    public PhoneTwin Twin { get; }

    public PhonePartitions Partitions { get; }

    public TwinState State { get; private set; }

    /// <summary>What is to go wrong next.</summary>
    public StandInFaults Faults { get; set; } = new();

    /// <summary>What the phone accepted since its program started, in order.</summary>
    public ConcurrentQueue<Accepted> Log { get; } = new();

    /// <summary>Opens a phone's folder, or makes it as the birth record says.</summary>
    /// <exception cref="InvalidDataException">What lies in the folder is no state of a phone, or of a model that is not known.</exception>
    public static BenchPhone Open(string name, int port, string folder, ModelCatalogue catalogue, TwinOrigin birth, StandInPace pace)
    {
        var file = StateFile(folder);
        TwinState state;
        if (File.Exists(file))
        {
            try
            {
                state = TwinState.FromJson(File.ReadAllText(file));
            }
            catch (JsonException error)
            {
                throw new InvalidDataException(
                    $"Phone {name}: {file} is no state of a phone that this version reads ({error.Path ?? error.Message}).",
                    error
                );
            }
        }
        else
        {
            state = birth.State;
            new PhonePartitions(folder, catalogue.Model(state.Model)!).Create(birth.Contents);
        }

        var isNew = !File.Exists(file);

        var model = catalogue.Model(state.Model)
            ?? throw new InvalidDataException($"Phone {name}: {file} is of model {state.Model}, which the catalogue does not know.");
        var phone = new BenchPhone(
            name,
            port,
            new PhoneTwin(model, catalogue),
            new PhonePartitions(folder, model),
            state,
            birth,
            pace,
            catalogue
        );
        if (isNew)
            phone.LayFiles();
        phone.Remember();
        return phone;
    }

    /// <summary>Lets something happen to it.</summary>
    public Task DoAsync(params IEnumerable<TwinEvent> events) => ChangeAsync(state => events.Aggregate(state, Twin.Next));

    /// <summary>Changes it while nothing else does.</summary>
    /// <param name="change">The change.</param>
    /// <param name="closed">Ends the wait for other hands: whoever serves the port must not wait for those that close it.</param>
    public async Task ChangeAsync(Func<TwinState, TwinState> change, CancellationToken closed = default)
    {
        await hands.WaitAsync(closed);
        try
        {
            CatchUp();
            var before = State;
            State = change(State);
            ForgetFilesOf(before);
            if (before != State)
                Remember();
            await FollowAsync();
        }
        finally
        {
            hands.Release();
        }

        stirred.Release();
    }

    /// <summary>Makes it anew, as it first came: what it is and holds, and nothing that is to go wrong.</summary>
    public async Task RenewAsync()
    {
        await hands.WaitAsync();
        try
        {
            await CloseAsync();
            Faults = new StandInFaults();
            Log.Clear();
            Partitions.Create(birth.Contents);
            (State, lastTick) = (birth.State, Stopwatch.GetTimestamp());
            LayFiles();
            Remember();
            await FollowAsync();
        }
        finally
        {
            hands.Release();
        }

        stirred.Release();
    }

    /// <summary>Writes a downloaded image to a partition. While it is being written the partition counts as half written.</summary>
    /// <exception cref="PhoneRefusesException">The phone refuses it.</exception>
    public async Task FlashAsync(string name, ReadOnlyMemory<byte> held, CancellationToken closed)
    {
        var image = await PhoneImage.ReadAsync(held);
        var stored = Twin.StoredName(State, name);
        // A later piece of an image says nothing of its own: it belongs to what its first piece has begun.
        var part = image.Part ?? State.Parts.GetValueOrDefault(stored) ?? PhonePartitions.Unstamped;
        await ChangeAsync(
            state =>
                Twin.WhyRefused(state, name, part, image.ExpandedBytes) is { } why
                    ? throw new PhoneRefusesException(why)
                    : Twin.Next(state, new WritePart(name, part, image.ExpandedBytes, PhoneTwin.MaxMilliseconds)),
            closed
        );
        TwinPart? written = null;
        try
        {
            var spec = Twin.SpecOf(name) ?? Twin.Model.Place(name) ?? throw new PhoneRefusesException($"no partition {name}");
            Partitions.Write(stored, image);
            written = Partitions.PartIn(stored, spec.Role);
        }
        finally
        {
            // Whoever pulled the cable meanwhile ended the task: what it left is not whole.
            await ChangeAsync(
                state =>
                    state.Task?.Partition != stored ? state
                    : written is null || !state.Parts.ContainsKey(stored) ? Restored(state with { Task = null })
                    : Twin.Holding(state with { Task = null }, stored, written),
                closed
            );
        }

        // Custom recovery puts back the data of a backup with their image; nothing else knows what is in one.
        TwinState Restored(TwinState state) =>
            state.Stage == PhoneStage.CustomRecovery
            && Twin.SpecOf(name)?.Role == PartitionRole.UserData
            && written is { Build: { } build, Os: { } os }
                ? Twin.Next(state, new RestoreData(new TwinData(build, os, SoftwareKind.Stock, RestoredApps, null)))
                : state;
    }

    /// <summary>Lays its storage out anew.</summary>
    /// <exception cref="PhoneRefusesException">The phone refuses.</exception>
    public Task LayOutAsync(IReadOnlyDictionary<string, long> sizes, CancellationToken closed) =>
        ChangeAsync(
            state =>
            {
                if (!state.Unlocked)
                    throw new PhoneRefusesException("the bootloader is locked");
                Partitions.LayOut(sizes);
                return Twin.Next(state, new WriteLayout(sizes));
            },
            closed
        );

    /// <summary>Erases a partition.</summary>
    /// <exception cref="PhoneRefusesException">The phone refuses.</exception>
    public Task EraseAsync(string name, CancellationToken closed) =>
        ChangeAsync(
            state =>
            {
                if (Twin.WhyRefused(state, name, null, 0) is { } why)
                    throw new PhoneRefusesException(why);
                if (Twin.SpecOf(name) is { } spec)
                    Partitions.Erase(Twin.StoredName(state, name), spec.SizeBytes);
                return Twin.Next(state, new ErasePart(name));
            },
            closed
        );

    public async ValueTask DisposeAsync()
    {
        await ending.CancelAsync();
        await clock;
        if (open is not null)
            await open.CancelAsync();
        await serving;
        open?.Dispose();
        reserved?.Dispose();
        ending.Dispose();
        hands.Dispose();
        stirred.Dispose();
    }

    private static string StateFile(string folder) => Path.Combine(folder, "state.json");

    private void Remember()
    {
        var file = StateFile(Partitions.Folder);
        File.WriteAllText(file + ".new", State.ToJson());
        File.Move(file + ".new", file, overwrite: true);
    }
}

/// <summary>A phone as it first comes to the bench.</summary>
/// <param name="State">The twin.</param>
/// <param name="Contents">Stamps at the start of partitions.</param>
internal sealed record TwinOrigin(TwinState State, IReadOnlyDictionary<string, string> Contents)
{
    /// <summary>Whether a storage card is in it.</summary>
    public bool HasCard { get; init; }

    /// <summary>Demo packages that somebody has put on it: where, under which name, and which one.</summary>
    public IReadOnlyList<(bool OnCard, string Name, string Package)> Files { get; init; } = [];
}
