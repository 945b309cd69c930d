using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using Junctra.Link;
using Junctra.StandIns;

namespace Junctra.Testing;

/// <summary>The stand-in phones as a process of their own, as fast as they can.</summary>
public sealed class StandInProcess : IAsyncDisposable
{
    private static readonly HttpClient Http = new();
    private static readonly HashSet<int> Given = [];
    private readonly Process process;
    private readonly string control;
    private readonly IReadOnlyList<Socket> reserved;

    private StandInProcess(Process process, string control, string data, IReadOnlyList<Socket> reserved) =>
        (this.process, this.control, this.reserved, Data) = (process, control, reserved, data);

    /// <summary>Names of the phones that lie on a cable.</summary>
    public static IReadOnlyList<string> Names { get; } = [.. "ABCDEFGHIJKLMNOP".Select(letter => letter.ToString())];

    /// <summary>Folder in which the phones keep their partitions.</summary>
    public string Data { get; }

    /// <summary>Address below which the simulated mirrors answer.</summary>
    public string Hands => control + "/";

    /// <summary>Where a phone answers.</summary>
    public LinkAddress this[string phone] => new("127.0.0.1", ((IPEndPoint)reserved[Names.ToList().IndexOf(phone)].LocalEndPoint!).Port);

    public LinkAddress A => this["A"];

    public LinkAddress B => this["B"];

    public LinkAddress C => this["C"];

    /// <summary>A phone in download mode.</summary>
    public LinkAddress D => this["D"];

    /// <summary>A phone that loops on a custom system, and is written in download mode.</summary>
    public LinkAddress H => this["H"];

    /// <summary>The computer's list of phones.</summary>
    public LinkAddress List { get; private init; }

    public static async Task<StandInProcess> StartAsync(string? data = null, long rate = 0, double? mirrorPace = null)
    {
        data ??= Directory.CreateTempSubdirectory("junctra-phones-").FullName;
        // Theirs as long as they live: a port that is closed while a phone restarts must not go to another test's phone.
        var phones = Names.Select(_ => LoopbackPort.Reserve(0)).ToList();
        int[] others = FreePorts(2);
        var process = Start([
            "serve",
            $"--catalogue={Repo.CatalogueFolder}",
            $"--data={data}",
            $"--control={others[0]}",
            .. Names.Select((name, i) => $"--phone-{name.ToLowerInvariant()}={((IPEndPoint)phones[i].LocalEndPoint!).Port}"),
            $"--list={others[1]}",
            $"--rate={rate}",
            "--pace=30",
            "--long-pace=2000",
            mirrorPace is null ? "--mirrors=none" : $"--mirror-files={await DemoLibrary.MirrorFolderAsync()}",
            $"--mirror-pace={(mirrorPace ?? 1).ToString(System.Globalization.CultureInfo.InvariantCulture)}",
        ]);
        var control = $"http://127.0.0.1:{others[0]}";
        var standIn = new StandInProcess(process, control, data, phones) { List = new LinkAddress("127.0.0.1", others[1]) };
        await Until.TrueAsync(
            async () =>
                process.HasExited
                    ? throw new InvalidOperationException($"The stand-ins ended with {process.ExitCode} before they answered.")
                    : (await Http.GetAsync($"{control}/phones")).IsSuccessStatusCode,
            "the stand-ins answer"
        );
        return standIn;
    }

    /// <summary>
    /// Phones as they first came, of a program that may have served other tests before: starting one takes longer than most of them. A test
    /// that ends the program, or sets its rate, starts its own.
    /// </summary>
    public static async Task<StandInProcess> BorrowAsync(double? mirrorPace = null)
    {
        if (!Idle.GetOrAdd(mirrorPace ?? 0, _ => []).TryTake(out var phones))
            return await StartAsync(mirrorPace: mirrorPace);
        await Task.WhenAll([
            .. Names.Select(phone => phones.DoAsync(phone, "renew")),
            Http.PostAsync($"{phones.control}/list/renew", null),
        ]);
        return phones;
    }

    /// <summary>Gives phones back that were borrowed.</summary>
    public async ValueTask GiveBackAsync(double? mirrorPace = null)
    {
        if (process.HasExited)
            await DisposeAsync();
        else
            Idle.GetOrAdd(mirrorPace ?? 0, _ => []).Add(this);
    }

    // Those that nobody has at the moment, by the pace of their mirrors; they end with the tests.
    private static readonly ConcurrentDictionary<double, ConcurrentBag<StandInProcess>> Idle = new();

    static StandInProcess() =>
        AppDomain.CurrentDomain.ProcessExit += (_, _) =>
            Task.WhenAll(Idle.Values.SelectMany(bag => bag).Select(phones => phones.DisposeAsync().AsTask())).GetAwaiter().GetResult();

