using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Cli;

// The shapes of the JSON that the commands print. They are documented in docs/formats.md, and other programs read them: what the core
// calls things inside may change, these names do not.

/// <summary>What is in a package file.</summary>
internal sealed record PackageReport(
    string File, long SizeBytes, string Sha256, string Kind, string Title, string? Build, bool IsIntact,
    IReadOnlyList<FindingReport> Findings, IReadOnlyList<StatementReport> Statements, IReadOnlyList<ImageReport> Images,
    IReadOnlyList<MemberReport> Members, IReadOnlyList<RequirementLine> Requirements)
{
    public static PackageReport Of(Package package) => new(
        package.FileName, package.Contents.SizeBytes, package.Contents.Sha256, Words.Of(package.Kind), package.Title, package.Build?.Build,
        !package.Findings.Any(finding => finding.Weight == FindingWeight.Fatal),
        [.. package.Findings.Select(finding => new FindingReport(finding.Weight == FindingWeight.Fatal ? "fatal" : "note", finding.Text))],
        [.. package.Statements.Select(said => new StatementReport(said.Fact.Value, said.Value, said.Where))],
        [.. package.Images.Select(image => new ImageReport(
            image.Partition, image.Member.Name, Words.Of(image.Body.Format), Words.Of(image.Body.Wrapping), image.Body.Bytes, image.Body.Sha256,
            image.Body.ExpandedBytes, image.Body.ExpandedSha256, image.Body.Offset, Words.Of(image.Digest)))],
        [.. package.Contents.Members.Select(member => new MemberReport(member.Name, member.Within, Words.Of(member.Kind), member.PackedBytes, member.Sha256))],
        package.Contents.Requirements);
}

internal sealed record FindingReport(string Weight, string Text);

internal sealed record StatementReport(string Fact, string Value, string Where);

internal sealed record ImageReport(
    string Partition, string Member, string Format, string Wrapping, long Bytes, string Sha256, long ExpandedBytes, string? ExpandedSha256, long? Offset, string Digest);

internal sealed record MemberReport(string Name, string? Within, string Kind, long Bytes, string Sha256);

/// <summary>A library judged for one phone.</summary>
internal sealed record MatchReportFile(
    PhoneReport Phone, PolicyReport Policy, IReadOnlyList<CandidateReport> Candidates, IReadOnlyList<NearMissReport> NearMisses, IReadOnlyList<string> Arriving)
{
    public static MatchReportFile Of(Phone phone, MatchPolicy policy, IReadOnlyList<(MatchReport Report, Package Package)> ranked, IEnumerable<string> arriving) => new(
        new PhoneReport([.. phone.Names.Select(name => phone[name]).Select(fact => new ResolvedReport(
            fact.Name.Value, Words.Of(fact.State), fact.Value, [.. fact.Claims.Select(ClaimReport.Of)]))]),
        new PolicyReport(policy.Region.Id(), policy.DataMayGo ? "may-go" : "keep"),
        [.. ranked.Select(pair => CandidateReport.Of(pair.Report, pair.Package))],
        [.. Matcher.NearMisses(ranked).Select(miss => new NearMissReport(miss.PackageId, miss.PackageTitle,
            [.. miss.Results.Where(result => result.Verdict >= Verdict.Ask).Select(result => result.Sentence)]))],
        [.. arriving]);
}

internal sealed record PhoneReport(IReadOnlyList<ResolvedReport> Facts);

internal sealed record ResolvedReport(string Fact, string State, string? Value, IReadOnlyList<ClaimReport> Claims);

internal sealed record ClaimReport(string Fact, string Value, string Source, DateTimeOffset At, string? ParsedFrom)
{
    public static ClaimReport Of(Fact fact) => new(fact.Name.Value, fact.Value, Words.Of(fact.Source), fact.At, fact.ParsedFrom);
}

internal sealed record PolicyReport(string Region, string Data);

internal sealed record CandidateReport(
    string File, string Sha256, string Title, string Verdict, bool MayBeChosen, bool NeedsCleanWrite, string Headline, IReadOnlyList<RuleReport> Rules)
{
    public static CandidateReport Of(MatchReport report, Package package) => new(
        package.FileName, package.Id, report.PackageTitle, Words.Of(report.Verdict), report.MayBeChosen, report.NeedsCleanWrite, report.Headline,
        [.. report.Results.Select(result => new RuleReport(result.RuleId, result.Title, Words.Of(result.Verdict), result.Sentence, [.. result.FactsUsed.Select(ClaimReport.Of)]))]);
}

internal sealed record RuleReport(string Rule, string Title, string Verdict, string Sentence, IReadOnlyList<ClaimReport> FactsUsed);

internal sealed record NearMissReport(string Sha256, string Title, IReadOnlyList<string> Between);

/// <summary>Enumerations as the reports write them: <c>nothing-to-compare</c>.</summary>
internal static class Words
{
    public static string Of<T>(T value) where T : struct, Enum => System.Text.Json.JsonNamingPolicy.KebabCaseLower.ConvertName(value.ToString());
}
