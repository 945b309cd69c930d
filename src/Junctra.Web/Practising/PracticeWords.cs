using System.Globalization;
using Junctra.Core.Practice;

namespace Junctra.Web.Practising;

/// <summary>Practice in words.</summary>
public static class PracticeWords
{
    /// <summary>A ladder.</summary>
    public static string Of(Ladder ladder) =>
        ladder switch
        {
            Ladder.Keys => "Keys: with hands, against the clock",
            Ladder.Reading => "Reading: what is this, and what may be done to it",
            Ladder.Jobs => "Whole jobs",
            _ => "Trouble: what goes wrong, and what is then done",
        };

    /// <summary>For what points are lost.</summary>
    public static string Of(LostFor lost) =>
        lost switch
        {
            LostFor.Safety => "safety",
            LostFor.Aim => "not done",
            LostFor.Order => "order",
            LostFor.Time => "time",
            _ => "hint",
        };

    /// <summary>A moment.</summary>
    public static string At(long milliseconds) => string.Create(CultureInfo.InvariantCulture, $"{milliseconds / 1000.0:0.0} s");
}
