using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Routes;

/// <summary>
/// Finds routes through a phone's modes: the cheapest expected minutes, where a try that fails leaves the phone somewhere and
/// the way goes on from there (a stochastic shortest path, solved by value iteration over some twenty modes).
/// </summary>
public static class Router
{
    private const int MaxOthers = 3;
    private const int MaxSweeps = 400;
    private const double Settled = 1e-7;
    private static readonly int ModeCount = Enum.GetValues<PhoneMode>().Length;

    /// <summary>Routes from where a phone is into a mode.</summary>
    /// <param name="phone">What is known of it.</param>
    /// <param name="model">Its model.</param>
    /// <param name="from">Where it is now.</param>
    /// <param name="to">Where it is wanted.</param>
    /// <param name="catalogue">Ways of its family.</param>
    /// <param name="policy">What the shop decided.</param>
    public static RouteReport Find(
        Phone phone,
        PhoneModel model,
        PhoneMode from,
        PhoneMode to,
        ModelCatalogue catalogue,
        RoutePolicy? policy = null
    )
    {
        policy ??= RoutePolicy.Usual;
        var startsInto = StartsInto(phone, from);
        var judged = WayCompiler.Of(model, catalogue, startsInto).Select(way => Judge(phone, way, from, to, policy)).ToList();
        var usable = judged.Where(way => way.State <= NeedState.Presumed).Select(way => way.Way).ToList();
        var best = Cheapest(phone, usable, from, to, policy);
        var why = best is null ? WhyNone(from, to, judged) : null;
        return new RouteReport(best, why, best is null ? [] : Others(usable, best), Openers(phone, judged, from, to, best), judged);
    }

    /// <summary>The cheapest route alone, or null: what <see cref="Find"/> finds, without what stands beside it.</summary>
    public static PlannedRoute? Best(
        Phone phone,
        PhoneModel model,
        PhoneMode from,
        PhoneMode to,
        ModelCatalogue catalogue,
        RoutePolicy? policy = null
    )
    {
        policy ??= RoutePolicy.Usual;
        var usable = WayCompiler
            .Of(model, catalogue, StartsInto(phone, from))
            .Where(way => Judge(phone, way, from, to, policy).State <= NeedState.Presumed)
            .ToList();
        return Cheapest(phone, usable, from, to, policy);
    }

    private static PlannedRoute? Cheapest(Phone phone, List<Way> usable, PhoneMode from, PhoneMode to, RoutePolicy policy)
    {
        if (Solve(usable, from, to) is not { } best)
            return null;
        // What is rough comes last, and recovery's menu, which is slow and whose words vary, where the shop does not think better of it.
        if (Solve([.. usable.Where(way => !way.Score.LastResort && (policy.Recovery || !IsRecoveryMenu(way)))], from, to) is { } gentler)
            best = gentler with { Next = gentler.Next.Concat(best.Next.Where(pair => !gentler.Next.ContainsKey(pair.Key))).ToDictionary() };
        return best with
        {
            Reachable = usable.Select(way => way.To).ToHashSet(),
            Presumed =
            [
                .. best
                    .Legs.SelectMany(way => way.Needs)
                    .Where(need => need.Presumed && phone[need.Fact].State != FactState.Known)
                    .Distinct(),
            ],
        };
    }

    /// <summary>Where a start of a phone ends, from what is known of it.</summary>
    public static PhoneMode StartsInto(Phone phone, PhoneMode now)
    {
        if (now is PhoneMode.BootLoop or PhoneMode.StuckAtLogo or PhoneMode.SetupWizard)
            return now;
        if (now == PhoneMode.System)
            return PhoneMode.System;
        if (phone.Of(FactName.Reached(PhoneMode.System)).Is(true))
            return PhoneMode.System;
        if (phone.Of(FactName.Reached(PhoneMode.BootLoop)).Is(true))
            return PhoneMode.BootLoop;
        return phone.Of(FactName.Reached(PhoneMode.StuckAtLogo)).Is(true) ? PhoneMode.StuckAtLogo : PhoneMode.System;
    }

