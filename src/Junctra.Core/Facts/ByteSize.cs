namespace Junctra.Core.Facts;

/// <summary>Sizes in words.</summary>
public static class ByteSize
{
    /// <summary>A size in decimal units with at most one decimal, for example <c>24.6 MB</c>.</summary>
    public static string Text(long bytes) =>
        bytes switch
        {
            < 1_000 => $"{bytes} bytes",
            < 1_000_000 => $"{bytes / 1e3:0.#} kB",
            < 1_000_000_000 => $"{bytes / 1e6:0.#} MB",
            _ => $"{bytes / 1e9:0.##} GB",
        };
}
