namespace Junctra.Web.Library;

/// <summary>How far the look through the library has come.</summary>
/// <param name="FileName">The file at hand.</param>
/// <param name="BytesRead">Bytes of it that were read.</param>
/// <param name="SizeBytes">Its size.</param>
/// <param name="Left">Files that wait after it.</param>
public sealed record LibraryProgress(string FileName, long BytesRead, long SizeBytes, int Left);
