using System.Globalization;
using System.Security.Cryptography;
using Junctra.Store.Operation;

namespace Junctra.Web.Operation;

/// <summary>
/// Key and end of the chain over the audit, in the folder of the key that protects the keys: only this program's user reads it, and no copy
/// of the database has it.
/// </summary>
internal sealed class AuditHeadFile(string folder) : IAuditHead
{
    private const int KeyBytes = 32;
    private readonly string head = Path.Combine(folder, "audit-end");
    private readonly Lazy<byte[]> key = new(() => Make(Path.Combine(folder, "audit-key")));

    public byte[] Key => key.Value;

    public (long Seq, byte[] Link) Read()
    {
        if (!File.Exists(head))
            return (0, []);
        // A file that somebody cut or wrote over must not pass for none.
        return
            File.ReadAllText(head).Split(' ', StringSplitOptions.TrimEntries) is [var seq, var link]
            && long.TryParse(seq, CultureInfo.InvariantCulture, out var number)
            ? (number, Convert.FromHexString(link))
            : throw new InvalidDataException($"{head} is not what this program writes. Put it back from the last backup.");
    }

    public void Write(long seq, byte[] link)
    {
        var partial = $"{head}.{Guid.NewGuid():N}";
        WriteMine(
            partial,
            System.Text.Encoding.ASCII.GetBytes($"{seq.ToString(CultureInfo.InvariantCulture)} {Convert.ToHexStringLower(link)}\n")
        );
        File.Move(partial, head, overwrite: true);
    }

    private static byte[] Make(string path)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        if (!File.Exists(path))
        {
            var partial = $"{path}.{Guid.NewGuid():N}";
            WriteMine(partial, RandomNumberGenerator.GetBytes(KeyBytes));
            try
            {
                // Two web processes that start at once: the first one's key counts.
                File.Move(partial, path, overwrite: false);
            }
            catch (IOException) when (File.Exists(path))
            {
                File.Delete(partial);
            }
        }

        return File.ReadAllBytes(path) is { Length: KeyBytes } bytes
            ? bytes
            : throw new InvalidDataException($"{path} is not {KeyBytes} bytes. Put it back from the last backup.");
    }

    private static void WriteMine(string path, byte[] bytes)
    {
        var mine = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            mine.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        using var file = new FileStream(path, mine);
        file.Write(bytes);
        file.Flush(flushToDisk: true);
    }
}
