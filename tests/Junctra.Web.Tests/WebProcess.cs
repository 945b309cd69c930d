using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;
using Junctra.Testing;

namespace Junctra.Web.Tests;

/// <summary>
/// The web program as a process of its own, which a test may kill, stop and start again. Several on one database share what cookies they
/// are given, as a browser behind a proxy does.
/// </summary>
internal sealed class WebProcess(
    string connection,
    string library,
    StandInProcess phones,
    string? store = null,
    string? open = null,
    string? loaders = null,
    CookieContainer? cookies = null
) : IAsyncDisposable
{
    private readonly int port = StandInProcess.FreePorts(1)[0];
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
                // Long enough for a machine with other work: a run that no writer took within it is ended.
                ("Junctra__LeaseSeconds", "6"),
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
            async () => !process.HasExited && (await client.GetAsync("/healthz")).IsSuccessStatusCode,
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

    /// <summary>Asks the program to end, as the service manager does, and waits until it has.</summary>
    public async Task StopAsync()
    {
        using var kill = Process.Start("kill", ["-TERM", process!.Id.ToString()]);
        await process.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (process is { HasExited: false })
            await KillAsync();
        process?.Dispose();
        client.Dispose();
    }
}
