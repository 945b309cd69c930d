using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Formats.MatchFiles;

// The shape of a match report as other programs read it, from the command line and over HTTP. It is documented in docs/formats.md: what the
// core calls things inside may change, these names do not. A change that a reader could stumble over gets another version.

/// <summary>Packages judged for one phone.</summary>
/// <param name="Format">Always <c>junctra-match</c>.</param>
/// <param name="Version">Version of this shape; now 1. Members may be added to it, never taken away.</param>
/// <param name="Phone">What was known of the phone.</param>
/// <param name="Policy">By what it was judged.</param>
/// <param name="Candidates">The packages, the best first.</param>
/// <param name="NearMisses">Where nothing may be chosen: what comes closest.</param>
/// <param name="Arriving">Files that were not looked at because they are still arriving.</param>
/// <param name="IsCut">Whether there are more candidates than are listed.</param>
public sealed record MatchReportFile(
    string Format,
    int Version,
    PhoneReport Phone,
    PolicyReport Policy,
    IReadOnlyList<CandidateReport> Candidates,
    IReadOnlyList<NearMissReport> NearMisses,
    IReadOnlyList<string> Arriving,
    bool IsCut
)
{
    /// <summary>What <see cref="Format"/> says.</summary>
    public const string FormatName = "junctra-match";

    /// <summary>What <see cref="Version"/> says.</summary>
    public const int PresentVersion = 1;

    /// <summary>The report of packages that were judged.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="policy">By what they were judged.</param>
    /// <param name="catalogue">Makers and models.</param>
    /// <param name="ranked">What <see cref="Matcher.Rank"/> gave.</param>
    /// <param name="arriving">Files that are still arriving.</param>
    /// <param name="most">How many candidates to list.</param>
    /// <param name="isCut">Whether there are more than were judged.</param>
    public static MatchReportFile Of(
        Phone phone,
        MatchPolicy policy,
        ModelCatalogue catalogue,
        IReadOnlyList<(MatchReport Report, Package Package)> ranked,
        IEnumerable<string> arriving,
        int most = int.MaxValue,
        bool isCut = false
    ) =>
        new(
            FormatName,
            PresentVersion,
            new PhoneReport([
                .. phone
                    .Names.Select(name => phone[name])
                    .Select(fact => new ResolvedReport(
                        fact.Name.Value,
                        EnumNames.Of(fact.State),
                        fact.Value,
                        [.. fact.Claims.Select(ClaimReport.Of)]
                    )),
            ]),
            PolicyReport.Of(policy),
            [.. ranked.Take(most).Select(pair => CandidateReport.Of(pair.Report, pair.Package))],
            [.. Matcher.Nearest(phone, ranked, catalogue, policy).Select(NearMissReport.Of)],
            [.. arriving],
            isCut || ranked.Count > most
        );
}

/// <summary>What was known of a phone.</summary>
/// <param name="Facts">Its facts, each with all that was claimed of it.</param>
public sealed record PhoneReport(IReadOnlyList<ResolvedReport> Facts);

/// <summary>One fact.</summary>
/// <param name="Fact">Its name, for example <c>model-code</c>.</param>
/// <param name="State"><c>known</c>, <c>conflicting</c> or <c>unknown</c>.</param>
/// <param name="Value">The value of the most trusted source, or null.</param>
/// <param name="Claims">Every claim that counts.</param>
public sealed record ResolvedReport(string Fact, string State, string? Value, IReadOnlyList<ClaimReport> Claims);

/// <summary>One claim of a fact.</summary>
/// <param name="Fact">The fact's name.</param>
/// <param name="Value">The value.</param>
/// <param name="Source">Where it comes from, for example <c>link</c>.</param>
/// <param name="At">When it was read or said.</param>
/// <param name="ParsedFrom">The string that it was read out of, or null.</param>
public sealed record ClaimReport(string Fact, string Value, string Source, DateTimeOffset At, string? ParsedFrom)
{
    internal static ClaimReport Of(Fact fact) => new(fact.Name.Value, fact.Value, EnumNames.Of(fact.Source), fact.At, fact.ParsedFrom);
}

/// <summary>By what was judged: schools, goal and wish.</summary>
/// <param name="Region"><c>own</c>, <c>group</c> or <c>any</c>.</param>
/// <param name="Revision"><c>never</c>, <c>stay</c> or <c>newest</c>.</param>
/// <param name="Origin"><c>official</c>, <c>known</c> or <c>any</c>.</param>
/// <param name="Digests"><c>refuse</c> or <c>warn</c>.</param>
/// <param name="Data"><c>keep</c> or <c>may-go</c>.</param>
/// <param name="Goal"><c>stock</c>, <c>update</c>, <c>keep-root</c> or <c>recovery</c>.</param>
/// <param name="Version">The wish: <c>none</c>, <c>newest</c>, <c>same-revision</c>, <c>exactly …</c> or <c>not-above …</c>.</param>
/// <param name="BoardRescue">Whether the finding is that the boot chain is gone.</param>
public sealed record PolicyReport(
    string Region,
    string Revision,
    string Origin,
    string Digests,
    string Data,
    string Goal,
    string Version,
    bool BoardRescue
)
{
    internal static PolicyReport Of(MatchPolicy policy)
    {
        string School(string question) => Schools.Find(question)!.Of(policy).Id;
        return new(
            School("region"),
            School("revision"),
            School("origin"),
            School("digests"),
            policy.DataMayGo ? "may-go" : "keep",
            policy.Goal.Id(),
            $"{policy.Wish.Kind.Id()} {policy.Wish.Version}".Trim(),
            policy.NeedsBoardRescue
        );
    }
}

