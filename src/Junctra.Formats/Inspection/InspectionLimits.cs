namespace Junctra.Formats.Inspection;

/// <summary>What an archive may ask of this computer. Archives are hostile until proven.</summary>
/// <param name="MostMembers">Members of a package, those of archives inside it counted too.</param>
/// <param name="MostDepth">How deep archives may lie in each other; the package file itself is 1.</param>
/// <param name="MostUnpackedBytes">What all compressed members may unpack to.</param>
/// <param name="MostUnpackedTimes">How many times the size of the file they may unpack to; no compression that is read here
/// honestly reaches it, archives packed into each other to fill a disk do.</param>
/// <param name="MostExpandedImageBytes">Size of one expanded image.</param>
/// <param name="MostExpandedBytes">Size of all expanded images.</param>
/// <param name="MostTextBytes">Largest member that is looked at as a text.</param>
public sealed record InspectionLimits(
    int MostMembers, int MostDepth, long MostUnpackedBytes, int MostUnpackedTimes, long MostExpandedImageBytes, long MostExpandedBytes, int MostTextBytes)
{
    /// <summary>4,096 members, archives 3 deep, 64 GiB unpacked and 1,100 times the file, 32 GiB an image expanded, 64 GiB in all,
    /// texts up to 64 KiB.</summary>
    public static InspectionLimits Default { get; } = new(4096, 3, 64L << 30, 1100, 32L << 30, 64L << 30, 64 << 10);

    /// <summary>Unpacking is free of <see cref="MostUnpackedTimes"/> up to here: small texts compress as well as bombs.</summary>
    internal const long UnpackedFreely = 64 << 20;
}
