using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Routes;

/// <summary>A try that somebody made.</summary>
/// <param name="SignId">The sign before.</param>
/// <param name="RemedyId">The remedy.</param>
/// <param name="Worked">Whether the sign was gone after it.</param>
public sealed record LinkTry(string SignId, string RemedyId, bool Worked);

/// <summary>A remedy with its chance here and now.</summary>
/// <param name="Remedy">The remedy.</param>
/// <param name="Chance">The chance that it mends the sign, 0 to 1: the catalogue's, moved by the shop's own tries.</param>
/// <param name="Worked">How often it did here.</param>
/// <param name="Tried">How often it was tried here.</param>
public sealed record RankedRemedy(LinkRemedy Remedy, double Chance, int Worked, int Tried)
{
    /// <summary>Chance a minute: by this the remedies are ordered.</summary>
    public double Rate => Chance / Remedy.Minutes;
}

/// <summary>What a cable, port or computer has done so far.</summary>
/// <param name="Label">Its label.</param>
/// <param name="Worked">Tries with it after which the phone was seen.</param>
/// <param name="Failed">Tries with it after which it was not.</param>
public sealed record ThingRecord(string Label, int Worked, int Failed)
{
    // One that nobody has used yet is taken to work nine times of ten.
    private const double PriorWorked = 4.5,
        PriorFailed = 0.5;

    /// <summary>The chance that it works, 0 to 1.</summary>
    public double Chance => (Worked + PriorWorked) / (Worked + Failed + PriorWorked + PriorFailed);

    /// <summary>How often it was used.</summary>
    public int Uses => Worked + Failed;
}

/// <summary>Orders remedies for a phone that the computer does not see as it should.</summary>
public static class LinkDoctor
{
    private const string Nothing = "nothing";
    private const int MinUses = 3;
    private const double ClearlyWorse = 0.15;

    /// <summary>The remedies for a sign, the best chance a minute first; what was tried already in this case comes no more.</summary>
    /// <param name="tables">Signs and remedies.</param>
    /// <param name="signId">The sign.</param>
    /// <param name="history">All tries of the shop.</param>
    /// <param name="triedNow">Ids of remedies that were tried in this case.</param>
    public static IReadOnlyList<RankedRemedy> Order(
        LinkTables tables,
        string signId,
        IReadOnlyList<LinkTry> history,
        IReadOnlyCollection<string> triedNow
    )
    {
        var counts = history
            .Where(one => one.SignId == signId)
            .GroupBy(one => one.RemedyId)
            .ToDictionary(group => group.Key, group => (Worked: group.Count(one => one.Worked), Tried: group.Count()));
        return
        [
            .. tables
                .Remedies.Where(remedy => remedy.Chances.ContainsKey(signId) && !triedNow.Contains(remedy.Id))
                .Select(remedy =>
                {
                    var (worked, tried) = counts.GetValueOrDefault(remedy.Id);
                    return new RankedRemedy(remedy, Chance(remedy.Chances[signId], tables.Weight, worked, tried), worked, tried);
                })
                .OrderByDescending(ranked => ranked.Rate)
                .ThenBy(ranked => ranked.Remedy.Minutes)
                .ThenBy(ranked => ranked.Remedy.Id, StringComparer.Ordinal),
        ];
    }

    /// <summary>Whether a try mended a sign: it is gone, and not because nothing is listed any more.</summary>
    public static bool Mended(string before, LinkSign after) => after.IsWell || after.Id != before && after.Id != Nothing;

    /// <summary>The mean of a Beta distribution: the catalogue's chance counts as so many tries, the shop's own are added.</summary>
    public static double Chance(double prior, double weight, int worked, int tried) => (prior * weight + worked) / (weight + tried);

