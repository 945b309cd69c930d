namespace Junctra.Core.Plans.Paths;

/// <summary>A path that suits a case, with its plan, or with why it has none as things stand.</summary>
/// <param name="Path">The path.</param>
/// <param name="ErasesData">Whether the data go by it.</param>
/// <param name="TakesPackage">Whether it takes the package that was chosen; else it takes none.</param>
/// <param name="Outcome">Its plan, or why there is none.</param>
public sealed record PathOffer(IPath Path, bool ErasesData, bool TakesPackage, PlanOutcome Outcome)
{
    private const string Erases = "erase",
        Keeps = "keep";

    /// <summary>Tells it from the others of its case.</summary>
    public string Id => $"{Path.Letter}-{(ErasesData ? Erases : Keeps)}";

    /// <summary>What it costs; null without a plan.</summary>
    public PlanCost? Cost { get; } = Outcome.Plan is { } plan ? PlanCost.Of(plan) : null;

    /// <summary>Its name, as its plan has it.</summary>
    public string Title => Outcome.Plan?.Choice.Title ?? Path.Title;
}

/// <summary>A path that is none for a case.</summary>
/// <param name="Path">The path.</param>
/// <param name="Why">Why not, in a sentence.</param>
/// <param name="NeedsPackage">Whether all that is missing is a package.</param>
public sealed record MissingPath(IPath Path, string Why, bool NeedsPackage);

/// <summary>
/// Which path: all that suit a case, the one that costs the customer least of what was asked for first; and why the others are missing.
/// </summary>
/// <param name="Offers">Those that have a plan, then those that would have one if something else held.</param>
/// <param name="Missing">Those that are for something else.</param>
public sealed record PathOffers(IReadOnlyList<PathOffer> Offers, IReadOnlyList<MissingPath> Missing)
{
    /// <summary>None at all.</summary>
    public static PathOffers None { get; } = new([], []);

    /// <summary>The paths of a case, for data that are kept and for data that go.</summary>
    public static PathOffers Of(PathCase @case)
    {
        var offers = new List<PathOffer>();
        // Beside what the package allows stands what needs none.
        var bare = @case with { Package = null, Original = null, NeedsCleanWrite = false };
        foreach (var one in @case.Package is null ? new[] { bare } : [@case, bare])
        {
            foreach (var erases in new[] { @case.ErasesData, !@case.ErasesData })
                Add(offers, one with { ErasesData = erases });
        }

        return new PathOffers(
            [
                .. offers
                    .Select((offer, at) => (offer, at))
                    .OrderBy(one => one.offer.Outcome.Plan is null)
                    .ThenBy(one => one.offer.ErasesData != @case.ErasesData)
                    .ThenBy(one => @case.UsualPaths.Count > 0 && !@case.UsualPaths.Contains(one.offer.Path.Letter))
                    .ThenBy(one => one.at)
                    .Select(one => one.offer),
            ],
            [
                .. PathList
                    .All.Where(path => offers.TrueForAll(offer => offer.Path != path))
                    .Select(path => (Path: path, Why: WhyMissing(path)))
                    .Select(one => new MissingPath(
                        one.Path,
                        one.Why,
                        @case.Package is null && one.Why.StartsWith(PathFit.ItTakes, StringComparison.Ordinal)
                    )),
            ]
        );

        // That it takes no package is no reason: one need not be taken.
        string WhyMissing(IPath path) => path.WhyUnfit(@case) is { } why && why != PathFit.TakesNone ? why : path.WhyUnfit(bare) ?? "";
    }

    private static void Add(List<PathOffer> offers, PathCase @case)
    {
        foreach (var path in PathList.For(@case))
        {
            var outcome = path.Compile(@case);
            // A path that does not ask what is to become of the data is one path, not two.
            if (offers.Exists(offer => offer.Path == path && Same(offer.Outcome, outcome)))
                continue;
            offers.Add(new PathOffer(path, outcome.Plan?.ErasesData ?? @case.ErasesData, @case.Package is not null, outcome));
        }
    }

    private static bool Same(PlanOutcome one, PlanOutcome other) =>
        one.Plan is null ? other.Plan is null && one.Refusals.SequenceEqual(other.Refusals) : one.Plan.Key == other.Plan?.Key;
}
