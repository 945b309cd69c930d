using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>What a path is compiled for.</summary>
/// <param name="Phone">The phone.</param>
/// <param name="Package">The package that was chosen, or null.</param>
/// <param name="ErasesData">Whether the user data is to be erased.</param>
/// <param name="Catalogue">Models, ways and figures.</param>
/// <param name="NeedsCleanWrite">Whether the match allows the package only with the user data erased.</param>
public sealed record PathCase(Phone Phone, Package? Package, bool ErasesData, ModelCatalogue Catalogue, bool NeedsCleanWrite = false)
{
    /// <summary>Whether a write of this job proves that the phone's software is its maker's (<see cref="StockProof"/>).</summary>
    public bool IsProvenStock { get; init; }

    /// <summary>What the phone is to be written for.</summary>
    public JobGoal Goal { get; init; }

    /// <summary>The bundle in the library from which a patched part was made; null where none is known.</summary>
    public Package? Original { get; init; }

    /// <summary>Whether the finding is that the phone does not react at all, so that only its chip may still answer.</summary>
    public bool NeedsRescue { get; init; }

    /// <summary>Why the rescue of its board came to nothing; null while it did not.</summary>
    public string? RescueEnded { get; init; }

    /// <summary>What was saved of the phone before something else was done with it, and is to go back; null where nothing is.</summary>
    public SavedData? Saved { get; init; }

    /// <summary>Letters of the paths that the finding usually asks for; empty where nothing was found, or no write is needed.</summary>
    public IReadOnlyList<string> UsualPaths { get; init; } = [];

    /// <summary>How long things take: the catalogue's figures, or what was measured in their place.</summary>
    public Figures Figures { get; init; } = Catalogue.Figures;

    /// <summary>How long acts take by the shop's own log; null where it is not asked.</summary>
    public IActTimes? Times { get; init; }

    /// <summary>How shop and customer want it planned.</summary>
    public PlanPolicy Policy { get; init; } = PlanPolicy.Usual;

    /// <summary>The case of a phone under what shop and customer decided.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="package">The package that was chosen, or null.</param>
    /// <param name="erases">Whether the user data is to be erased.</param>
    /// <param name="catalogue">Models, ways and figures.</param>
    /// <param name="policy">What was decided.</param>
    /// <param name="match">The match of the package, or null without one.</param>
    /// <param name="original">The bundle from which a patched part was made, or null.</param>
    public static PathCase Of(
        Phone phone,
        Package? package,
        bool erases,
        ModelCatalogue catalogue,
        MatchPolicy policy,
        MatchReport? match = null,
        Package? original = null
    ) =>
        new(phone, package, erases, catalogue, match?.NeedsCleanWrite ?? false)
        {
            Goal = policy.Goal,
            NeedsRescue = policy.NeedsBoardRescue,
            Policy = policy.Plans,
            Original = original,
        };

    /// <summary>
    /// The case as a path takes it that somebody chose: one that keeps the data keeps them, although they may go. Never the other way.
    /// </summary>
    public PathCase ChosenFor(IPath path)
    {
        var keeps = this with { ErasesData = false };
        return ErasesData && path.WhyUnfit(this) is not null && path.WhyUnfit(keeps) is null ? keeps : this;
    }

    /// <summary>The phone's model, or null.</summary>
    public PhoneModel? Model => Catalogue.Model(Phone[FactName.ModelCode].Value);

    /// <summary>Where the phone is, as far as anybody knows.</summary>
    public PhoneMode Mode => PhoneModes.Parse(Phone[FactName.Mode].Value) ?? PhoneMode.Unknown;
}

/// <summary>A way of doing a job, from the first act to the last. One file for each; <see cref="PathList"/> is the list.</summary>
public interface IPath
{
    /// <summary>Its letter.</summary>
    string Letter { get; }

    /// <summary>Its name, as people say it.</summary>
    string Title { get; }

    /// <summary>Which phones it is for, and what it costs, in a sentence or two.</summary>
    string Purpose { get; }

    /// <summary>
    /// Why it is no path for such a package, or without one, for what the job is for, or for data that are kept or erased; null where it
    /// is one.
    /// </summary>
    string? WhyUnfit(PathCase @case);

    /// <summary>Whether the phone is read over the link of its write mode before it is planned.</summary>
    bool ReadsLink => true;

