using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Finds what stands between a phone and a package, by asking the rules again and again, never by knowing them.</summary>
/// <remarks>
/// Decisions can touch every rule and are few: all sets of them are tried, the smallest first. A reading touches only the rules that need
/// its fact: for each rule that still blocks, the smallest sets of readings that open it are tried on top, until none blocks. That finds
/// the smallest set there is.
/// </remarks>
public static class NearMisses
{
    private const int MaxDecisions = 3;
    private const int MaxReadings = 8;
    private const double UsualMinutes = 2;

    // Opening, finding the pad, the first answer and closing again; no figure of a shop's own yet.
    private const double RescueMinutes = 60;

    /// <summary>The least that would open a package.</summary>
    public static NearMiss Of(Phone phone, Package package, ModelCatalogue catalogue, MatchPolicy policy, Surroundings? around = null)
    {
        var now = new MatchCase(phone, package, catalogue, policy, around);
        var report = Matcher.Report(now);
        if (report.MayBeChosen)
            return new NearMiss(report, [], null);
        var changes = ChangesFor(phone, package, catalogue, policy);
        var readings = changes.Where(change => change.Fact is not null).ToLookup(change => change.Fact!.Value);
        IReadOnlyList<OpeningChange>? best = null;
        foreach (var decisions in Subsets([.. changes.Where(change => change.Fact is null)], MaxDecisions))
        {
            if (best is not null && decisions.Count > best.Count)
                break;
            Open(After(now, decisions), decisions);
        }

        if (best is not null)
            return new NearMiss(report, [.. changes.Where(best.Contains)], null);
        return new NearMiss(
            report,
            [],
            report.Results.Where(result => result.Verdict == Verdict.Stop).Select(result => result.Sentence).FirstOrDefault()
                ?? "Nothing that can be read or decided here opens it."
        );

        void Open(MatchCase c, IReadOnlyList<OpeningChange> done)
        {
            if (best is not null && !IsBetter(done, best))
                return;
            var blocking = Matcher.Rules.FirstOrDefault(rule => rule.Judge(c).Verdict > Verdict.Care);
            if (blocking is null)
            {
                best = done;
                return;
            }

            if (done.Count(change => change.Fact is not null) >= MaxReadings)
                return;
            var free = blocking.Needs.Where(name => done.All(change => change.Fact != name)).SelectMany(name => readings[name]).ToList();
            List<IReadOnlyList<OpeningChange>> opening = [];
            foreach (var set in Subsets(free, free.Count))
            {
                // A set that holds one that opens already is no smallest one.
                if (set.Count == 0 || opening.Any(smaller => smaller.All(set.Contains)))
                    continue;
                if (best is not null && done.Count + set.Count > best.Count)
                    break;
                var after = After(c, set);
                if (blocking.Judge(after).Verdict > Verdict.Care)
                    continue;
                opening.Add(set);
                Open(after, [.. done, .. set]);
            }
        }
    }

    private static bool IsBetter(IReadOnlyList<OpeningChange> a, IReadOnlyList<OpeningChange> b) =>
        a.Count < b.Count || a.Count == b.Count && a.Sum(change => change.Minutes) < b.Sum(change => change.Minutes);

    /// <summary>Whether a package may be chosen after some changes.</summary>
    public static bool Opens(
        Phone phone,
        Package package,
        ModelCatalogue catalogue,
        MatchPolicy policy,
        IEnumerable<OpeningChange> changes,
        Surroundings? around = null
    ) => Matcher.MayBeChosen(After(new MatchCase(phone, package, catalogue, policy, around), changes));

    private static MatchCase After(MatchCase c, IEnumerable<OpeningChange> changes) =>
        changes.Aggregate(c, (now, change) =>
            change.Fact is null
                ? now with
                {
                    Policy = change.Decide(now.Policy),
                }
                : now with
                {
                    Phone = change.Read(now.Phone, now.Catalogue),
                }
        );

