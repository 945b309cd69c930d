using System.Diagnostics;

namespace Junctra.Web.Library.Arrivals;

/// <summary>Names a program of a computer, so that another start of it knows whether that one still lives.</summary>
internal static class WorkerName
{
    public static string Of(int process) => $"{Environment.MachineName}:{process}:{StartOf(process)}";

    /// <summary>Whether it is a program of this computer that no longer runs.</summary>
    public static bool IsGone(string worker) =>
        worker.Split(':') is [var machine, var process, var start, ..]
        && machine == Environment.MachineName
        && int.TryParse(process, out var id)
        && StartOf(id).ToString(System.Globalization.CultureInfo.InvariantCulture) != start;

    private static long StartOf(int process)
    {
        try
        {
            return new DateTimeOffset(Process.GetProcessById(process).StartTime).ToUnixTimeMilliseconds() / 100;
        }
        catch (Exception error) when (error is ArgumentException or InvalidOperationException or System.ComponentModel.Win32Exception)
        {
            return 0;
        }
    }
}
