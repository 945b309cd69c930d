namespace Junctra.Formats.Images;

/// <summary>
/// The beginning of an image contradicts itself or the image; the message is a sentence part that follows the image's name.
/// </summary>
public sealed class ImageFormatException(string message) : FormatException(message);