/// <summary>A package that was judged.</summary>
/// <param name="File">Name of its file.</param>
/// <param name="Sha256">Digest of its file.</param>
/// <param name="Title">Its build, or its file's name.</param>
/// <param name="Verdict"><c>go</c>, <c>care</c>, <c>ask</c> or <c>stop</c>; the worst of its rules.</param>
/// <param name="MayBeChosen">Whether a plan may be made with it.</param>
/// <param name="NeedsCleanWrite">Whether it may only be written with the user data erased.</param>
/// <param name="Headline">The sentence to read first.</param>
/// <param name="Rules">What every rule says.</param>
/// <param name="Consequences">What somebody accepts who writes it.</param>
public sealed record CandidateReport(
    string File,
    string Sha256,
    string Title,
    string Verdict,
    bool MayBeChosen,
    bool NeedsCleanWrite,
    string Headline,
    IReadOnlyList<RuleReport> Rules,
    IReadOnlyList<ConsequenceReport> Consequences
)
{
    internal static CandidateReport Of(MatchReport report, Package package) =>
        new(
            package.FileName,
            package.Id,
            report.PackageTitle,
            EnumNames.Of(report.Verdict),
            report.MayBeChosen,
            report.NeedsCleanWrite,
            report.Headline,
            [
                .. report.Results.Select(result => new RuleReport(
                    result.RuleId,
                    result.Title,
                    EnumNames.Of(result.Verdict),
                    result.Sentence,
                    [.. result.FactsUsed.Select(ClaimReport.Of)],
                    result.School,
                    [
                        .. (result.OtherSchools ?? []).Select(other => new SchoolReport(
                            other.Question,
                            other.School,
                            EnumNames.Of(other.Verdict),
                            other.Sentence
                        )),
                    ]
                )),
            ],
            [.. report.Consequences.Select(consequence => new ConsequenceReport(EnumNames.Of(consequence.Kind), consequence.Text))]
        );
}

/// <summary>What one rule says.</summary>
/// <param name="Rule">Its id, for example <c>M04</c>.</param>
/// <param name="Title">Its name.</param>
/// <param name="Verdict">Its verdict.</param>
/// <param name="Sentence">Why.</param>
/// <param name="FactsUsed">The claims that it looked at.</param>
/// <param name="School">The school that decides it, in words, or null where none does.</param>
/// <param name="OtherSchools">What it would say by other schools, where that differs.</param>
public sealed record RuleReport(
    string Rule,
    string Title,
    string Verdict,
    string Sentence,
    IReadOnlyList<ClaimReport> FactsUsed,
    string? School,
    IReadOnlyList<SchoolReport> OtherSchools
);

/// <summary>What a rule says by another school.</summary>
/// <param name="Question">The question on which practitioners disagree, in words.</param>
/// <param name="School">The school, in words.</param>
/// <param name="Verdict">The verdict by it.</param>
/// <param name="Sentence">Why.</param>
public sealed record SchoolReport(string Question, string School, string Verdict, string Sentence);

/// <summary>What somebody accepts.</summary>
/// <param name="Kind"><c>one-way-revision</c>, <c>clean-write</c>, <c>data-not-promised</c>, <c>region-apps</c>, <c>warranty</c>,
/// <c>not-proven</c>, <c>root-lost</c> or <c>network</c>.</param>
/// <param name="Text">In a sentence.</param>
public sealed record ConsequenceReport(string Kind, string Text);

/// <summary>A package that comes close, where nothing may be chosen.</summary>
/// <param name="Sha256">Digest of its file.</param>
/// <param name="Title">Its build, or its file's name.</param>
/// <param name="Between">What stands between, sentence by sentence.</param>
/// <param name="OpensWith">The smallest set of readings and decisions that opens it.</param>
/// <param name="NoWay">Why nothing does, or null.</param>
public sealed record NearMissReport(
    string Sha256,
    string Title,
    IReadOnlyList<string> Between,
    IReadOnlyList<string> OpensWith,
    string? NoWay
)
{
    internal static NearMissReport Of(NearMiss miss) =>
        new(
            miss.Report.PackageId,
            miss.Report.PackageTitle,
            [.. miss.Report.Results.Where(result => result.Verdict >= Verdict.Ask).Select(result => result.Sentence)],
            [.. miss.Changes.Select(change => change.Sentence)],
            miss.NoWay
        );
}
