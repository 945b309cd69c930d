namespace Junctra.Store;

/// <summary>Another writer holds the run, or nobody does any more: this one must stop at once.</summary>
public sealed class RunLostException(int runId, Exception? inner = null)
    : Exception($"Run {runId} is no longer held by this writer.", inner);
