using Junctra.Core;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Routes;

namespace Junctra.Cli;

// The shapes of the JSON that the commands print. They are documented in docs/formats.md, and other programs read them: what the core
// calls things inside may change, these names do not.

/// <summary>What is in a package file.</summary>
internal sealed record PackageReport(
    string File,
    long SizeBytes,
    string Sha256,
    string Kind,
    string Title,
    string? Build,
    bool IsIntact,
    IReadOnlyList<FindingReport> Findings,
    IReadOnlyList<StatementReport> Statements,
    IReadOnlyList<ImageReport> Images,
    IReadOnlyList<MemberReport> Members,
    IReadOnlyList<RequirementLine> Requirements
)
{
    public static PackageReport Of(Package package) =>
        new(
            package.FileName,
            package.Contents.SizeBytes,
            package.Contents.Sha256,
            EnumNames.Of(package.Kind),
            package.Title,
            package.Build?.Build,
            !package.IsDamaged,
            [.. package.Findings.Select(finding => new FindingReport(finding.Weight.ToString().ToLowerInvariant(), finding.Text))],
            [.. package.Statements.Select(said => new StatementReport(said.Fact.Value, said.Value, said.Where))],
            [
                .. package.Images.Select(image => new ImageReport(
                    image.Partition,
                    image.Member.Name,
                    EnumNames.Of(image.Body.Format),
                    EnumNames.Of(image.Body.Wrapping),
                    image.Body.Bytes,
                    image.Body.Sha256,
                    image.Body.ExpandedBytes,
                    image.Body.ExpandedSha256,
                    image.Body.Offset,
                    EnumNames.Of(image.Digest)
                )),
            ],
            [
                .. package.Contents.Members.Select(member => new MemberReport(
                    member.Name,
                    member.Within,
                    EnumNames.Of(member.Kind),
                    member.PackedBytes,
                    member.Sha256
                )),
            ],
            package.Contents.Requirements
        );
}

internal sealed record FindingReport(string Weight, string Text);

internal sealed record StatementReport(string Fact, string Value, string Where);

internal sealed record ImageReport(
    string Partition,
    string Member,
    string Format,
    string Wrapping,
    long Bytes,
    string Sha256,
    long ExpandedBytes,
    string? ExpandedSha256,
    long? Offset,
    string Digest
);

internal sealed record MemberReport(string Name, string? Within, string Kind, long Bytes, string Sha256);

/// <summary>The way into a mode.</summary>
internal sealed record RouteFile(
    string From,
    string To,
    double? Minutes,
    string? WhyNone,
    IReadOnlyList<LegReport> Legs,
    IReadOnlyList<OtherReport> Others,
    IReadOnlyList<OpenerReport> Openers,
    IReadOnlyList<string> Presumed
)
{
    public static RouteFile Of(RouteReport report, PhoneMode from, PhoneMode to) =>
        new(
            from.Id(),
            to.Id(),
            report.Best?.Minutes,
            report.WhyNone,
            [
                .. (report.Best?.Legs ?? []).Select(leg => new LegReport(
                    leg.Id,
                    EnumNames.Of(leg.Kind),
                    leg.Score.Name,
                    leg.From.Id(),
                    leg.To.Id(),
                    leg.Minutes,
                    leg.FailChance,
                    [.. leg.Score.Before, .. leg.Score.Words]
                )),
            ],
            [.. report.Others.Select(other => new OtherReport(other.Minutes, [.. other.Legs.Select(leg => leg.Id)]))],
            [.. report.Openers.Select(opener => new OpenerReport(opener.Fact.Value, opener.Value, opener.Known, opener.Minutes))],
            [.. (report.Best?.Presumed ?? []).Select(need => $"{need.Fact.Value} = {string.Join(" or ", need.Is)}")]
        );
}

internal sealed record LegReport(
    string Id,
    string Kind,
    string Name,
    string From,
    string To,
    double Minutes,
    double FailChance,
    IReadOnlyList<string> Words
);

internal sealed record OtherReport(double Minutes, IReadOnlyList<string> Legs);

internal sealed record OpenerReport(string Fact, string Value, bool KnownToBeOtherwise, double Minutes);
