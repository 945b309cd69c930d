namespace Junctra.Testing;

/// <summary>
/// How often a test of faults is repeated: a few times in every run of the suite, as often as it takes where that is asked for.
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
}
