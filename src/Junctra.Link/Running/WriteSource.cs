using System.Security.Cryptography;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>Where a write takes its images from: one package, or a patched part and the bundle that it is written with.</summary>
internal sealed class WriteSource(WriteOrder order) : IAsyncDisposable
{
    private readonly List<PackageSource> packages = [.. order.Files.Select(file => new PackageSource(order, file))];
    private (FileStream File, string Sha256)? part;

    /// <inheritdoc cref="PackageSource.ReadyAsync"/>
    public async Task ReadyAsync(CancellationToken cancel)
    {
        foreach (var package in packages)
            await package.ReadyAsync(cancel).ConfigureAwait(false);
    }

    /// <summary>An image of the plan, and its bytes as the phone is given them, seekable from position 0.</summary>
    /// <exception cref="InvalidDataException">The packages as they are read now have no such image.</exception>
    public (PackageImage Image, Stream Bytes) Open(PlannedImage planned)
    {
        foreach (var package in packages)
        {
            if (package.Find(planned) is { } image)
                return (image, package.Open(image));
        }

        throw new InvalidDataException($"The package has no image for {planned.Partition} that is the one of the plan.");
    }

    /// <summary>The file of the first package, as it lies here.</summary>
    public Stream WholePackage() => packages[0].OpenWhole();

    /// <summary>
    /// The part of the bundle that the plan takes out of it, with its digest; taken out once for each time that a run is carried on.
    /// </summary>
    public async Task<(Stream File, string Sha256)> PartAsync(CancellationToken cancel)
    {
        if (part is not { } ready)
        {
            var archive = order.Plan.Steps.Select(step => step.Act).OfType<UnpackPart>().First().Archive!;
            var copy = await packages[0].CopyArchiveAsync(archive, cancel).ConfigureAwait(false);
            copy.Position = 0;
            part = ready = (copy, Convert.ToHexStringLower(await SHA256.HashDataAsync(copy, cancel).ConfigureAwait(false)));
        }

        return ready;
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var package in packages)
            await package.DisposeAsync().ConfigureAwait(false);
        if (part is { } open)
            await open.File.DisposeAsync().ConfigureAwait(false);
    }
}
