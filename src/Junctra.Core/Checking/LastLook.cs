using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Checking;

/// <summary>One thing that the last look asks for.</summary>
/// <param name="Line">What is expected, and what was read of it.</param>
/// <param name="Place">Where this phone can show it; null where the catalogue knows no place.</param>
public sealed record LookedFor(CheckLine Line, FactPlace? Place);

/// <summary>One stop of the walk over the phone: what is read there without bringing it anywhere else.</summary>
/// <param name="In">The mode in which the phone must be, or null where it need not show anything.</param>
/// <param name="Lines">What is read there, in an order that goes through menus once.</param>
public sealed record LookStop(PhoneMode? In, IReadOnlyList<LookedFor> Lines)
{
    /// <summary>Minutes of hands at this stop.</summary>
    public double Minutes => Lines.Sum(line => line.Place?.Minutes ?? 0);
}

/// <summary>
/// The last look at a phone before it goes back: everything that was not read yet, each at the place that costs least, put in the order of
/// one walk. A mode that must be entered for one thing anyway costs nothing for the others.
/// </summary>
public static class LastLook
{
    // Keys, waiting, and the way back again.
    private const double EnteringMinutes = 2;

    /// <summary>The stops, where the phone is first.</summary>
    /// <param name="lines">The lines of the check.</param>
    /// <param name="phone">What is known of the phone since the write.</param>
    /// <param name="model">Its model.</param>
    /// <param name="guides">Where facts can be read.</param>
    public static IReadOnlyList<LookStop> Of(
        IReadOnlyList<CheckLine> lines,
        Phone phone,
        PhoneModel? model,
        IReadOnlyList<FactGuide> guides
    )
    {
        var open = lines.Where(line => line.State == CheckState.NotRead && !line.Expectation.Fact.IsReached).ToList();
        var places = open.ToDictionary(line => line, line => PlacesOf(line.Expectation.Fact, phone, model, guides));
        var now = PhoneModes.Parse(phone[FactName.Mode].Value);
        // What can be read in one mode alone, and must be, decides where the walk goes.
        HashSet<PhoneMode> entered =
        [
            .. open.Where(line => line.Expectation.IsNeeded).Select(line => OnlyMode(places[line])).OfType<PhoneMode>(),
        ];
        if (now is { } at)
            entered.Add(at);
        return
        [
            .. open.Select(line => (Line: line, Choice: Cheapest(places[line], entered)))
                .GroupBy(pair => pair.Choice?.In)
                .Select(group => new LookStop(
                    group.Key,
                    [
                        .. group
                            .Select(pair => new LookedFor(pair.Line, pair.Choice?.Place))
                            .OrderBy(line => line.Place?.Where, StringComparer.OrdinalIgnoreCase),
                    ]
                ))
                .OrderBy(stop =>
                    stop.In is not { } mode ? Last
                    : mode == now ? 0
                    : IsUp(mode) ? 1
                    : mode.IsRecovery() ? 2
                    : 3
                )
                .ThenBy(stop => stop.In),
        ];
    }

    private const int Last = 9;

    /// <summary>The place at which the last look sends somebody for a fact, read already or not; null where none is known.</summary>
    public static FactPlace? PlaceOf(
        FactName fact,
        IReadOnlyList<CheckLine> lines,
        Phone phone,
        PhoneModel? model,
        IReadOnlyList<FactGuide> guides
    ) =>
        Of([.. lines.Select(line => line with { State = CheckState.NotRead })], phone, model, guides)
            .SelectMany(stop => stop.Lines)
            .FirstOrDefault(line => line.Line.Expectation.Fact == fact)
            ?.Place;

    /// <summary>
    /// The source of a value that a person reads off the phone at the place where the last look sends them; what a link would tell is read
    /// off the same mode's screen.
    /// </summary>
    /// <param name="place">The place, or null.</param>
    public static FactSource SourceAt(FactPlace? place) =>
        place?.Source switch
        {
            null => FactSource.Settings,
            FactSource.Link => FactSource.BootloaderScreen,
            var source => source.Value,
        };

    private static bool IsUp(PhoneMode mode) => mode is PhoneMode.System or PhoneMode.SetupWizard;

    private static PhoneMode? OnlyMode(List<(FactPlace Place, PhoneMode? In)> places) =>
        places.Select(choice => choice.In).Distinct().ToList() is [{ } only] ? only : null;

    private static (FactPlace Place, PhoneMode? In)? Cheapest(List<(FactPlace Place, PhoneMode? In)> places, HashSet<PhoneMode> entered) =>
        places.Count == 0
            ? null
            : places
                .OrderBy(choice => choice.Place.Minutes + (choice.In is { } mode && !entered.Contains(mode) ? EnteringMinutes : 0))
                .ThenByDescending(choice => choice.Place.Source)
                .First();

    /// <summary>Every place at which this phone can show a fact, once for each of its modes.</summary>
    private static List<(FactPlace Place, PhoneMode? In)> PlacesOf(
        FactName fact,
        Phone phone,
        PhoneModel? model,
        IReadOnlyList<FactGuide> guides
    ) =>
        [
            .. from guide in guides
            where guide.Fact == fact
            from place in guide.Places
            from mode in place.In.Count == 0 ? [null] : place.In.Select(mode => (PhoneMode?)mode)
            where mode is null || WantedFacts.ReachOf(mode.Value, phone, model) != Reach.RuledOut
            select (place, mode),
        ];
}
