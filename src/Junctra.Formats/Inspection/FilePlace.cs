namespace Junctra.Formats.Inspection;

/// <summary>Where a file lies, as far as that decides whether it may be written from.</summary>
public static class FilePlace
{
    private static readonly string[] NetworkTypes =
    [
        "nfs",
        "nfs4",
        "cifs",
        "smb3",
        "smbfs",
        "ncpfs",
        "afs",
        "ceph",
        "9p",
        "fuse.sshfs",
        "fuse.davfs",
        "davfs",
        "fuse.curlftpfs",
        "fuse.rclone",
    ];

    /// <summary>The kind of network file system on which a path lies, or null when it is on this computer.</summary>
    public static string? NetworkOf(string path) => NetworkOf(Path.GetFullPath(path), Mounts());

    /// <summary>The same, by a table of mounts.</summary>
    /// <param name="fullPath">Absolute path.</param>
    /// <param name="mounts">Lines of the form of <c>/proc/mounts</c>: device, place, type, and more.</param>
    public static string? NetworkOf(string fullPath, IEnumerable<string> mounts)
    {
        var (place, type) = mounts
            .Select(line => line.Split(' '))
            .Where(parts => parts.Length >= 3)
            .Select(parts => (Place: parts[1].Replace("\\040", " "), Type: parts[2]))
            .Where(mount => fullPath == mount.Place || fullPath.StartsWith(mount.Place.TrimEnd('/') + "/", StringComparison.Ordinal))
            // Of two mounts at one place the later one counts.
            .Reverse()
            .MaxBy(mount => mount.Place.Length);
        return place is not null && NetworkTypes.Contains(type) ? type : null;
    }

    private static string[] Mounts() => File.Exists("/proc/mounts") ? File.ReadAllLines("/proc/mounts") : [];
}
