namespace Junctra.Link.Bench;

/// <summary>What a phone in download mode is told of an image before the first byte.</summary>
/// <param name="Partition">Its partition.</param>
/// <param name="Sha256">Digest of the whole image as it lies in the package.</param>
public sealed record AnnouncedImage(string Partition, string Sha256);
