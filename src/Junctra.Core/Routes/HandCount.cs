using Junctra.Core.Catalogue;

namespace Junctra.Core.Routes;

/// <summary>How many hands a score needs.</summary>
public static class HandCount
{
    private const int Keys = 2;
    private const double MovingSeconds = 0.5;

    /// <summary>A moment at which two hands are not enough.</summary>
    /// <param name="AtSeconds">When, from the score's begin.</param>
    /// <param name="Hands">How many it takes.</param>
    /// <param name="Acts">What they do, in words.</param>
    public sealed record Overload(double AtSeconds, int Hands, string Acts);

    /// <summary>
    /// The most hands that any moment of a score takes. One hand holds the phone and at most two of its keys; moving the cable, touching
    /// the screen or the computer takes one, the battery two.
    /// </summary>
    public static int Of(KeyFamily family, KeyRecipe recipe) =>
        Moments(family, recipe).Select(moment => moment.Hands).DefaultIfEmpty(1).Max();

    /// <summary>The first moment at which two hands are not enough, or null.</summary>
    public static Overload? TooMany(KeyFamily family, KeyRecipe recipe) =>
        Moments(family, recipe).FirstOrDefault(moment => moment.Hands > 2);

    private static IEnumerable<Overload> Moments(KeyFamily family, KeyRecipe recipe)
    {
        foreach (var at in recipe.Bars.SelectMany(bar => new[] { recipe.Usual(bar.From), recipe.Usual(bar.To) }).Distinct().Order())
        {
            var held = recipe
                .Bars.Where(bar => family.StaveOf(bar.StaveId).IsKey && recipe.Usual(bar.From) <= at && at < recipe.Usual(bar.To))
                .ToList();
            var moved = recipe.Bars.Where(bar => !family.StaveOf(bar.StaveId).IsKey && Moves(recipe, bar, at)).ToList();
            var hands = (held.Count + Keys - 1) / Keys + moved.Sum(bar => bar.StaveId == Stave.Battery ? 2 : 1);
            // The phone is held in one hand, if it is not lying there.
            yield return new Overload(
                at,
                Math.Max(1, hands),
                string.Join(", ", held.Concat(moved).Select(bar => family.StaveOf(bar.StaveId).Name).Distinct())
            );
        }
    }

    private static bool Moves(KeyRecipe recipe, KeyBar bar, double at) =>
        recipe.Usual(bar.From) <= at && at < recipe.Usual(bar.From) + MovingSeconds
        || !bar.Stays
            && bar.StaveId is Stave.Cable or Stave.Battery
            && recipe.Usual(bar.To) <= at
            && at < recipe.Usual(bar.To) + MovingSeconds;
}
