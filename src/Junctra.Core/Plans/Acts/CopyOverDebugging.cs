using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Copies a file to the running phone over the debugging link, or fetches one from it; the copy is compared.</summary>
/// <param name="FromPhone">Whether it is fetched; else it is put there.</param>
/// <param name="What">What it is, in words.</param>
/// <param name="Bytes">Its size.</param>
public sealed record CopyOverDebugging(bool FromPhone, string What, long Bytes) : Act
{
    /// <summary>
    /// Name of the file on the phone, in what it has built in; what is fetched is what somebody made of that file there. Null in plans of
    /// before it was kept.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? FileName { get; init; }

    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.System;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            FromPhone ? $"Fetch {What} from the phone" : $"Copy {What} to the phone",
            FromPhone ? $"Fetching {What}" : $"Copying {What}",
            PhoneScreens.Of(PhoneMode.System),
            FromPhone ? "It lies on this computer; its digest is the phone's." : "It lies on the phone; its digest is this computer's."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Copy;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => WriteImage.Transfer(Bytes, figures);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) =>
        [new TimePasses((long)(WriteImage.Transfer(Bytes, scene.Catalogue.Figures).Typical * 1000))];
}
