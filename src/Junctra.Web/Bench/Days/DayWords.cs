using System.Globalization;
using Junctra.Schedule;

namespace Junctra.Web.Bench.Days;

/// <summary>What somebody does next.</summary>
/// <param name="Hands">Who.</param>
/// <param name="Ticket">Ticket of the job; null where nothing waits.</param>
/// <param name="What">What is done.</param>
/// <param name="When">When, in words.</param>
public sealed record NextForHands(string Hands, string? Ticket, string What, string When);

/// <summary>A bench day in words.</summary>
public static class DayWords
{
    private const int QuarterHour = 15;

    /// <summary>What is next for each pair of hands.</summary>
    public static IEnumerable<NextForHands> Next(MadeDay made, DateTimeOffset now)
    {
        var elapsed = (int)Math.Floor((now - made.Day.Now).TotalMinutes);
        foreach (var hands in made.Day.Hands)
            yield return made.Timetable.Of(hands.Name).FirstOrDefault(slot => slot.End > elapsed) is not { } slot
                ? new NextForHands(hands.Name, null, "Nothing waits", "")
                : new NextForHands(
                    hands.Name,
                    slot.Ticket,
                    slot.Task.Title,
                    slot.Start <= elapsed
                        ? $"now, until about {Clock(made, slot.End)}"
                        : $"at {Clock(made, slot.Start)}, about {slot.Task.Minutes} min"
                );
    }

    /// <summary>The promise that breaks first, and what saves it; null where all hold.</summary>
    public static string? Breaks(MadeDay made) =>
        made.Advice is not { } advice
            ? null
            : $"{advice.Ticket} breaks first: it holds in {Of100(advice.Chance)} of 100.{(advice.Measures.Count == 0 ? " Nothing here saves it." : "")}";

    /// <summary>What to tell the customer of a promise that breaks, to be read out.</summary>
    public static string Tell(MadeDay made, Advice advice)
    {
        // Said so that it holds: nine of ten, and up to the quarter of an hour.
        var at = made.Day.Now.AddMinutes(advice.Instead).ToLocalTime();
        at = at.AddMinutes((QuarterHour - at.Minute % QuarterHour) % QuarterHour);
        var day =
            at.Date == made.Day.Now.ToLocalTime().Date ? ""
            : at.Date == made.Day.Now.ToLocalTime().Date.AddDays(1) ? "tomorrow at "
            : at.ToString("dddd, 'at' ", CultureInfo.InvariantCulture);
        return $"“Your phone takes longer than we thought. It will be ready by {day}{at.ToString("HH:mm", CultureInfo.InvariantCulture)}. Shall we go on?”";
    }

    /// <summary>By what it was made, and how good it is.</summary>
    public static string Proof(MadeDay made) =>
        made.Timetable.Slots.Count == 0 ? ""
        : made.Timetable.IsProved ? "Nothing better is possible."
        : made.Timetable.Maker == TimetableMaker.Rule ? "By the simple rule: whoever is free takes what is most pressed."
        : made.Timetable.Cost.Late > (made.Timetable.AtLeast?.Late ?? 0) ? "Better may be possible."
        : $"No promise could be kept better; hands could be through {made.Timetable.Cost.HandsEnd - (made.Timetable.AtLeast?.HandsEnd ?? 0)} min earlier at the most.";

    /// <summary>A chance, as people say it.</summary>
    public static string Of100(double chance) => (chance * 100).ToString("0", CultureInfo.InvariantCulture);

    /// <summary>The time of a minute of the day.</summary>
    public static string Clock(MadeDay made, int minute) =>
        made.Day.Now.AddMinutes(minute).ToLocalTime().ToString("HH:mm", CultureInfo.InvariantCulture);
}
