using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>A file that was saved from a phone.</summary>
/// <param name="Name">Its name on the phone.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Sha256">Its digest, under which it is kept.</param>
public sealed record SavedFile(string Name, long Bytes, string Sha256);

/// <summary>What was saved from a phone before something else was done with it.</summary>
/// <param name="KeptIn">Name of the folder in which the files are kept, each under its digest.</param>
/// <param name="Files">The files; nobody looks into them.</param>
public sealed record SavedData(string KeptIn, IReadOnlyList<SavedFile> Files);

/// <summary>Brings back to a phone what was saved from it, each file under the name it had; each copy is compared.</summary>
/// <param name="Means">Over which link.</param>
/// <param name="Saved">What was saved.</param>
public sealed record BringBack(SavingMeans Means, SavedData Saved) : Act
{
    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => Means == SavingMeans.RecoveryLink ? PhoneMode.CustomRecovery : PhoneMode.System;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    private long Bytes => Saved.Files.Sum(file => file.Bytes);

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Bring back the saved data, {Saved.Files.Count} {(Saved.Files.Count == 1 ? "file" : "files")}, and compare each copy",
            "Bringing the saved data back",
            PhoneScreens.Of(In!.Value),
            "All lies on the phone again; each digest is the one of before. The copy here is deleted after hand-back."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Copy;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => WriteImage.Transfer(Bytes, figures);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) =>
        [new TimePasses((long)(WriteImage.Transfer(Bytes, scene.Catalogue.Figures).Typical * 1000))];
}
