using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using Junctra.Link;

namespace Junctra.Testing;

/// <summary>The stand-in phones as a process of their own, as fast as they can.</summary>
public sealed class StandInProcess : IAsyncDisposable
{
    private static readonly HttpClient Http = new();
    private readonly Process process;
    private readonly string control;

    private StandInProcess(Process process, string control, string data, LinkAddress a, LinkAddress b, LinkAddress c)
    {
        (this.process, this.control, Data, A, B, C) = (process, control, data, a, b, c);
    }

    /// <summary>Folder in which the phones keep their partitions.</summary>
    public string Data { get; }

    /// <summary>Address below which the simulated mirrors answer.</summary>
    public string Hands => control + "/";

    public LinkAddress A { get; }

    public LinkAddress B { get; }

    public LinkAddress C { get; }

    /// <summary>A phone in download mode.</summary>
    public LinkAddress D { get; private init; }

    /// <summary>The computer's list of phones.</summary>
    public LinkAddress List { get; private init; }

    public static async Task<StandInProcess> StartAsync(string? data = null, long rate = 0, double? mirrorPace = null)
    {
        data ??= Directory.CreateTempSubdirectory("junctra-phones-").FullName;
        int[] ports = FreePorts(6);
        var process = Start("serve", $"--catalogue={Repo.CatalogueFolder}", $"--data={data}", $"--control={ports[0]}",
            $"--phone-a={ports[1]}", $"--phone-b={ports[2]}", $"--phone-c={ports[3]}", $"--phone-d={ports[4]}", $"--list={ports[5]}", $"--rate={rate}", "--pace=30", "--long-pace=2000",
            mirrorPace is null ? "--mirrors=none" : $"--mirror-files={await DemoLibrary.MirrorFolderAsync()}", $"--mirror-pace={(mirrorPace ?? 1).ToString(System.Globalization.CultureInfo.InvariantCulture)}");
        var control = $"http://127.0.0.1:{ports[0]}";
        var standIn = new StandInProcess(process, control, data, new LinkAddress("127.0.0.1", ports[1]), new LinkAddress("127.0.0.1", ports[2]), new LinkAddress("127.0.0.1", ports[3])) { D = new LinkAddress("127.0.0.1", ports[4]), List = new LinkAddress("127.0.0.1", ports[5]) };
        await Until.TrueAsync(async () => !process.HasExited && (await Http.GetAsync($"{control}/phones")).IsSuccessStatusCode, "the stand-ins answer");
        return standIn;
    }

    /// <summary>Runs a command of the stand-ins to its end.</summary>
    public static async Task RunAsync(params string[] args)
    {
        using var process = Start(args);
        await process.WaitForExitAsync();
        if (process.ExitCode != 0) throw new InvalidOperationException($"The stand-ins ended with {process.ExitCode}.");
    }

    public async Task<JsonNode> LookAsync(string phone) => (await Http.GetFromJsonAsync<JsonNode>($"{control}/phones"))![phone]!;

    public async Task<string> ModeAsync(string phone) => (string)(await LookAsync(phone))["mode"]!;

    public async Task<HttpStatusCode> DoAsync(string phone, string act) => (await Http.PostAsync($"{control}/phones/{phone}/{act}", null)).StatusCode;

    /// <summary>Lets events happen to a phone.</summary>
    public async Task EventsAsync(string phone, params Core.Twin.TwinEvent[] events) =>
        (await Http.PostAsync($"{control}/phones/{phone}/events", new StringContent(Core.Twin.TwinEvent.ToJson(events)))).EnsureSuccessStatusCode();

    /// <summary>Sets what is to go wrong with the computer's list at a port.</summary>
    public async Task ListFaultAsync(string port, object faults) => (await Http.PutAsJsonAsync($"{control}/list/{port}", faults)).EnsureSuccessStatusCode();

    /// <summary>Sets what is to go wrong next; the names are those of the stand-ins' faults.</summary>
    public async Task FaultAsync(string phone, object faults) =>
        (await Http.PutAsJsonAsync($"{control}/phones/{phone}/faults", faults)).EnsureSuccessStatusCode();

    /// <summary>What the phone itself says it accepted, each as <c>flash boot</c> or <c>erase userdata</c>, in order.</summary>
    public async Task<IReadOnlyList<string>> AcceptedAsync(string phone) =>
        [.. (await Http.GetFromJsonAsync<JsonArray>($"{control}/phones/{phone}/log"))!.Select(entry => $"{entry!["command"]} {entry["partition"]}")];

    /// <summary>Ends the program as a power cut would; the phones' folder stays.</summary>
    public async Task KillAsync()
    {
        process.Kill();
        await process.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (!process.HasExited) await KillAsync();
        process.Dispose();
        if (Directory.Exists(Data)) Directory.Delete(Data, recursive: true);
    }

    public static int[] FreePorts(int count)
    {
        var listeners = Enumerable.Range(0, count).Select(_ => new TcpListener(IPAddress.Loopback, 0)).ToList();
        listeners.ForEach(listener => listener.Start());
        var ports = listeners.Select(listener => ((IPEndPoint)listener.LocalEndpoint).Port).ToArray();
        listeners.ForEach(listener => listener.Stop());
        return ports;
    }

    private static Process Start(params string[] args)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardInput = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "Junctra.StandIns.dll"));
        foreach (var arg in args) start.ArgumentList.Add(arg);
        return Process.Start(start)!;
    }
}
