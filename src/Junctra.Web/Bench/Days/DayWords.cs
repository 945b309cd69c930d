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

    /// <summary>The promise that breaks first, and how long it is until then; null where all hold.</summary>
    public static string? Breaks(MadeDay made, DateTimeOffset now)
    {
        if (made.Advice is not { } advice)
            return null;
        var promised = made.Day.Jobs.First(job => job.Ticket == advice.Ticket).Promised!.Value;
        var left = (int)Math.Floor((made.Day.Now.AddMinutes(promised) - now).TotalMinutes);
        var until =
            left < 0 ? $"{Length(-left)} ago"
            : left == 0 ? "now"
            : $"in {Length(left)}";
        return $"{advice.Ticket} breaks first: promised for {When(made, promised, 1)}, {until}, it holds in {Of100(advice.Chance)} of 100."
            + (advice.Measures.Count == 0 ? " Nothing here saves it." : "");
    }

    private static string Length(int minutes) => minutes < 60 ? $"{minutes} min" : $"{minutes / 60} h {minutes % 60:00} min";

    /// <summary>What to tell the customer of a promise that breaks, to be read out.</summary>
    public static string Tell(MadeDay made, Advice advice) =>
        $"“Your phone takes longer than we thought. It will be ready by {When(made, advice.Instead)}. Shall we go on?”";

    /// <summary>What would help, and how much.</summary>
    public static string Helps(MadeDay made, Measure measure) =>
        $"{measure.Words}{(measure.Until is { } minute ? $" {When(made, minute)}." : "")} Then {Of100(measure.Chance)} of 100.";

    // What is told is said so that it holds: up to the quarter of an hour.
    private static string When(MadeDay made, int minute, int upTo = QuarterHour)
    {
        var at = made.Day.Now.AddMinutes(minute).ToLocalTime();
        at = at.AddMinutes((upTo - at.Minute % upTo) % upTo);
        var today = made.Day.Now.ToLocalTime().Date;
        var day =
            at.Date == today ? ""
            : at.Date == today.AddDays(1) ? "tomorrow at "
            : at.ToString("dddd, 'at' ", CultureInfo.InvariantCulture);
        return day + at.ToString("HH:mm", CultureInfo.InvariantCulture);
    }

    /// <summary>By what it was made, and how good it is.</summary>
    public static string Proof(MadeDay made) =>
        made.Timetable.Slots.Count == 0 ? ""
        : made.Timetable.IsProved ? "Nothing better is possible."
        : made.Timetable.Maker == TimetableMaker.Rule
            ? "By the simple rule, which leaves promises the most room: whoever is free takes what is most pressed."
        : made.Timetable.Maker == TimetableMaker.Known ? "As it was told before; nothing found is clearly better."
        : made.Timetable.Maker == TimetableMaker.SureOrder
            ? $"By the order that leaves promises the most room{(Earlier(made) > 0 ? $"; hands could be through {Earlier(made)} min earlier at the most" : "")}."
        : made.Timetable.Cost.Late > (made.Timetable.AtLeast?.Late ?? 0) ? "Better may be possible."
        : $"No promise could be kept better; hands could be through {Earlier(made)} min earlier at the most.";

    private static int Earlier(MadeDay made) => made.Timetable.Cost.HandsEnd - (made.Timetable.AtLeast?.HandsEnd ?? 0);

    /// <summary>A chance, as people say it.</summary>
    public static string Of100(double chance) => (chance * 100).ToString("0", CultureInfo.InvariantCulture);

    /// <summary>The time of a minute of the day.</summary>
    public static string Clock(MadeDay made, int minute) =>
        made.Day.Now.AddMinutes(minute).ToLocalTime().ToString("HH:mm", CultureInfo.InvariantCulture);
}
