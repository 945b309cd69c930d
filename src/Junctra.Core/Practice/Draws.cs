namespace Junctra.Core.Practice;

/// <summary>Drawn from a seed alone, the same on every machine and with every runtime (SplitMix64).</summary>
/// <param name="seed">The seed.</param>
internal sealed class Draws(int seed)
{
    private ulong state = (ulong)seed;

    /// <summary>A number from 0, below an end above zero.</summary>
    public int Below(int end)
    {
        state += 0x9E3779B97F4A7C15;
        var mixed = (state ^ state >> 30) * 0xBF58476D1CE4E5B9;
        mixed = (mixed ^ mixed >> 27) * 0x94D049BB133111EB;
        return (int)((mixed ^ mixed >> 31) % (ulong)end);
    }

    /// <summary>One of several.</summary>
    public T Pick<T>(IReadOnlyList<T> of) => of[Below(of.Count)];
}