    /// <summary>Makes the plan, or says why it cannot be made.</summary>
    PlanOutcome Compile(PathCase @case);
}

/// <summary>The paths.</summary>
public static class PathList
{
    /// <summary>
    /// All of them. Where several suit, the one that costs the customer least comes first: what keeps data and root, then what writes
    /// least, then what takes fewer hands.
    /// </summary>
    public static IReadOnlyList<IPath> All { get; } =
    [
        new KeepRoot(),
        new BundleKeepingData(),
        new CardUpdate(),
        new StockRecovery(),
        new OwnBackup(),
        new FactorySet(),
        new BundleClean(),
        new BundleHeld(),
        new WipeFirst(),
        new BundleWithLayout(),
        new BoardRescue(),
        new WipeOnly(),
        new Relock(),
        new DataFirst(),
    ];

    /// <summary>The path of a letter, or null.</summary>
    public static IPath? Find(string? letter) => All.FirstOrDefault(path => path.Letter == letter);

    /// <summary>The path of packages that only one takes, or null: it need not be chosen.</summary>
    /// <param name="kind">The kind of the package.</param>
    /// <param name="needsRescue">Whether the phone does not react at all.</param>
    public static IPath? OnlyOneFor(PackageKind kind, bool needsRescue = false) =>
        kind switch
        {
            _ when needsRescue && kind.Traits().IsBundle => Find("L"),
            PackageKind.CardUpdate => Find("G"),
            PackageKind.BackupSet => Find("H"),
            PackageKind.SingleImage => Find("M"),
            PackageKind.BundlePart => Find("I"),
            _ => null,
        };

    /// <summary>The paths that suit a case, in the order in which they are preferred.</summary>
    public static IReadOnlyList<IPath> For(PathCase @case)
    {
        var suits = All.Where(path => path.WhyUnfit(@case) is null);
        if (!@case.ErasesData)
            return [.. suits];
        // What a custom system left behind, and nobody wants, is wiped before its own recovery is written over.
        var isLeftBehind =
            @case.Phone.Of(FactName.DeviceStatus).Is(DeviceStatus.Custom) && @case.Phone.Of(FactName.Recovery).Is(RecoveryKind.Custom);
        return
        [
            .. suits
                .OrderBy(path => path is not BundleWithLayout || @case.Policy.Layout != LayoutSchool.Always)
                .ThenBy(path => path is not BundleHeld || @case.Policy.Wipe != WipeSchool.Held)
                .ThenBy(path =>
                    path is not WipeFirst
                    || @case.Policy.Wipe != WipeSchool.Before && !(isLeftBehind && @case.Policy.Wipe == WipeSchool.OnlyIfItLoops)
                ),
        ];
    }

    /// <summary>
    /// The plan by the path that was chosen; or else by the first that suits and has one. Without any, what speaks against the first.
    /// </summary>
    /// <param name="case">What it is compiled for.</param>
    /// <param name="letter">The path that was chosen, or null.</param>
    public static PlanOutcome Compile(PathCase @case, string? letter = null)
    {
        if (Find(letter) is { } chosen)
        {
            @case = @case.ChosenFor(chosen);
            return chosen.WhyUnfit(@case) is { } unfit
                ? new PlanOutcome(null, [$"“{chosen.Title}” is no way to do this: {unfit}"])
                : chosen.Compile(@case);
        }

        PlanOutcome? first = null;
        foreach (var path in For(@case))
        {
            var outcome = path.Compile(@case);
            if (outcome.Plan is not null)
                return outcome;
            first ??= outcome;
        }

        return first ?? new PlanOutcome(null, [WhyNone(@case)]);
    }

    private static string WhyNone(PathCase @case)
    {
        if (@case.Package is not { } package)
            return "Nothing is chosen to be done.";
        // The paths for such a package say what is missing; the others only that they are for something else.
        var own = All.Select(path => path.WhyUnfit(@case)!)
            .FirstOrDefault(why => !why.StartsWith(PathFit.ItTakes, StringComparison.Ordinal));
        return own ?? $"{package.Title} is {Article(package.KindWords())}: no way to write one to this phone is known.";
    }

    private static string Article(string words) => (words[0] is 'a' or 'e' or 'i' or 'o' or 'u' ? "an " : "a ") + words;
}