    /// <summary>
    /// The one of several things that is clearly worse than the rest, or null: it must have been used often enough, and stand out.
    /// </summary>
    public static ThingRecord? Worst(IReadOnlyList<ThingRecord> records)
    {
        var known = records.Where(record => record.Uses >= MinUses).OrderBy(record => record.Chance).ToList();
        if (known.Count == 0)
            return null;
        var rest = records
            .Where(record => record != known[0])
            .Select(record => record.Chance)
            .DefaultIfEmpty(new ThingRecord("", 0, 0).Chance)
            .Average();
        return known[0].Chance < rest - ClearlyWorse ? known[0] : null;
    }
}

/// <summary>A phone as a computer lists it.</summary>
/// <param name="Serial">Its serial, or null where the list shows none.</param>
/// <param name="Mode">The mode in which it is listed; <see cref="PhoneMode.Unknown"/> where the list does not tell.</param>
/// <param name="HasWarning">Whether it has a warning mark.</param>
/// <param name="IsAllowed">Whether it takes commands of this computer.</param>
/// <param name="Address">Where it answers, or null.</param>
public sealed record ListedPhone(string? Serial, PhoneMode Mode, bool HasWarning, bool IsAllowed, string? Address);

/// <summary>What a list says of the phone that is meant.</summary>
/// <param name="SignId">The sign.</param>
/// <param name="Target">The phone that is meant, or null where it is not among them or cannot be told.</param>
/// <param name="Why">In a sentence.</param>
public sealed record ListReading(string SignId, ListedPhone? Target, string Why)
{
    /// <summary>Reads a list: which of the phones is the target is told by serial alone, never by order.</summary>
    /// <param name="listed">What the computer lists.</param>
    /// <param name="serial">The target's serial, or null where nobody has read it.</param>
    /// <param name="wanted">The mode in which it should be listed.</param>
    public static ListReading Of(IReadOnlyList<ListedPhone> listed, string? serial, PhoneMode wanted)
    {
        if (listed.Count == 0)
            return new ListReading("nothing", null, "The computer lists no phone.");
        var named = serial is null ? [] : listed.Where(phone => serial.Equals(phone.Serial, StringComparison.OrdinalIgnoreCase)).ToList();
        // Some phones leave their maker with a serial that others have too.
        if (named.Count > 1)
            return new ListReading(
                "two-listed",
                null,
                $"{named.Count} phones are listed with the serial {serial}: which is this job's cannot be told. Unplug the other."
            );
        var target = serial is null
            ? listed.Count == 1
                ? listed[0]
                : null
            : named.FirstOrDefault();
        if (target is null && listed.Count > 1)
        {
            return new ListReading(
                "two-listed",
                null,
                serial is null
                    ? $"{listed.Count} phones are listed, and this job's serial is not known. Read it on the phone's screen or label."
                    : $"{listed.Count} phones are listed, and none with the serial {serial}."
            );
        }

        if (target is null)
        {
            // A list with a warning mark often shows no serial: whether it is this phone is not known.
            return listed[0].Serial is null
                ? new ListReading("warning", null, "One phone is listed, without a serial: whether it is this job's cannot be told.")
                : new ListReading(
                    "two-listed",
                    null,
                    $"Another phone is listed: its serial is {listed[0].Serial}, this job's is {serial}."
                );
        }

        if (target.HasWarning)
            return new ListReading("warning", target, "This job's phone is listed with a warning mark.");
        if (!target.IsAllowed)
            return new ListReading("unauthorised", target, "This job's phone is listed, and has not allowed this computer.");
        if (wanted != PhoneMode.Unknown && target.Mode != PhoneMode.Unknown && target.Mode != wanted)
            return new ListReading("wrong-mode", target, $"This job's phone is listed in {target.Mode.Label()}, not in {wanted.Label()}.");
        return listed.Count > 1
            ? new ListReading(
                serial is null ? "two-listed" : "right",
                target,
                $"{listed.Count} phones are listed; this job's is the one with the serial {target.Serial}."
            )
            : new ListReading(
                "right",
                target,
                serial is null
                    ? "One phone is listed, and right. Whether it is this job's, the serial on its screen or label tells."
                    : "This job's phone is listed, and right."
            );
    }
}
