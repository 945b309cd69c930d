using System.Diagnostics;
using Junctra.Testing;

namespace Junctra.Cli.Tests;

/// <summary>Runs the command line as a shell does.</summary>
internal static class Shell
{
    /// <summary>Runs it in the checkout.</summary>
    /// <returns>How it ended, and what it printed where.</returns>
    public static async Task<(int Code, string Out, string Error)> RunAsync(params string[] args)
    {
        var start = new ProcessStartInfo("dotnet")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = Repo.Root,
        };
        foreach (var arg in args.Prepend(Path.Combine(AppContext.BaseDirectory, "Junctra.Cli.dll")))
            start.ArgumentList.Add(arg);
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, output, await error);
    }
}
