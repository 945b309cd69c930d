using Junctra.Core.Plans;
using Junctra.Core.Runs;

namespace Junctra.Link.Running;

/// <summary>
/// The pen of one run: writes events down in their order, folds them as they are written, and thins out progress. What a writer knows of
/// its run is this fold and nothing else.
/// </summary>
/// <param name="plan">The plan.</param>
/// <param name="before">What the journal already holds.</param>
/// <param name="journal">Writes an event down; returns once it is safe.</param>
/// <param name="time">Clock for thinning out progress.</param>
internal sealed class RunLog(Plan plan, IReadOnlyList<JournalEntry> before, Func<RunEvent, ValueTask> journal, TimeProvider time)
{
    private static readonly TimeSpan ProgressEvery = TimeSpan.FromMilliseconds(250);

    /// <summary>Words of the phone that are kept for one step; a chatty peer must not fill the journal.</summary>
    private const int MaxSaid = 20;

    private readonly List<string> said = [];
    private Task telling = Task.CompletedTask;
    private long lastTold;
    private (string? Partition, long Bytes) sent;

    /// <summary>The run as it was written down so far.</summary>
    public RunState State { get; private set; } = RunState.Of(plan, before);

    /// <summary>Bytes of the image at hand that were given to the link, told or not.</summary>
    public long SentInImage => sent.Bytes;

    /// <summary>Writes an event down after all that was told before it.</summary>
    public async ValueTask WriteAsync(RunEvent what)
    {
        await telling.ConfigureAwait(false);
        await journal(what).ConfigureAwait(false);
        Fold(what);
        if (what is StepStarted or ImageAccepted)
            sent = default;
    }

    /// <summary>Bytes under way are worth a line, not a wait: what the phone accepted is written down in its place all the same.</summary>
    public async ValueTask TellAsync(int step, string? partition, long bytes)
    {
        sent = (partition, bytes);
        var now = time.GetTimestamp();
        if (lastTold != 0 && time.GetElapsedTime(lastTold, now) < ProgressEvery)
            return;
        lastTold = now;
        if (telling.IsCompletedSuccessfully)
        {
            var what = new BytesSent(step, bytes, partition);
            telling = journal(what).AsTask();
            Fold(what);
        }
        else if (telling.IsCompleted)
        {
            await telling.ConfigureAwait(false);
        }
    }

    /// <summary>Keeps words of the phone for the next <see cref="WriteSaidAsync"/>.</summary>
    public void Hear(string text)
    {
        if (said.Count < MaxSaid)
            said.Add(text);
    }

    /// <summary>Writes down what the phone said.</summary>
    public async Task WriteSaidAsync()
    {
        foreach (var text in said)
            await WriteAsync(new PhoneSaid(text)).ConfigureAwait(false);
        said.Clear();
    }

    /// <summary>Progress is thinned out; how far the last image came is worth its line at the end.</summary>
    public async Task WriteHowFarAsync()
    {
        await WriteSaidAsync().ConfigureAwait(false);
        if (sent.Bytes > 0 && State.Step is { } step)
            await WriteAsync(new BytesSent(step.Number, sent.Bytes, sent.Partition)).ConfigureAwait(false);
    }

    private void Fold(RunEvent what) => State = State.After(new JournalEntry(State.LastSeq + 1, time.GetUtcNow(), what));
}
