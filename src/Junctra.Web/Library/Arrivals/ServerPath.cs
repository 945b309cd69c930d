using Junctra.Formats.Inspection;

namespace Junctra.Web.Library.Arrivals;

/// <summary>Paths of this computer that a person may name.</summary>
internal static class ServerPath
{
    /// <summary>The real path of a file below one of the roots, links followed; null where it is none.</summary>
    public static string? Resolve(string path, IEnumerable<string> roots)
    {
        try
        {
            var file = new FileInfo(Path.GetFullPath(path));
            if (path.Length > 4096 || !file.Exists || file.Attributes.HasFlag(FileAttributes.Directory))
                return null;
            var real = RealPath(file.FullName);
            // A pipe or a device is never opened: nobody knows how long it makes one wait.
            if (!FileKind.IsRegular(real))
                return null;
            return roots.Any(root => real.StartsWith(RealPath(Path.GetFullPath(root)).TrimEnd('/') + "/", StringComparison.Ordinal))
                ? real
                : null;
        }
        catch (Exception error) when (error is IOException or ArgumentException or UnauthorizedAccessException or NotSupportedException)
        {
            return null;
        }
    }

    /// <summary>The path with every link on the way followed.</summary>
    private static string RealPath(string path)
    {
        var real = "/";
        foreach (var part in path.Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            var next = Path.Combine(real, part);
            var target = Directory.Exists(next)
                ? new DirectoryInfo(next).ResolveLinkTarget(true)
                : new FileInfo(next).ResolveLinkTarget(true);
            real = target is null ? next : RealPath(target.FullName);
        }

        return real;
    }
}
