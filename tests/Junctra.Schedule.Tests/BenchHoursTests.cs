namespace Junctra.Schedule.Tests;

/// <summary>When a shop works, in minutes from now.</summary>
public sealed class BenchHoursTests
{
    // Monday, ten to twelve.
    private static readonly DateTimeOffset Now = new(2026, 11, 30, 11, 50, 0, TimeSpan.Zero);

    [Fact]
    public void Hours_lie_from_now_on_and_a_break_is_nobodys()
    {
        var open = BenchHours.Usual.Open(Now, TimeZoneInfo.Utc);
        Assert.Equal(new Stretch(0, 6 * 60 + 10), open[0]);
        Assert.Equal(24 * 60 - 2 * 60 - 50, open[1].From);
        var hands = BenchHours.Usual.Hands(BenchHours.Usual.People[0], Now, TimeZoneInfo.Utc);
        Assert.Equal([new Stretch(0, 70), new Stretch(100, 370)], hands.At.Take(2));
        // Sunday is not among them.
        Assert.DoesNotContain(open, one => Now.AddMinutes(one.From).DayOfWeek == DayOfWeek.Sunday);
    }

    [Fact]
    public void A_shop_that_never_closes_is_open_in_one_stretch_and_one_over_midnight_too()
    {
        var always = BenchHours.Usual with
        {
            Opens = default,
            Closes = default,
            Days = Enum.GetValues<DayOfWeek>(),
            BreakFrom = null,
            BreakTo = null,
        };
        Assert.Equal(0, Assert.Single(always.Open(Now, TimeZoneInfo.Utc)).From);
        var late = always with { Opens = new TimeOnly(18, 0), Closes = new TimeOnly(2, 0) };
        Assert.Equal(new Stretch(370, 370 + 8 * 60), late.Open(Now, TimeZoneInfo.Utc)[0]);
        // In the middle of the night, what began yesterday goes on.
        Assert.Equal(new Stretch(0, 70), late.Open(new DateTimeOffset(2026, 11, 30, 0, 50, 0, TimeSpan.Zero), TimeZoneInfo.Utc)[0]);
    }

    [Fact]
    public void Whoever_is_there_beyond_the_shops_hours_counts_within_them()
    {
        var hours = BenchHours.Usual with { BreakFrom = null, BreakTo = null };
        var hands = hours.Hands(new BenchPerson("ada", new TimeOnly(7, 0), new TimeOnly(12, 30)), Now, TimeZoneInfo.Utc);
        Assert.Equal(new Stretch(0, 40), hands.At[0]);
        Assert.Equal(new TimeSpan(9, 0, 0), Now.AddMinutes(hands.At[1].From).TimeOfDay);
    }

    [Fact]
    public void What_are_no_hours_says_why()
    {
        Assert.Null(BenchHours.Usual.WhyNot);
        Assert.Contains("which days", (BenchHours.Usual with { Days = [] }).WhyNot);
        Assert.Contains("one to twelve", (BenchHours.Usual with { People = [] }).WhyNot);
        Assert.Contains("same name", (BenchHours.Usual with { People = [BenchHours.Usual.People[0], BenchHours.Usual.People[0]] }).WhyNot);
        Assert.Contains("chargers", (BenchHours.Usual with { Chargers = 0 }).WhyNot);
        Assert.Contains("an end after it", (BenchHours.Usual with { BreakTo = null }).WhyNot);
    }
}
