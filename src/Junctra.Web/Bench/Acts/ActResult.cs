namespace Junctra.Web.Bench.Acts;

/// <summary>What came of an act on a job: it was done, or it was refused and nothing was stored.</summary>
/// <param name="Refusal">Why it was refused, as a sentence for whoever acted; null where it was done.</param>
/// <param name="Done">What was done, as a sentence; null where that is plain to see, or where it was refused.</param>
public readonly record struct ActResult(string? Refusal, string? Done)
{
    /// <summary>It was done.</summary>
    public static ActResult Did(string? what = null) => new(null, what);

    /// <summary>It was refused.</summary>
    public static ActResult Refuse(string why) => new(why, null);
}
