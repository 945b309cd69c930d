using System.Globalization;

namespace Junctra.Web.Bench;

/// <summary>
/// Promises as people type them at the counter: <c>16:40</c>, <c>tomorrow 10:00</c>, <c>+2h</c>, <c>2026-11-30 10:00</c>, in the shop's own
/// time.
/// </summary>
public static class PromiseText
{
    private static readonly string[] Times = ["H:mm", "HH:mm", "H.mm", "Hmm", "HHmm"];
    private static readonly string[] Days = ["yyyy-MM-dd H:mm", "yyyy-MM-dd'T'HH:mm", "d.M.yyyy H:mm", "yyyy-MM-dd"];

    /// <summary>The moment, or null when the text is none. A time of day that has passed is tomorrow's.</summary>
    public static DateTimeOffset? Read(string? text, DateTimeOffset now)
    {
        var typed = text?.Trim().ToLowerInvariant() ?? "";
        var local = now.ToLocalTime();
        if (
            typed.StartsWith('+')
            && typed.Length is > 2 and < 8
            && typed[^1] is 'h' or 'm' or 'd'
            && double.TryParse(
                typed.AsSpan(1, typed.Length - 2),
                NumberStyles.AllowDecimalPoint,
                CultureInfo.InvariantCulture,
                out var length
            )
            && length is > 0 and < 1000
        )
            return now
                + (
                    typed[^1] switch
                    {
                        'h' => TimeSpan.FromHours(length),
                        'm' => TimeSpan.FromMinutes(length),
                        _ => TimeSpan.FromDays(length),
                    }
                );
        var isTomorrow = typed.StartsWith("tomorrow", StringComparison.Ordinal);
        var clock = isTomorrow ? typed["tomorrow".Length..].Trim() : typed;
        if (DateTime.TryParseExact(clock, Times, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
        {
            var day = local.Date.AddDays(isTomorrow ? 1 : 0) + time.TimeOfDay;
            if (!isTomorrow && day < local.DateTime)
                day = day.AddDays(1);
            return InShop(day);
        }

        return DateTime.TryParseExact(typed.ToUpperInvariant(), Days, CultureInfo.InvariantCulture, DateTimeStyles.None, out var exact)
            ? InShop(exact)
            : null;
    }

    /// <summary>A moment in a form that <see cref="Read"/> reads back.</summary>
    public static string Of(DateTimeOffset promised, DateTimeOffset now)
    {
        var local = promised.ToLocalTime();
        return promised >= now && local.Date == now.ToLocalTime().Date
            ? local.ToString("HH:mm", CultureInfo.InvariantCulture)
            : local.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
    }

    private static DateTimeOffset InShop(DateTime day) =>
        new DateTimeOffset(DateTime.SpecifyKind(day, DateTimeKind.Local)).ToUniversalTime();
}
