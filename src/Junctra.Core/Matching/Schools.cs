using Junctra.Core.Catalogue;

namespace Junctra.Core.Matching;

/// <summary>One way of working on a question on which practitioners disagree.</summary>
/// <param name="Id">The name used in files and in the database, for example <c>own</c>.</param>
/// <param name="Label">The name as a technician says it.</param>
/// <param name="Why">What speaks for it.</param>
public sealed record SchoolChoice(string Id, string Label, string Why);

/// <summary>A question on which practitioners disagree. A shop has a rule for it, and a job may have another.</summary>
/// <param name="Id">The name used in files and in the database, for example <c>region</c>.</param>
/// <param name="Title">The question in two words.</param>
/// <param name="RuleId">The rule that it decides; null where it decides how a job is planned.</param>
/// <param name="Usual">What the product does where nobody has decided.</param>
/// <param name="Choices">The schools, the strictest first: a stricter one never gives a better verdict.</param>
public sealed record SchoolQuestion(string Id, string Title, RuleId? RuleId, string Usual, IReadOnlyList<SchoolChoice> Choices)
{
    /// <summary>How the choice is read out of a policy.</summary>
    internal Func<MatchPolicy, int> Get { get; init; } = _ => 0;

    /// <summary>The policy with another choice.</summary>
    internal Func<MatchPolicy, int, MatchPolicy> Set { get; init; } = (policy, _) => policy;

    /// <summary>The choice of a policy.</summary>
    public SchoolChoice Of(MatchPolicy policy) => Choices[Get(policy)];

    /// <summary>The choice of that name, or null.</summary>
    public SchoolChoice? Parse(string? id) => Choices.FirstOrDefault(choice => choice.Id == id);

    /// <summary>The policy by another school.</summary>
    /// <exception cref="ArgumentException">The choice is none of this question.</exception>
    public MatchPolicy Apply(MatchPolicy policy, SchoolChoice choice)
    {
        var at = Choices.ToList().FindIndex(known => known.Id == choice.Id);
        return at >= 0 ? Set(policy, at) : throw new ArgumentException($"{choice.Id} is no school of {Id}.", nameof(choice));
    }
}

/// <summary>The questions on which practitioners disagree.</summary>
public static partial class Schools
{
    /// <summary>The questions of the match (specification: section 9.7 of the job).</summary>
    public static IReadOnlyList<SchoolQuestion> All { get; } =
    [
        new(
            "region",
            "Region",
            RuleId.Region,
            "own",
            [
                new("own", "own region only", "Its apps, networks and bands are what the phone was sold with, and the data may stay."),
                new(
                    "group",
                    "same group",
                    "Regions of a group share hardware bands and a software branch; an update may be out there weeks earlier."
                ),
                new(
                    "any",
                    "any for this model",
                    "The board is the same in every region; apps and network settings change, and somebody accepts that."
                ),
            ]
        )
        {
            Get = policy => (int)policy.Region,
            Set = (policy, at) => policy with { Region = (RegionSchool)at },
        },
        new(
            "revision",
            "Bootloader revision",
            RuleId.Revision,
            "stay",
            [
                new(
                    "never",
                    "never raise it",
                    "A raised revision shuts every older build out for ever, also the one that would have saved the next repair."
                ),
                new(
                    "stay",
                    "stay on the floor",
                    "The same revision is taken where there is a choice; raising it is accepted by name, or with an update."
                ),
                new("newest", "newest first", "The newest build mends the most, and makers stop to keep the older revisions up."),
            ]
        )
        {
            Get = policy => (int)policy.Revision,
            Set = (policy, at) => policy with { Revision = (RevisionSchool)at },
        },
        new(
            "origin",
            "Origin",
            RuleId.Origin,
            "any",
            [
                new(
                    "official",
                    "official only",
                    "Only what is proved to be its maker's, as sent out to everybody, is expected to start and to stay up."
                ),
                new("known", "pre-releases too", "A pre-release may work and mend what is asked for; what nobody can prove stays out."),
                new(
                    "any",
                    "unknown too, with its risk",
                    "Many older packages were never published with digests; the risk is named and accepted."
                ),
            ]
        )
        {
            Get = policy => (int)policy.Origin,
            Set = (policy, at) => policy with { Origin = (OriginSchool)at },
        },
        new(
            "digests",
            "Missing digests",
            RuleId.Intact,
            "warn",
            [
                new("refuse", "do not write", "A damaged copy that nobody can notice kills a phone half way."),
                new(
                    "warn",
                    "write, with the risk named",
                    "Some mirrors publish none; the checks of every frame and image still find most damage."
                ),
            ]
        )
        {
            Get = policy => (int)policy.Digests,
            Set = (policy, at) => policy with { Digests = (DigestSchool)at },
        },
    ];

