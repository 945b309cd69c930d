namespace Junctra.StandIns.History;

/// <summary>Chance of a seed: the same seed gives the same history on every computer.</summary>
internal sealed class Dice(int seed)
{
    private readonly Random random = new(seed);

    /// <summary>From 0 to 1, 1 left out.</summary>
    public double Next() => random.NextDouble();

    public bool Chance(double share) => Next() < share;

    public int Below(int end) => random.Next(end);

    public T Pick<T>(IReadOnlyList<T> of) => of[Below(of.Count)];

    /// <summary>One of several, by their weights.</summary>
    public T Pick<T>(IReadOnlyList<T> of, Func<T, double> weight)
    {
        var left = Next() * of.Sum(weight);
        foreach (var one in of)
            if ((left -= weight(one)) < 0)
                return one;
        return of[^1];
    }

    /// <summary>Around 0, with a spread of 1.</summary>
    public double Normal() => Math.Sqrt(-2 * Math.Log(1 - Next())) * Math.Cos(2 * Math.PI * Next());

    /// <summary>Around 1 in the logarithm: by how much something strays.</summary>
    public double Strays(double spread) => Math.Exp(spread * Normal());
}
