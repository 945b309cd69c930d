namespace Junctra.Core.Modes;

/// <summary>Something the hands hold: a key or the cable. One line of the score.</summary>
/// <param name="Id">Id in the catalogue.</param>
/// <param name="Name">Name for people.</param>
public sealed record Stave(string Id, string Name);

/// <summary>Something held from one moment to another.</summary>
/// <param name="StaveId">What is held.</param>
/// <param name="FromSeconds">Moment of pressing, from 0.</param>
/// <param name="ToSeconds">Moment of letting go, after <paramref name="FromSeconds"/>.</param>
/// <param name="Label">What to do, in a word or two.</param>
public sealed record KeyBar(string StaveId, double FromSeconds, double ToSeconds, string Label);

/// <summary>A moment at which the screen tells that it worked so far.</summary>
/// <param name="AtSeconds">When.</param>
/// <param name="Screen">What shows, and what to do on it.</param>
public sealed record KeyMark(double AtSeconds, string Screen);

/// <summary>What a wrong screen means.</summary>
/// <param name="Sees">What the phone shows.</param>
/// <param name="Means">What went wrong.</param>
/// <param name="Then">What to do.</param>
public sealed record WrongSign(string Sees, string Means, string Then);

/// <summary>A way from some modes into another by keys and cable: a small score.</summary>
/// <param name="Id">Id, unique in its family.</param>
/// <param name="Name">What it does.</param>
/// <param name="From">Modes it starts from.</param>
/// <param name="To">Mode it leads to.</param>
/// <param name="Minutes">Expected minutes of hands.</param>
/// <param name="LengthSeconds">Length of the score.</param>
/// <param name="Bars">What is held when; every stave exists in the family.</param>
/// <param name="Marks">What the screen shows when.</param>
/// <param name="Before">What to do before the first key.</param>
/// <param name="Words">The score in words, one step each.</param>
/// <param name="Wrong">Wrong screens.</param>
public sealed record KeyRecipe(
    string Id, string Name, IReadOnlyList<PhoneMode> From, PhoneMode To, double Minutes, double LengthSeconds,
    IReadOnlyList<KeyBar> Bars, IReadOnlyList<KeyMark> Marks,
    IReadOnlyList<string> Before, IReadOnlyList<string> Words, IReadOnlyList<WrongSign> Wrong);

/// <summary>The recipes that work on a family of phones. Data of the catalogue: per model, never universal.</summary>
/// <param name="Id">Id.</param>
/// <param name="Name">Name for people.</param>
/// <param name="Staves">Keys and cable, in the order of drawing.</param>
/// <param name="Recipes">Its recipes.</param>
public sealed record KeyFamily(string Id, string Name, IReadOnlyList<Stave> Staves, IReadOnlyList<KeyRecipe> Recipes)
{
    /// <summary>The quickest recipe from one mode to another, or null when keys do not lead there.</summary>
    public KeyRecipe? Quickest(PhoneMode from, PhoneMode to) =>
        Recipes.Where(recipe => recipe.To == to && recipe.From.Contains(from)).MinBy(recipe => recipe.Minutes);
}
