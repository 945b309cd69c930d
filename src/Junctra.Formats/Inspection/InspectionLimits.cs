namespace Junctra.Formats.Inspection;

/// <summary>What an archive may ask of this computer. Archives are hostile until proven.</summary>
/// <param name="MostMembers">Members of one archive.</param>
/// <param name="MostExpandedImageBytes">Size of one expanded image.</param>
/// <param name="MostExpandedBytes">Size of all expanded images.</param>
/// <param name="MostTextBytes">Largest member that is looked at as a text.</param>
public sealed record InspectionLimits(int MostMembers, long MostExpandedImageBytes, long MostExpandedBytes, int MostTextBytes)
{
    /// <summary>4,096 members, 32 GiB an image, 64 GiB in all, texts up to 64 KiB.</summary>
    public static InspectionLimits Default { get; } = new(4096, 32L << 30, 64L << 30, 64 << 10);
}
