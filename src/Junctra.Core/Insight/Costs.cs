using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Insight;

/// <summary>What costs the shop: time, waits, things that fail, phones that come back.</summary>
public static class Costs
{
    /// <summary>A phone that is here again within so many days came back.</summary>
    public const int ComesBackDays = 30;

    private const int MaxFigures = 8;

    /// <summary>The answers.</summary>
    /// <param name="log">What the shop has written down.</param>
    /// <param name="finding">Words for a fault class.</param>
    public static IReadOnlyList<InsightSection> Of(ShopLog log, Func<string, string> finding) =>
        [.. new[] { Stations(log), Hands(log), Cables(log), Ports(log), Mirrors(log), ComeBack(log, finding) }.OfType<InsightSection>()];

    private static InsightSection? Stations(ShopLog log)
    {
        var over = log.Jobs.Where(job => job is { HandedBackAt: not null, BegunAt: not null, EndedAt: not null }).ToList();
        if (over.Count == 0)
            return null;
        (string Key, string Label, Func<LoggedJob, double?> Minutes)[] parts =
        [
            ("found", "from the counter to the first run", job => Minutes(job.TakenInAt, job.BegunAt)),
            ("runs", "from the first run to the end of the last", job => Minutes(job.BegunAt, job.EndedAt)),
            ("check", "from there to the last check", job => Minutes(job.EndedAt, job.CheckedAt)),
            ("back", "from the check to the hand-back", job => Minutes(job.CheckedAt ?? job.EndedAt, job.HandedBackAt)),
        ];
        var figures = parts
            .Select(part =>
            {
                var known = over.Select(job => (job, Minutes: part.Minutes(job))).Where(pair => pair.Minutes is not null).ToList();
                var middle = Middle([.. known.Select(pair => pair.Minutes!.Value)]);
                return new InsightFigure(
                    part.Key,
                    part.Label,
                    middle,
                    $"{Time(middle)} in the middle of {known.Count} jobs",
                    [.. known.OrderByDescending(pair => pair.Minutes).Select(pair => pair.job.Id)]
                );
            })
            .ToList();
        var most = figures.MaxBy(figure => figure.Value)!;
        return new InsightSection(
            "stations",
            "Where the time goes",
            $"Most of a phone's time here passes {most.Label}: {most.Words}.",
            figures
        );
    }

    private static InsightSection? Hands(ShopLog log)
    {
        var waits = log
            .Times.Where(time => time.Kind == TimeKind.Hands)
            .Select(time => (time, Wait: Math.Max(0, time.Took - time.Said) / 60))
            .ToList();
        if (waits.Count == 0)
            return null;
        var figures = waits
            .GroupBy(pair => pair.time.By)
            .Select(group => new InsightFigure(
                group.Key,
                group.Key.Length > 0 ? group.Key : "nobody said",
                group.Sum(pair => pair.Wait),
                $"{Time(group.Sum(pair => pair.Wait))} over {group.Count()} acts",
                [.. group.OrderByDescending(pair => pair.Wait).Select(pair => pair.time.Job).Distinct()]
            ))
            .OrderByDescending(figure => figure.Value)
            .Take(MaxFigures)
            .ToList();
        return new InsightSection(
            "hands",
            "Waits for hands",
            $"Phones waited {Time(waits.Sum(pair => pair.Wait))} in all for hands that were busy elsewhere, beyond what their acts usually take.",
            figures
        );
    }

    private static InsightSection? Things(string key, string title, string thing, IEnumerable<(string Label, int? Job, bool Worked)> tries)
    {
        var figures = tries
            .Where(one => one.Label.Length > 0)
            .GroupBy(one => one.Label)
            .Select(group => Shares.Figure(group.Key, group.Key, [.. group], one => one.Worked, one => one.Job ?? 0))
            .Select(figure => figure with { Jobs = [.. figure.Jobs.Where(job => job > 0)] })
            .OrderBy(figure => figure.Value)
            .ThenBy(figure => figure.Key, StringComparer.Ordinal)
            .Take(MaxFigures)
            .ToList();
        if (figures.Count == 0)
            return null;
        var (worst, best) = (figures[0], figures.Max(figure => figure.Between!.Value.Low));
        return new InsightSection(
            key,
            title,
            // Told only where chance does not explain it: the worst is surely worse than the best surely is.
            worst.Between!.Value.High < best
                ? $"{thing} “{worst.Label}” worked {worst.Words}, surely less often than others: take it out of use."
                : $"So far no {thing.ToLowerInvariant()} is surely worse than the others.",
            figures
        )
        {
            AreShares = true,
        };
    }

