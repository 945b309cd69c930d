namespace Junctra.Web.Library.Arrivals;

/// <summary>A mirror, or another source of bytes, does not give what it should; the message is for the technician.</summary>
/// <param name="message">One sentence, and what to do.</param>
/// <param name="mayTryAgain">Whether another try may go better by itself.</param>
/// <param name="isSpoilt">Whether the source gave a file that is damaged, cut off or not what it should be.</param>
public sealed class SourceException(string message, bool mayTryAgain = false, bool isSpoilt = false) : Exception(message)
{
    /// <summary>Whether the source gave a file that is damaged, cut off or not what it should be.</summary>
    public bool IsSpoilt { get; } = isSpoilt;

    /// <summary>Whether another try may go better by itself.</summary>
    public bool MayTryAgain { get; } = mayTryAgain;
}

/// <summary>A file that is about to come, from the byte that was asked for or from its first.</summary>
/// <param name="Body">Its bytes from <paramref name="From"/> on.</param>
/// <param name="From">Where they begin.</param>
/// <param name="SizeBytes">Size of the whole file, or null where the source does not say.</param>
/// <param name="Validator">What tells this state of the file from another, or null.</param>
/// <param name="Answer">What ends with it, or null.</param>
public sealed record OpenedSource(Stream Body, long From, long? SizeBytes, string? Validator, IDisposable? Answer = null) : IAsyncDisposable
{
    public async ValueTask DisposeAsync()
    {
        await Body.DisposeAsync();
        Answer?.Dispose();
    }
}

/// <summary>How long a mirror is waited for.</summary>
/// <param name="Answer">Until it begins to answer.</param>
/// <param name="Index">Until its index is whole: one that drips for ever is given up.</param>
/// <param name="Measure">While it is measured.</param>
public sealed record MirrorPatience(TimeSpan Answer, TimeSpan Index, TimeSpan Measure)
{
    /// <summary>As long as usual.</summary>
    public static MirrorPatience Usual { get; } = new(TimeSpan.FromSeconds(30), TimeSpan.FromSeconds(60), TimeSpan.FromSeconds(20));
}