    /// <summary>
    /// The questions of the route (specification: section 7.2 of the job). They decide which ways are used; the rule of reach then says
    /// whether one leads there.
    /// </summary>
    public static IReadOnlyList<SchoolQuestion> OfRoutes { get; } =
    [
        new(
            "debugging",
            "Debugging link",
            RuleId.Reachable,
            "use",
            [
                new(
                    "none",
                    "not used",
                    "Keys need nothing of the phone's system, and a computer that was allowed once is allowed for ever."
                ),
                new("use", "used where this computer is allowed", "A command is quicker than keys, and misses no moment."),
            ]
        )
        {
            Get = policy => policy.Routes.Debugging ? 1 : 0,
            Set = (policy, at) => policy with { Routes = policy.Routes with { Debugging = at == 1 } },
        },
        new(
            "recovery-way",
            "Recovery as a way",
            RuleId.Reachable,
            "last",
            [
                new("last", "only where nothing else leads there", "It is slow, and its words and places vary from phone to phone."),
                new("any", "like any other way", "A write mode that was started from recovery may connect where the direct way does not."),
            ]
        )
        {
            Get = policy => policy.Routes.Recovery ? 1 : 0,
            Set = (policy, at) => policy with { Routes = policy.Routes with { Recovery = at == 1 } },
        },
        new(
            "root-manager",
            "Root manager's restart",
            RuleId.Reachable,
            "use",
            [
                new("none", "not used", "What somebody else's program does on the phone is not relied on."),
                new("use", "used where there is root", "It needs no computer and no keys."),
            ]
        )
        {
            Get = policy => policy.Routes.RootManager ? 1 : 0,
            Set = (policy, at) => policy with { Routes = policy.Routes with { RootManager = at == 1 } },
        },
    ];

    /// <summary>Those of the match, of the route, and of the plan.</summary>
    public static IReadOnlyList<SchoolQuestion> Everywhere => [.. All, .. OfRoutes, .. OfPlans, .. OfWatching];

    /// <summary>The question of that name, or null.</summary>
    public static SchoolQuestion? Find(string? id) => Everywhere.FirstOrDefault(question => question.Id == id);

    /// <summary>What the catalogue's files decided, before the lead or a job says otherwise; careful where they say nothing.</summary>
    public static MatchPolicy PolicyOf(ModelCatalogue catalogue) =>
        Everywhere.Aggregate(MatchPolicy.Careful, (policy, question) =>
            question.Parse(catalogue.SchoolAnswers.GetValueOrDefault(question.Id)) is { } choice ? question.Apply(policy, choice) : policy
        );

    /// <summary>The school as files and forms write it: <c>own</c>, <c>group</c>, <c>any</c>.</summary>
    public static string Id(this RegionSchool school) => All[0].Choices[(int)school].Id;

    /// <summary>The school as a technician says it.</summary>
    public static string Label(this RegionSchool school) => All[0].Choices[(int)school].Label;
}

/// <summary>Words for goals and wishes.</summary>
public static class GoalWords
{
    private static readonly (JobGoal Goal, string Id, string Label)[] Goals =
    [
        (JobGoal.Stock, "stock", "the maker's own system"),
        (JobGoal.Update, "update", "an update"),
        (JobGoal.KeepRoot, "keep-root", "an update that keeps root"),
        (JobGoal.Recovery, "recovery", "stock recovery alone"),
        (JobGoal.Relock, "relock", "its lock closed again"),
    ];

    private static readonly (WishKind Kind, string Id, string Label)[] Wishes =
    [
        (WishKind.None, "none", "no wish"),
        (WishKind.Newest, "newest", "the newest"),
        (WishKind.Exactly, "exactly", "exactly"),
        (WishKind.NotAbove, "not-above", "not above"),
        (WishKind.SameRevision, "same-revision", "the same bootloader revision"),
    ];

    /// <summary>The goal as files write it.</summary>
    public static string Id(this JobGoal goal) => Goals.First(words => words.Goal == goal).Id;

    /// <summary>The goal as a technician says it.</summary>
    public static string Label(this JobGoal goal) => Goals.First(words => words.Goal == goal).Label;

    /// <summary>The goal of that name, or null.</summary>
    public static JobGoal? ParseGoal(string? id) =>
        Goals.Where(words => words.Id == id).Select(words => (JobGoal?)words.Goal).FirstOrDefault();

    /// <summary>The kind of wish as files write it.</summary>
    public static string Id(this WishKind kind) => Wishes.First(words => words.Kind == kind).Id;

    /// <summary>The kind of wish as a technician says it.</summary>
    public static string Label(this WishKind kind) => Wishes.First(words => words.Kind == kind).Label;

    /// <summary>The wish as a technician says it: <c>not above 14</c>.</summary>
    public static string Label(this VersionWish wish) =>
        VersionWish.NeedsVersion(wish.Kind) ? $"{wish.Kind.Label()} {wish.Version}" : wish.Kind.Label();

    /// <summary>
    /// A wish as files write it: <c>newest</c>, <c>same-revision</c>, <c>exactly VERSION</c> or <c>not-above VERSION</c>; null where it is
    /// none.
    /// </summary>
    public static VersionWish? ReadWish(string? text)
    {
        var words = (text ?? "").Split(' ', 2, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        return words.Length > 0 && ParseWish(words[0]) is { } kind && VersionWish.NeedsVersion(kind) == (words.Length == 2)
            ? new VersionWish(kind, words.ElementAtOrDefault(1) ?? "")
            : null;
    }

    /// <summary>The kind of wish of that name, or null.</summary>
    public static WishKind? ParseWish(string? id) =>
        Wishes.Where(words => words.Id == id).Select(words => (WishKind?)words.Kind).FirstOrDefault();
}
