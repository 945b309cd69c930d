using System.Buffers.Binary;
using System.Runtime.InteropServices;

namespace Junctra.Formats.Inspection;

/// <summary>Asks the system what a path leads to, without opening it: a pipe that is opened waits for somebody at its other end.</summary>
/// <remarks><c>statx(2)</c>: its structure is the same on every processor, the kind stands in the upper four bits of the 16 at
/// 28.</remarks>
public static class FileKind
{
    private const int HereAndNow = -100;
    private const uint WantsKind = 1;
    private const int ModeAt = 28;
    private const int KindBits = 0xF000;
    private const int Regular = 0x8000;

    /// <summary>Whether a path leads, over links too, to a regular file.</summary>
    public static bool IsRegular(string path)
    {
        if (path.Contains('\0'))
            return false;
        var told = new byte[256];
        return Statx(HereAndNow, path, 0, WantsKind, told) == 0
            && (BinaryPrimitives.ReadUInt16LittleEndian(told.AsSpan(ModeAt)) & KindBits) == Regular;
    }

    [DllImport("libc", EntryPoint = "statx", CharSet = CharSet.Ansi, BestFitMapping = false, ThrowOnUnmappableChar = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int Statx(int folder, [MarshalAs(UnmanagedType.LPUTF8Str)] string path, int flags, uint mask, [Out] byte[] told);
}
