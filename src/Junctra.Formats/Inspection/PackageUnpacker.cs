using Junctra.Core.Packages;

namespace Junctra.Formats.Inspection;

/// <summary>Takes images out of their archives and wrappings, and holds each against what the inspection found.</summary>
public static class PackageUnpacker
{
    /// <summary>Unpacks images.</summary>
    /// <param name="open">Opens the package file from its first byte, seekable; called more than once.</param>
    /// <param name="images">Members with images that do not lie plainly in the file, each with the stream that takes it.</param>
    /// <param name="password">Opens locked members, or null.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="InvalidDataException">An image is no longer what the inspection found.</exception>
    public static async Task UnpackAsync(
        Func<Stream> open,
        IReadOnlyDictionary<PackageMember, Stream> images,
        string? password = null,
        CancellationToken cancel = default
    )
    {
        var wanted = images.ToDictionary(pair => pair.Key.Number, pair => pair.Value);
        var walk = new PackageWalk(
            open,
            InspectionLimits.Default,
            number => wanted.GetValueOrDefault(number),
            new WalkMeter(null),
            password
        );
        var found = await walk.WalkAsync(cancel).ConfigureAwait(false);
        foreach (var (member, stream) in images)
        {
            if (found.Members.FirstOrDefault(other => other.Number == member.Number)?.Image?.Sha256 != member.Image!.Sha256)
                throw new InvalidDataException($"{member.Name} does not unpack to what was found in the package when it was checked.");
            await stream.FlushAsync(cancel).ConfigureAwait(false);
        }
    }
}
