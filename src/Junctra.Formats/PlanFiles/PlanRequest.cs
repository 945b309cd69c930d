using Junctra.Formats.MatchFiles;

namespace Junctra.Formats.PlanFiles;

/// <summary>A phone, what was decided for it, and a package of the library, as another program asks for plans.</summary>
/// <param name="Facts">What is known of the phone; several claims of one fact are normal.</param>
/// <param name="BeforeLastWrite">Facts that a write has made void since.</param>
/// <param name="Policy">What was decided; the shop's own rules where it is left out.</param>
/// <param name="Package">SHA-256 of the package's file; left out for ways that take none.</param>
public sealed record PlanRequest(
    IReadOnlyList<ClaimRequest>? Facts,
    IReadOnlyList<ClaimRequest>? BeforeLastWrite = null,
    PolicyRequest? Policy = null,
    string? Package = null
)
{
    /// <summary>The part of it that a match takes.</summary>
    public MatchRequest Match => new(Facts, BeforeLastWrite, Policy);
}
