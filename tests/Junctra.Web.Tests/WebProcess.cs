using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;
using Junctra.Testing;

namespace Junctra.Web.Tests;

/// <summary>
/// The web program as a process of its own, which a test may kill, stop and start again. Several on one database share what cookies they
/// are given, as a browser behind a proxy does. Its clock can be set, by what stands in a file: <c>+2h</c> is two hours ahead.
/// It makes a timetable only where a test is about that: making it costs more than all else that such a process does.
/// </summary>
internal sealed class WebProcess(
    string connection,
    string library,
    StandInProcess phones,
    string? store = null,
    string? open = null,
    string? loaders = null,
    CookieContainer? cookies = null,
    string? clock = null,
    bool keepsTimetable = false
) : IAsyncDisposable
{
    private readonly int port = StandInProcess.FreePorts(1)[0];

    // Its own, as its database is: the end of the chain over the audit stands there.
    private readonly string keys = store is null ? SealingKey.NewFolder() : SealingKey.In(store + ".keys");
    private Process? process;
    private HttpClient client = new();

    /// <summary>Id of the process.</summary>
    public int Id => process!.Id;

    /// <summary>Starts the program and waits until it serves and knows the library.</summary>
    public async Task StartAsync()
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "Junctra.Web.dll"));
        start.ArgumentList.Add("--contentRoot");
        start.ArgumentList.Add(Path.Combine(Repo.Root, "src", "Junctra.Web"));
        foreach (
            var (name, value) in new[]
            {
                ("ConnectionStrings__Junctra", connection),
                ("ASPNETCORE_URLS", $"http://127.0.0.1:{port}"),
                ("ASPNETCORE_ENVIRONMENT", "Production"),
                ("Junctra__Catalogue", Repo.CatalogueFolder),
                ("Junctra__Library", library),
                ("Junctra__Keys", keys),
                // Long enough for a machine with other work: a run that no writer took within it is ended.
                ("Junctra__LeaseSeconds", "6"),
                ("Junctra__KeepsTimetable", keepsTimetable ? "true" : "false"),
                ("Junctra__DemoPorts__A", phones.A.ToString()),
                ("Junctra__DemoPorts__B", phones.B.ToString()),
                ("Junctra__DemoPorts__C", phones.C.ToString()),
            }
        )
            start.Environment[name] = value;
        if (store is not null)
            start.Environment["Junctra__Store"] = store;
        if (open is not null)
            start.Environment["Junctra__AllowedRoots__0"] = open;
        if (loaders is not null)
            start.Environment["Junctra__Loaders"] = loaders;
        if (store is not null)
            start.Environment["Junctra__DemoMirrors__Quay"] = phones.Hands + "quay";
        if (clock is not null)
        {
            start.Environment["LD_PRELOAD"] = Directory
                .GetDirectories("/usr/lib", "*-linux-gnu")
                .Select(folder => Path.Combine(folder, "faketime", "libfaketimeMT.so.1"))
                .FirstOrDefault(File.Exists)
                ?? throw new InvalidOperationException("Setting a program's clock needs Debian's package libfaketime.");
            start.Environment["FAKETIME_TIMESTAMP_FILE"] = clock;
            start.Environment["FAKETIME_CACHE_DURATION"] = "1";
            // A computer's clock is set; the time that has gone by is not.
            start.Environment["FAKETIME_DONT_FAKE_MONOTONIC"] = "1";
            // The run time waits by the clock that is not set; corrected, its waits would be over at once.
            start.Environment["FAKETIME_FORCE_MONOTONIC_FIX"] = "0";
        }

        process = Process.Start(start)!;
        // What it says matters only to somebody who looks for a fault; a full pipe would hold it up.
        process.OutputDataReceived += (_, line) =>
        {
            if (Environment.GetEnvironmentVariable("JUNCTRA_TEST_TALK") is { } file)
                File.AppendAllText(file, line.Data + "\n");
        };
        process.BeginOutputReadLine();
        client = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false, CookieContainer = cookies ?? new CookieContainer() })
        {
            BaseAddress = new Uri($"http://127.0.0.1:{port}"),
        };
        await Until.TrueAsync(
            async () =>
                process.HasExited
                    ? throw new InvalidOperationException($"The web program ended with {process.ExitCode} before it served.")
                    : (await client.GetAsync("/healthz")).IsSuccessStatusCode,
            "the web program serves"
        );
        if (cookies is not { Count: > 0 })
            await WebWorld.SignInAsync(client);
        if (store is null && loaders is null)
            await Until.TrueAsync(
                async () => Regex.Count(await client.GetStringAsync("/packages"), "<tr data-row") == DemoLibrary.Count,
                "the library is looked through"
            );
    }

    public async Task<bool> IsHealthyAsync() => (await client.GetAsync("/healthz")).IsSuccessStatusCode;

    /// <summary>A page that need not be well.</summary>
    public async Task<(HttpStatusCode Status, string Text)> TryAsync(string path)
    {
        var answer = await client.GetAsync(path);
        return (answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    public async Task<string> GetAsync(string path) => WebUtility.HtmlDecode(await client.GetStringAsync(path));

    public async Task<(HttpStatusCode Status, string Text)> PostAsync(string page, string? handler, params (string, string)[] fields)
    {
        var answer = await WebWorld.PostAsync(client, page, handler, fields);
        return (answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    /// <summary>Begins to read something that takes its time; what comes of it is nobody's business.</summary>
    public async Task AskAsync(string path)
    {
        try
        {
            await client.GetByteArrayAsync(path);
        }
        catch (Exception error) when (error is HttpRequestException or IOException or OperationCanceledException) { }
    }

    /// <summary>Follows a run live, as an open page does.</summary>
    public async Task<Stream> WatchAsync(int runId) => await client.GetStreamAsync($"/runs/{runId}/events");

    /// <summary>Ends the program as a power cut would.</summary>
    public async Task KillAsync()
    {
        process!.Kill();
        await process.WaitForExitAsync();
    }

    /// <summary>Holds the program still, as a computer that is suspended does.</summary>
    public Task HoldAsync() => SignalAsync("STOP");

    /// <summary>Lets it go on where it was held.</summary>
    public Task LetGoAsync() => SignalAsync("CONT");

    private async Task SignalAsync(string signal)
    {
        using var kill = Process.Start("kill", [$"-{signal}", process!.Id.ToString()]);
        await kill.WaitForExitAsync();
    }

    /// <summary>Asks the program to end, as the service manager does, and waits until it has.</summary>
    public async Task StopAsync()
    {
        await SignalAsync("TERM");
        await process!.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (process is { HasExited: false })
            await KillAsync();
        process?.Dispose();
        client.Dispose();
        if (store is null)
            Directory.Delete(keys, recursive: true);
    }
}