    private static bool IsRecoveryMenu(Way way) =>
        way.Kind == WayKind.Menu && way.From.IsRecovery() && way.To is PhoneMode.Download or PhoneMode.Fastboot;

    private static JudgedWay Judge(Phone phone, Way way, PhoneMode from, PhoneMode to, RoutePolicy policy)
    {
        if (way.Kind == WayKind.Command && way.From == PhoneMode.System && !policy.Debugging)
            return new JudgedWay(way, NeedState.Fails, "Commands over the debugging link are not used, by shop rule.", true);
        if (way.Kind == WayKind.RootManager && !policy.RootManager)
            return new JudgedWay(way, NeedState.Fails, "The root manager's menu is not used, by shop rule.", true);
        if (way.Risk is { } risk && way.To != to)
            return new JudgedWay(way, NeedState.Fails, risk, true);
        // The screen that changes the lock is never passed through.
        if (way.To == PhoneMode.LockChange && to != PhoneMode.LockChange)
            return new JudgedWay(way, NeedState.Fails, "It leads to the screen that changes the lock.", true);
        var worst = NeedState.Holds;
        string? why = null;
        foreach (var need in way.Needs)
        {
            var state = StateOf(phone, need, from);
            if (state <= worst)
                continue;
            (worst, why) = (
                state,
                state == NeedState.Fails ? $"{need.Fact.Label} is not {Values(need)}."
                : state == NeedState.Unknown ? $"It needs {need.Fact.LabelInText} {Values(need)}, and nobody has read it."
                : null
            );
        }

        return new JudgedWay(way, worst, why);
    }

    /// <summary>Whether a need holds: of a conflicting fact every claimed value must do.</summary>
    /// <param name="phone">What is known.</param>
    /// <param name="need">The need.</param>
    /// <param name="now">Where the phone is: a recovery that shows tells whose it is.</param>
    public static NeedState StateOf(Phone phone, WayNeed need, PhoneMode now)
    {
        if (need.Fact == FactName.Recovery && now is PhoneMode.CustomRecovery or PhoneMode.StockRecovery or PhoneMode.NoCommand)
            return need.Is.Contains(FactName.Recovery.Write(now == PhoneMode.CustomRecovery ? RecoveryKind.Custom : RecoveryKind.Stock))
                ? NeedState.Holds
                : NeedState.Fails;
        var fact = phone[need.Fact];
        if (fact.State == FactState.Unknown)
            return need.Presumed ? NeedState.Presumed : NeedState.Unknown;
        if (fact.Values.All(value => need.Is.Contains(value, StringComparer.OrdinalIgnoreCase)))
            return NeedState.Holds;
        return fact.Values.Any(value => need.Is.Contains(value, StringComparer.OrdinalIgnoreCase)) ? NeedState.Unknown : NeedState.Fails;
    }

    private static string Values(WayNeed need) => string.Join(" or ", need.Is);

    /// <summary>The cheapest route over ways that can be used, or null.</summary>
    private static PlannedRoute? Solve(IReadOnlyList<Way> ways, PhoneMode from, PhoneMode to, Way? first = null)
    {
        var cost = new double[ModeCount];
        var choice = new Way?[ModeCount];
        Array.Fill(cost, double.PositiveInfinity);
        cost[(int)to] = 0;
        for (var sweep = 0; sweep < MaxSweeps; sweep++)
        {
            var moved = 0.0;
            foreach (var way in ways)
            {
                if (way.From == to)
                    continue;
                var through = Cost(way, cost);
                var at = (int)way.From;
                if (double.IsPositiveInfinity(through) || !(through < cost[at] - Settled) && choice[at] != way)
                    continue;
                if (choice[at] == way && Math.Abs(through - cost[at]) <= Settled)
                    continue;
                moved = Math.Max(moved, double.IsPositiveInfinity(cost[at]) ? 1 : Math.Abs(cost[at] - through));
                (cost[at], choice[at]) = (through, way);
            }

            if (moved <= Settled)
                break;
        }

        if (from == to)
            return new PlannedRoute(from, to, [], 0, Table(choice));
        if (first is not null)
        {
            var through = Cost(first, cost);
            if (double.IsPositiveInfinity(through))
                return null;
            choice[(int)from] = first;
            cost[(int)from] = through;
        }

        if (double.IsPositiveInfinity(cost[(int)from]))
            return null;
        var legs = new List<Way>();
        for (var at = from; at != to; at = legs[^1].To)
        {
            // A forced first leg may lead back to where it began: that is no other route.
            if (legs.Count > ModeCount || choice[(int)at] is not { } leg || legs.Any(known => known.From == at))
                return null;
            legs.Add(leg);
        }

        return new PlannedRoute(from, to, legs, cost[(int)from], Table(choice));
    }