    /// <summary>Runs a command of the stand-ins to its end.</summary>
    public static async Task RunAsync(params string[] args)
    {
        using var process = Start(args);
        await process.WaitForExitAsync();
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"The stand-ins ended with {process.ExitCode}.");
    }

    public async Task<JsonNode> LookAsync(string phone) => (await Http.GetFromJsonAsync<JsonNode>($"{control}/phones"))![phone]!;

    public async Task<string> ModeAsync(string phone) => (string)(await LookAsync(phone))["mode"]!;

    public async Task<HttpStatusCode> DoAsync(string phone, string act) =>
        (await Http.PostAsync($"{control}/phones/{phone}/{act}", null)).StatusCode;

    /// <summary>Lets events happen to a phone.</summary>
    public async Task EventsAsync(string phone, params Core.Twin.TwinEvent[] events) =>
        (
            await Http.PostAsync($"{control}/phones/{phone}/events", new StringContent(Core.Twin.TwinEvent.ToJson(events)))
        ).EnsureSuccessStatusCode();

    /// <summary>Hands copy a package of the demo world, or a file that lies on the phone, to its card.</summary>
    public async Task CopyToCardAsync(string phone, string from, string to) =>
        (
            await Http.PostAsync(
                $"{control}/phones/{phone}/copy-to-card?from={Uri.EscapeDataString(from)}&to={Uri.EscapeDataString(to)}",
                null
            )
        ).EnsureSuccessStatusCode();

    /// <summary>Hands have the root manager on the phone patch a file there.</summary>
    public async Task PatchAsync(string phone, string file) =>
        (await Http.PostAsync($"{control}/phones/{phone}/patch?file={Uri.EscapeDataString(file)}", null)).EnsureSuccessStatusCode();

    /// <summary>Names of the files in a place of the phone, <c>storage</c> or <c>card</c>, and their digests.</summary>
    public async Task<IReadOnlyDictionary<string, string>> FilesAsync(string phone, string place) =>
        (await Http.GetFromJsonAsync<JsonNode>($"{control}/phones/{phone}/files"))![place]!
            .AsArray()
            .ToDictionary(file => (string)file!["name"]!, file => (string)file!["sha256"]!);

    /// <summary>Sets what is to go wrong with the computer's list at a port.</summary>
    public async Task ListFaultAsync(string port, object faults) =>
        (await Http.PutAsJsonAsync($"{control}/list/{port}", faults)).EnsureSuccessStatusCode();

    /// <summary>Sets what is to go wrong next; the names are those of the stand-ins' faults.</summary>
    public async Task FaultAsync(string phone, object faults) =>
        (await Http.PutAsJsonAsync($"{control}/phones/{phone}/faults", faults)).EnsureSuccessStatusCode();

    /// <summary>What the phone itself says it accepted, each as <c>flash boot</c> or <c>erase userdata</c>, in order.</summary>
    public async Task<IReadOnlyList<string>> AcceptedAsync(string phone) =>
        [
            .. (await Http.GetFromJsonAsync<JsonArray>($"{control}/phones/{phone}/log"))!.Select(entry =>
                $"{entry!["command"]} {entry["partition"]}"
            ),
        ];

    /// <summary>Ends the program as a power cut would; the phones' folder stays.</summary>
    public async Task KillAsync()
    {
        process.Kill();
        await process.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (!process.HasExited)
            await KillAsync();
        process.Dispose();
        foreach (var socket in reserved)
            socket.Dispose();
        if (Directory.Exists(Data))
            Directory.Delete(Data, recursive: true);
    }

    /// <summary>
    /// Ports on which nothing listens, of those that no program is given unasked, and none that was given out here before.
    /// </summary>
    public static int[] FreePorts(int count)
    {
        lock (Given)
        {
            return
            [
                .. Enumerable
                    .Range(0, int.MaxValue)
                    .Select(_ => Random.Shared.Next(20_000, 32_000))
                    .Where(IsFree)
                    .Where(Given.Add)
                    .Take(count),
            ];
        }

        static bool IsFree(int port)
        {
            try
            {
                using var socket = new Socket(AddressFamily.InterNetwork, SocketType.Stream, ProtocolType.Tcp);
                socket.Bind(new IPEndPoint(IPAddress.Loopback, port));
                return true;
            }
            catch (SocketException)
            {
                return false;
            }
        }
    }

    private static Process Start(params string[] args)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardInput = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "Junctra.StandIns.dll"));
        foreach (var arg in args)
            start.ArgumentList.Add(arg);
        return Process.Start(start)!;
    }
}
