using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;

namespace Junctra.Bench;

/// <summary>Other programs, run and measured.</summary>
internal static class Programs
{
    /// <summary>Runs a program to its end.</summary>
    /// <returns>Seconds it took, and the most memory it held, in bytes.</returns>
    public static async Task<(double Seconds, long PeakBytes, string Output)> MeasureAsync(string program, params string[] args)
    {
        var watch = Stopwatch.StartNew();
        using var process = Start(program, args);
        var output = process.StandardOutput.ReadToEndAsync();
        long peak = 0;
        var ending = process.WaitForExitAsync();
        while (await Task.WhenAny(ending, Task.Delay(20)) != ending)
            peak = Math.Max(peak, PeakOf(process.Id));
        var seconds = watch.Elapsed.TotalSeconds;
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"{program} {string.Join(' ', args)} ended with {process.ExitCode}.");
        return (seconds, peak, await output);
    }

    public static Process Start(string program, params string[] args) => Start(program, [], args);

    /// <summary>Starts a program with settings of its own.</summary>
    public static Process Start(string program, Dictionary<string, string> environment, params string[] args)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true };
        foreach (var (name, value) in environment)
            start.Environment[name] = value;
        foreach (var arg in args)
            start.ArgumentList.Add(arg);
        return Process.Start(start)!;
    }

    /// <summary>
    /// Starts a program that serves until it is ended. What it complains of is said; and a pipe that nobody reads would hold it up.
    /// </summary>
    public static Process Serve(string program, Dictionary<string, string> environment, params string[] args)
    {
        var process = Start(program, environment, args);
        process.OutputDataReceived += (_, line) =>
        {
            if (line.Data?.Contains("\"@l\":\"Error\"", StringComparison.Ordinal) == true)
                Console.WriteLine(line.Data[..Math.Min(600, line.Data.Length)]);
        };
        process.BeginOutputReadLine();
        return process;
    }

    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    public static async Task UntilAsync(Func<Task<bool>> condition)
    {
        for (var i = 0; i < 600; i++)
        {
            try
            {
                if (await condition())
                    return;
            }
            catch (Exception error) when (error is HttpRequestException or SocketException)
            {
                // Not yet.
            }

            await Task.Delay(50);
        }

        throw new TimeoutException("Waited in vain.");
    }

    private static long PeakOf(int process)
    {
        try
        {
            var line = File.ReadLines($"/proc/{process}/status")
                .FirstOrDefault(text => text.StartsWith("VmHWM:", StringComparison.Ordinal));
            return line is null
                ? 0
                : long.Parse(line.Split(' ', StringSplitOptions.RemoveEmptyEntries)[1], CultureInfo.InvariantCulture) * 1024;
        }
        catch (IOException)
        {
            return 0;
        }
    }
}