    private static InsightSection? Cables(ShopLog log) =>
        Things("cables", "Cables", "Cable", log.Tries.Select(one => (one.Cable, one.Job, one.Worked)));

    private static InsightSection? Ports(ShopLog log) =>
        Things(
            "ports",
            "Ports",
            "Port",
            log.Tries.Select(one => (one.Port, one.Job, one.Worked))
                .Concat(
                    log.Runs.Where(run => run.Went is not null || run.What.Length > 0)
                        .Select(run => (run.Port, (int?)run.Job, run.What.Length == 0))
                )
        );

    private static InsightSection? Mirrors(ShopLog log)
    {
        var figures = log
            .Fetches.GroupBy(fetch => fetch.Source)
            .Select(group =>
                Shares.Figure(group.Key, group.Key, [.. group], fetch => fetch is { IsThere: true, IsSpoilt: false }, _ => 0) with
                {
                    Jobs = [],
                }
            )
            .OrderBy(figure => figure.Value)
            .ToList();
        return figures.Count == 0
            ? null
            : new InsightSection(
                "mirrors",
                "Mirrors",
                figures[0].Value >= 1
                    ? "Every file that was fetched came whole."
                    : $"From {figures[0].Label} whole files came least often: {figures[0].Words}.",
                figures
            )
            {
                AreShares = true,
            };
    }

    private static InsightSection? ComeBack(ShopLog log, Func<string, string> finding)
    {
        var over = log.Jobs.Where(job => job is { HandedBackAt: not null, Finding.Length: > 0 }).ToList();
        if (over.Count == 0)
            return null;
        var bySerial = log.Jobs.Where(job => job.Serial.Length > 0).ToLookup(job => job.Serial, StringComparer.OrdinalIgnoreCase);
        var back = over.Where(job =>
                job.Serial.Length > 0
                && bySerial[job.Serial]
                    .Any(later =>
                        later.TakenInAt > job.HandedBackAt && later.TakenInAt - job.HandedBackAt < TimeSpan.FromDays(ComesBackDays)
                    )
            )
            .ToHashSet();
        var figures = over.GroupBy(job => job.Finding)
            .Select(group => Shares.Figure(group.Key, finding(group.Key), [.. group], back.Contains, job => job.Id))
            .Where(figure => figure.Value > 0)
            .OrderByDescending(figure => figure.Value)
            .Take(MaxFigures)
            .Select(figure => figure with { Jobs = [.. figure.Jobs.Where(job => back.Any(one => one.Id == job))] })
            .ToList();
        return new InsightSection(
            "back",
            $"Here again within {ComesBackDays} days",
            back.Count == 0
                ? $"None of {over.Count} phones came back within {ComesBackDays} days."
                : $"{Shares.Words(back.Count, over.Count)} phones came back within {ComesBackDays} days; most often with “{figures[0].Label}”.",
            figures
        )
        {
            AreShares = true,
        };
    }

    private static double? Minutes(DateTimeOffset? from, DateTimeOffset? to) =>
        from is { } a && to is { } b && b >= a ? (b - a).TotalMinutes : null;

    private static double Middle(List<double> values)
    {
        if (values.Count == 0)
            return 0;
        values.Sort();
        return (values[(values.Count - 1) / 2] + values[values.Count / 2]) / 2;
    }

    internal static string Time(double minutes) =>
        minutes < 1 ? "under a minute"
        : minutes < 90 ? $"{minutes:0} min"
        : $"{minutes / 60:0.#} h";
}
