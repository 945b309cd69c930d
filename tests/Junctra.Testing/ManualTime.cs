namespace Junctra.Testing;

/// <summary>A clock that moves when a test says so.</summary>
public sealed class ManualTime(DateTimeOffset start) : TimeProvider
{
    private DateTimeOffset now = start;

    public override DateTimeOffset GetUtcNow() => now;

    public override long TimestampFrequency => TimeSpan.TicksPerSecond;

    public override long GetTimestamp() => now.UtcTicks;

    public void Advance(TimeSpan by) => now += by;
}
