namespace Junctra.Formats.Inspection;

/// <summary>What an archive may ask of this computer. Archives are hostile until proven.</summary>
/// <param name="MaxMembers">Members of a package, those of archives inside it counted too.</param>
/// <param name="MaxDepth">How deep archives may lie in each other; the package file itself is 1.</param>
/// <param name="MaxUnpackedBytes">What all compressed members may unpack to.</param>
/// <param name="MaxUnpackedTimes">How many times the size of the file they may unpack to; no compression that is read here
/// honestly reaches it, archives packed into each other to fill a disk do.</param>
/// <param name="MaxExpandedImageBytes">Size of one expanded image.</param>
/// <param name="MaxExpandedBytes">Size of all expanded images.</param>
/// <param name="MaxTextBytes">Largest member that is looked at as a text.</param>
/// <param name="MaxNameCharacters">Longest name of a member.</param>
/// <param name="MaxNamesCharacters">All names together.</param>
public sealed record InspectionLimits(
    int MaxMembers,
    int MaxDepth,
    long MaxUnpackedBytes,
    int MaxUnpackedTimes,
    long MaxExpandedImageBytes,
    long MaxExpandedBytes,
    int MaxTextBytes,
    int MaxNameCharacters = 4096,
    int MaxNamesCharacters = 4 << 20
)
{
    /// <summary>4,096 members, archives 3 deep, 64 GiB unpacked and 1,100 times the file, 32 GiB an image expanded, 64 GiB in all,
    /// texts up to 1 MiB, names of 4,096 characters and 4 Mi characters in all.</summary>
    public static InspectionLimits Default { get; } = new(4096, 3, 64L << 30, 1100, 32L << 30, 64L << 30, 1 << 20);

    /// <summary>Unpacking is free of <see cref="MaxUnpackedTimes"/> up to here: small texts compress as well as bombs.</summary>
    internal const long UnpackedFreely = 64 << 20;

    /// <summary>An expanded image is digested up to here, and further as its own size allows.</summary>
    internal const long ExpandedFreely = 256 << 20;

    /// <summary>How many times its own size of an image is digested once expanded; beyond it stays without that digest.</summary>
    internal const int MaxExpandedTimes = 100;
}
