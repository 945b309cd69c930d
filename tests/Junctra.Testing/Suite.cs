namespace Junctra.Testing;

/// <summary>A run of all tests, of whose programs some need the same: what is made once serves them all.</summary>
public static class Suite
{
    /// <summary>
    /// What this run is called, of <c>JUNCTRA_SUITE</c>: letters, digits and <c>_</c>, another name each time. Null where a program of
    /// tests is run by itself.
    /// </summary>
    public static string? Name { get; } = Environment.GetEnvironmentVariable("JUNCTRA_SUITE");
}
