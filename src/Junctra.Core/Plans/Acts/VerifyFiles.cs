using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Reads the whole package file again, holds it against its digest, and unpacks what does not lie plainly in it. The phone is not needed
/// yet.
/// </summary>
/// <param name="Bytes">Size of the file.</param>
/// <param name="UnpackedBytes">What must be unpacked of it, or 0.</param>
public sealed record VerifyFiles(long Bytes, long UnpackedBytes) : Act
{
    private const double Gigabyte = 1e9;

    /// <inheritdoc/>
    public override ActBy By => ActBy.Computer;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Verify {ByteSize.Text(Bytes)} against its digest{(UnpackedBytes > 0 ? $", unpack {ByteSize.Text(UnpackedBytes)}" : "")}",
            "Verifying the package",
            "What it showed before",
            "The digest is the one that was matched."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Reading(Bytes, figures);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [];

    /// <summary>Seconds to read so many bytes and take their digest.</summary>
    internal static Band Reading(long bytes, Figures figures) =>
        new(figures.DigestSecondsPerGigabyte.Typical * bytes / Gigabyte, figures.DigestSecondsPerGigabyte.Slow * bytes / Gigabyte);
}