    /// <summary>Expected minutes through a way. Where a failed try leaves the phone where it was, the try is made again.</summary>
    private static double Cost(Way way, double[] cost)
    {
        var (p, there, fails) = (way.FailChance, cost[(int)way.To], cost[(int)way.FailsTo]);
        if (way.FailsTo == way.From || p == 0)
            return (way.Minutes + (1 - p) * there) / (1 - p);
        // A place from which no way is known yet costs what beginning again does.
        if (double.IsPositiveInfinity(fails))
            fails = way.Minutes + there + 1;
        return way.Minutes + (1 - p) * there + p * fails;
    }

    private static Dictionary<PhoneMode, Way> Table(Way?[] choice) => choice.OfType<Way>().ToDictionary(way => way.From);

    private static List<PlannedRoute> Others(List<Way> usable, PlannedRoute best) =>
        [
            .. usable
                .Where(way => way.From == best.From && best.Legs.Count > 0 && way != best.Legs[0])
                .Select(way => Solve(usable, best.From, best.To, way))
                .OfType<PlannedRoute>()
                .Where(route => route.Legs.All(leg => leg.To != best.From))
                .OrderBy(route => route.Minutes)
                .Take(MaxOthers),
        ];

    private static List<RouteOpener> Openers(Phone phone, List<JudgedWay> judged, PhoneMode from, PhoneMode to, PlannedRoute? best)
    {
        var usable = judged.Where(way => way.State <= NeedState.Presumed).Select(way => way.Way).ToList();
        var openers = new List<RouteOpener>();
        foreach (
            var group in judged
                .Where(way => !way.IsRuledOut && way.State >= NeedState.Unknown)
                .SelectMany(way =>
                    way.Way.Needs.Where(need => StateOf(phone, need, from) >= NeedState.Unknown).Select(need => (need, way.Way))
                )
                .GroupBy(pair => (pair.need.Fact, Values(pair.need)))
        )
        {
            var opened = group
                .Select(pair => pair.Way)
                .Where(way => way.Needs.All(need => need.Fact == group.Key.Fact || StateOf(phone, need, from) <= NeedState.Presumed))
                .ToList();
            if (
                Solve([.. usable, .. opened], from, to) is not { } route
                || route.Minutes >= (best?.Minutes ?? double.PositiveInfinity) - 0.05
            )
                continue;
            if (route.Legs.FirstOrDefault(opened.Contains) is { } by)
                openers.Add(
                    new RouteOpener(group.Key.Fact, group.Key.Item2, phone[group.Key.Fact].State != FactState.Unknown, route.Minutes, by)
                );
        }

        return [.. openers.OrderBy(opener => opener.Known).ThenBy(opener => opener.Minutes)];
    }

    private static string WhyNone(PhoneMode from, PhoneMode to, List<JudgedWay> judged)
    {
        if (to.WhyNoGoal() is { } no)
            return no;
        if (from == PhoneMode.Emergency)
            return "In chip emergency mode no key works: only a loader for its chip, or a board rescue, brings it elsewhere.";
        if (from == PhoneMode.Unknown)
            return "Where the phone is now is not known. Say what it shows.";
        var leading = judged.Where(way => way.Way.To == to).ToList();
        if (leading.Count == 0)
            return $"No way into {to.Label()} is known for this model.";
        return leading.Select(way => way.Why).FirstOrDefault(why => why is not null)
            ?? $"From {from.Label()} no way that is known leads there.";
    }
}
