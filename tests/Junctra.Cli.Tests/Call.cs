using System.CommandLine;
using System.Diagnostics;
using Junctra.Testing;

namespace Junctra.Cli.Tests;

/// <summary>Calls the command line from the checkout.</summary>
internal static class Call
{
    // Paths without a folder are of the checkout, as for somebody who stands there.
    static Call() => Environment.CurrentDirectory = Repo.Root;

    /// <summary>Calls it within this process: a start of a program costs more than nearly all that one is asked.</summary>
    /// <returns>How it ended, and what it printed where.</returns>
    public static async Task<(int Code, string Out, string Error)> RunAsync(params string[] args)
    {
        using var output = new StringWriter();
        using var error = new StringWriter();
        var code = await CommandLine
            .Root()
            .Parse(args)
            .InvokeAsync(
                new InvocationConfiguration
                {
                    Output = output,
                    Error = error,
                    EnableDefaultExceptionHandler = false,
                }
            );
        return (code, output.ToString(), error.ToString());
    }

    /// <summary>Runs the program itself, as a shell does.</summary>
    /// <returns>How it ended, and what it printed where.</returns>
    public static async Task<(int Code, string Out, string Error)> ProgramAsync(params string[] args)
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
