namespace Junctra.Formats.Archives;

/// <summary>A file is made to harm this computer, and no more of it is read; the message is one sentence about it.</summary>
internal sealed class TrapException(string message) : Exception(message);
