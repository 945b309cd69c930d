namespace Junctra.Testing;

/// <summary>
/// How much of what takes long is tried: a few faults of each kind in every run of the suite, all of it where that is asked for.
/// </summary>
public static class Sampled
{
    /// <summary>Whether <c>JUNCTRA_EVERY_FAULT=1</c> is set, as <c>./junctra test every-fault</c> does.</summary>
    public static bool IsWhole { get; } = Environment.GetEnvironmentVariable("JUNCTRA_EVERY_FAULT") == "1";

    /// <summary>Where randomness begins: 0 in every run of the suite, <c>JUNCTRA_SEED</c> where faults are hammered.</summary>
    public static int Seed { get; } =
        int.TryParse(Environment.GetEnvironmentVariable("JUNCTRA_SEED"), System.Globalization.CultureInfo.InvariantCulture, out var seed)
            ? seed
            : 0;

    /// <summary>
    /// Notes that something was broken once more within a test, for whoever counts: a line in the file that <c>JUNCTRA_TRIED</c> names.
    /// </summary>
    public static void Tried()
    {
        if (Environment.GetEnvironmentVariable("JUNCTRA_TRIED") is { Length: > 0 } file)
            lock (Counting)
                File.AppendAllText(file, "1\n");
    }

    private static readonly Lock Counting = new();

    /// <summary>How many of all are tried in this run.</summary>
    public static int Of(int all, int few) => IsWhole ? all : few;

    /// <summary>
    /// How often what takes turns has had its own. Classes whose trait <c>Turn</c> is another than that of the run are left out of it:
    /// <c>./junctra test</c> sets <c>JUNCTRA_TURN</c> to the number of commits and <c>JUNCTRA_TURNS</c> to how many turns there are: what
    /// the code is after a commit always has the same turn, and what it is after the next ones has the others.
    /// </summary>
    public static int Turn => (Commits ?? 0) / (Number("JUNCTRA_TURNS") ?? 1);

    private static int? Commits { get; } = Number("JUNCTRA_TURN");

    private static int? Number(string variable) =>
        int.TryParse(Environment.GetEnvironmentVariable(variable), System.Globalization.CultureInfo.InvariantCulture, out var number)
            ? number
            : null;

    /// <summary>A few of all, others each time that their class has its turn; all of them where that is asked for.</summary>
    public static IEnumerable<T> Few<T>(IReadOnlyList<T> all, int few) =>
        IsWhole ? all : Enumerable.Range(0, few).Select(i => all[(Turn * few + i) % all.Count]);

    /// <summary>A few seeds of all, others after the next commit; all of them where that is asked for.</summary>
    public static IEnumerable<int> Seeds(int all, int few) =>
        Enumerable.Range(0, IsWhole ? all : few).Select(i => (int)(((Commits ?? 0L) * few + i) % all));

    /// <summary>
    /// One share of what every run of the suite tries some of, another after the next commit; all of it where that is asked for, and where
    /// a class is run by itself.
    /// </summary>
    public static IEnumerable<T> Share<T>(IReadOnlyList<T> all, int shares) =>
        IsWhole || Commits is not { } commits ? all : all.Where((_, i) => (i + commits) % shares == 0);
}