    /// <summary>
    /// Everything that may still turn out or be decided and that a rule asks about: facts that are unknown or disputed, schools, the goal
    /// and the wish.
    /// </summary>
    public static IReadOnlyList<OpeningChange> ChangesFor(Phone phone, Package package, ModelCatalogue catalogue, MatchPolicy policy)
    {
        var changes = new List<OpeningChange>();
        foreach (var name in Matcher.Rules.SelectMany(rule => rule.Needs).Distinct())
        {
            var fact = phone[name];
            // A floor of which only a bound is known, or that contradicts what the phone has run, is still to be read; where the phone is,
            // and what lies on its card, changes by hand.
            var isOpen =
                name == FactName.RollbackFloor
                    ? RollbackFloor.Of(phone, catalogue) is { Exact.Count: not 1 } or { IsConflicting: true }
                    : OpeningValues.IsByHand(name) || fact.State != FactState.Known;
            if (!isOpen)
                continue;
            // What is disputed can only be settled by one of its claims; what is unknown may turn out as the package needs it.
            var values = fact.State == FactState.Conflicting ? fact.Values : OpeningValues.Of(name, phone, package, catalogue);
            foreach (
                var value in values
                    .Where(value => fact.State != FactState.Known || name == FactName.RollbackFloor || !fact.Values.Contains(value))
                    .Distinct(StringComparer.OrdinalIgnoreCase)
            )
            {
                var place = WantedFacts.PlaceFor(name, phone, catalogue);
                var minutes = place?.Minutes ?? UsualMinutes;
                var how =
                    name.IsReached ? $"Try to bring it into {name.ReachedMode.Label()}"
                    : fact.State == FactState.Conflicting ? $"Settle the {name.LabelInText}"
                    : $"Read the {name.LabelInText}{(place?.Place is { } where ? $" ({where.Where})" : "")}";
                var sentence = OpeningValues.IsByHand(name)
                    ? $"{OpeningValues.Hands(name, value)}: {minutes:0.#} min."
                    : $"{how}: {minutes:0.#} min. {(name.IsReached ? "It opens if it gets there." : $"It opens if that is {name.Definition.Form.Say(value)}, for example.")}";
                changes.Add(new OpeningChange(name.Value, sentence, minutes) { Fact = name, Value = value });
            }
        }

        changes.AddRange(WaysIn(phone, package, catalogue, policy));
        foreach (var question in Schools.All)
        {
            changes.AddRange(
                question
                    .Choices.SkipWhile(choice => choice != question.Of(policy))
                    .Skip(1)
                    .Select(choice => new OpeningChange(
                        question.Id,
                        $"Shop rule for this job, {question.Title.ToLowerInvariant()}: {choice.Label}.",
                        0
                    )
                    {
                        School = choice,
                        Decide = before => question.Apply(before, choice),
                    })
            );
        }

        changes.AddRange(
            // A lock is closed without a package: whoever wants that is not helped by one.
            Enum.GetValues<JobGoal>()
                .Where(goal => goal != JobGoal.Relock)
                .Where(goal => goal != policy.Goal)
                .Select(goal => new OpeningChange(NearMiss.GoalKey, $"Agree with the customer that this job is for {goal.Label()}.", 0)
                {
                    Decide = before => before with { Goal = goal },
                })
        );
        if (policy.Wish.Kind != WishKind.None)
            changes.Add(
                new OpeningChange("wish", $"Agree with the customer to give up the wish: {policy.Wish.Label()}.", 0)
                {
                    Decide = before => before with { Wish = VersionWish.None },
                }
            );
        return changes;
    }

    /// <summary>
    /// Where the phone is not in the package's mode and nothing forbids it: that somebody brings it there, by a board rescue where its boot
    /// chain is gone.
    /// </summary>
    private static IEnumerable<OpeningChange> WaysIn(Phone phone, Package package, ModelCatalogue catalogue, MatchPolicy policy)
    {
        var c = new MatchCase(phone, package, catalogue, policy);
        if (new M14Reachable().Judge(c).Verdict != Verdict.Ask || new M19Loader().Judge(c).Verdict == Verdict.Stop)
            yield break;
        var isRescue = M19Loader.IsBoardCase(c) == true;
        foreach (
            var mode in phone[FactName.ModelCode]
                .Values.Select(catalogue.Model)
                .OfType<PhoneModel>()
                .Select(model => M14Reachable.ModeOf(package, model))
                .Distinct()
        )
        {
            var minutes = isRescue ? RescueMinutes : UsualMinutes + 1;
            yield return new OpeningChange(
                FactName.Mode.Value,
                isRescue
                    ? $"Rescue the board, so that it answers in {mode.Label()}: {minutes:0} min."
                    : $"Bring it into {mode.Label()}: {minutes:0} min.",
                minutes
            )
            {
                Fact = FactName.Mode,
                Value = mode.Id(),
            };
        }
    }

    /// <summary>All sets of changes that do not exclude each other, up to a size, the smaller ones first, the empty one too.</summary>
    private static IEnumerable<IReadOnlyList<OpeningChange>> Subsets(List<OpeningChange> changes, int most)
    {
        for (var size = 0; size <= Math.Min(most, changes.Count); size++)
            foreach (var set in OfSize(size, 0))
                yield return set;

        IEnumerable<IReadOnlyList<OpeningChange>> OfSize(int size, int from)
        {
            if (size == 0)
            {
                yield return [];
                yield break;
            }

            for (var i = from; i <= changes.Count - size; i++)
                foreach (var rest in OfSize(size - 1, i + 1))
                    if (!rest.Any(change => change.Settles == changes[i].Settles))
                        yield return [changes[i], .. rest];
        }
    }
}
