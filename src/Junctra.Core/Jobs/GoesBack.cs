namespace Junctra.Core.Jobs;

/// <summary>
/// What goes over the counter with a phone, each thing to be ticked off: what came with it, what was taken out of it for the write, and
/// what was saved from it.
/// </summary>
public static class GoesBack
{
    private const string Sim = "SIM",
        Card = "storage card",
        Saved = "the data that was saved, on the customer's own medium";

    private static readonly char[] Between = [',', ';', '\n'];

    /// <summary>The things, each once, in the order in which they were noted.</summary>
    /// <param name="accessories">What was noted at the counter, with commas between.</param>
    /// <param name="cardsWereOut">Whether SIM and storage card were taken out for the write.</param>
    /// <param name="hasCard">Whether a storage card was in it.</param>
    /// <param name="dataIsKept">Whether data that was saved from it is still kept here.</param>
    public static IReadOnlyList<string> Of(string accessories, bool cardsWereOut, bool hasCard, bool dataIsKept)
    {
        List<string> things = [.. accessories.Split(Between, StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)];
        if (cardsWereOut)
            things.Add(Sim);
        if (cardsWereOut && hasCard)
            things.Add(Card);
        if (dataIsKept)
            things.Add(Saved);
        return [.. things.Distinct(StringComparer.OrdinalIgnoreCase)];
    }

    /// <summary>Why it may not go yet, or null where everything is ticked off.</summary>
    /// <param name="things">What goes back.</param>
    /// <param name="ticked">What was ticked off.</param>
    public static string? WhyNot(IReadOnlyList<string> things, IReadOnlyCollection<string> ticked) =>
        things.Where(thing => !ticked.Contains(thing, StringComparer.OrdinalIgnoreCase)).ToList() is { Count: > 0 } missing
            ? $"Still to be ticked off: {string.Join(", ", missing)}."
            : null;
}
