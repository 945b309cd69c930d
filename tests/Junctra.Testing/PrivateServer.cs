using System.Diagnostics;
using Npgsql;

namespace Junctra.Testing;

/// <summary>
/// A database server of a test's own, which the test may do to what no other would survive: end it as a power cut does, hold it still as
/// a disk does that answers nothing, fill its disk. Debian's packages, on loopback, in a folder that is gone afterwards.
/// </summary>
public sealed class PrivateServer : IAsyncDisposable
{
    /// <summary>Enough for a cluster with what two writes bring; what is left of it is filled within a moment.</summary>
    private const string DiskSize = "256m";

    private const string Place = "/var/tmp",
        Prefix = "junctra-server-";

    private readonly string folder;
    private readonly bool hasDisk;
    private readonly int port = StandInProcess.FreePorts(1)[0];

    private PrivateServer(string folder, bool hasDisk) => (this.folder, this.hasDisk) = (folder, hasDisk);

    /// <summary>How the server is reached, without a database.</summary>
    public string Address => $"Host=127.0.0.1;Port={port};Username=junctra";

    private string Data => Path.Combine(folder, "data");

    private string Ballast => Path.Combine(folder, "ballast");

    private static bool IsRoot => Environment.UserName == "root";

    private static string Programs =>
        Directory
            .GetDirectories("/usr/lib/postgresql")
            .OrderByDescending(version => int.Parse(Path.GetFileName(version), System.Globalization.CultureInfo.InvariantCulture))
            .Select(version => Path.Combine(version, "bin"))
            .First();

    /// <summary>Makes a server and starts it.</summary>
    public static async Task<PrivateServer> StartAsync()
    {
        // Not below the folder of temporary files: the server's user may not enter what is only the tests' own.
        await SweepAsync();
        var folder = $"{Place}/{Prefix}{Environment.ProcessId}-{Guid.NewGuid():N}";
        Directory.CreateDirectory(folder);
        var hasDisk = IsRoot && await RunAsync("mount", "-t", "tmpfs", "-o", $"size={DiskSize}", "junctra-test", folder) == 0;
        var server = new PrivateServer(folder, hasDisk);
        if (IsRoot)
            await MustAsync("chown", "postgres", folder);
        await server.AsServerAsync("initdb", "-D", server.Data, "-U", "junctra", "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8");
        await File.AppendAllLinesAsync(
            Path.Combine(server.Data, "postgresql.conf"),
            [
                $"port = {server.port}",
                "listen_addresses = '127.0.0.1'",
                "unix_socket_directories = ''",
                "min_wal_size = 32MB",
                "max_wal_size = 64MB",
            ]
        );
        await server.StartAgainAsync();
        return server;
    }

    /// <summary>Ends it as a power cut would: nothing is written out, and the next start has to recover.</summary>
    public Task CrashAsync() => AsServerAsync("pg_ctl", "-D", Data, "-m", "immediate", "-w", "stop");

    /// <summary>Starts it, and waits until it serves.</summary>
    public Task StartAgainAsync() => AsServerAsync("pg_ctl", "-D", Data, "-l", Path.Combine(folder, "log"), "-w", "start");

    /// <summary>Holds it still with all its connections, as a disk that answers nothing does.</summary>
    public async Task HoldAsync()
    {
        foreach (var process in await ProcessesAsync())
            await MustAsync("kill", "-STOP", process);
    }

    /// <summary>Lets it go on.</summary>
    public async Task LetGoAsync()
    {
        foreach (var process in await ProcessesAsync())
            await RunAsync("kill", "-CONT", process);
    }

    /// <summary>Fills its disk.</summary>
    /// <returns>Whether it has one of its own that can be filled: only root can make one.</returns>
    public async Task<bool> FillDiskAsync()
    {
        if (!hasDisk)
            return false;
        try
        {
            var block = new byte[1 << 16];
            await using var file = new FileStream(Ballast, FileMode.Create, FileAccess.Write, FileShare.None, bufferSize: 0);
            while (true)
                await file.WriteAsync(block);
        }
        catch (IOException)
        {
            return true;
        }
    }

    /// <summary>Gives the room on its disk back. A server that could not write its log any more has ended and is started.</summary>
    public async Task FreeDiskAsync()
    {
        File.Delete(Ballast);
        if (await RunAsync(AsServer("pg_ctl", "-D", Data, "status")) != 0)
            await StartAgainAsync();
    }

    /// <summary>Ends what a test left that was ended itself, with its server running.</summary>
    private static async Task SweepAsync()
    {
        foreach (var left in Directory.GetDirectories(Place, Prefix + "*"))
        {
            var owner = Path.GetFileName(left)[Prefix.Length..].Split('-')[0];
            if (Directory.Exists($"/proc/{owner}"))
                continue;
            await RunAsync(AsServer("pg_ctl", "-D", Path.Combine(left, "data"), "-m", "immediate", "-w", "stop"));
            if (IsRoot)
                await RunAsync("umount", "-l", left);
            Directory.Delete(left, recursive: true);
        }
    }

    public async ValueTask DisposeAsync()
    {
        NpgsqlConnection.ClearAllPools();
        await LetGoAsync();
        await CrashAsync();
        if (hasDisk)
            await MustAsync("umount", "-l", folder);
        Directory.Delete(folder, recursive: true);
    }

    /// <summary>The server and all it has started.</summary>
    private async Task<IReadOnlyList<string>> ProcessesAsync()
    {
        var file = Path.Combine(Data, "postmaster.pid");
        if (!File.Exists(file))
            return [];
        var first = (await File.ReadAllLinesAsync(file))[0];
        using var listing = Process.Start(new ProcessStartInfo("ps", ["-o", "pid=", "--ppid", first]) { RedirectStandardOutput = true })!;
        var children = await listing.StandardOutput.ReadToEndAsync();
        await listing.WaitForExitAsync();
        return [first, .. children.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)];
    }

    private Task AsServerAsync(string program, params string[] args) => MustAsync(AsServer(program, args));

    private static string[] AsServer(string program, params string[] args) =>
        IsRoot ? ["runuser", "-u", "postgres", "--", Path.Combine(Programs, program), .. args] : [Path.Combine(Programs, program), .. args];

    private static async Task MustAsync(params string[] command)
    {
        if (await RunAsync(command) is not 0 and var code)
            throw new InvalidOperationException($"{string.Join(' ', command)} ended with {code}.");
    }

    private static async Task<int> RunAsync(params string[] command)
    {
        // A server that is started keeps what it is given: nothing of it is read here.
        using var process = Process.Start(
            new ProcessStartInfo("sh", ["-c", "\"$@\" >/dev/null 2>&1 </dev/null", "sh", .. command]) { WorkingDirectory = "/" }
        )!;
        await process.WaitForExitAsync();
        return process.ExitCode;
    }
}
