using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;

namespace Junctra.Core.Checking;

/// <summary>What became of one expectation.</summary>
public enum CheckState
{
    /// <summary>Not read since the write.</summary>
    NotRead,

    /// <summary>As intended.</summary>
    AsIntended,

    /// <summary>Read, and it is something else.</summary>
    Differs,
}

/// <summary>One line of the check.</summary>
/// <param name="Expectation">What was intended.</param>
/// <param name="State">What became of it.</param>
/// <param name="Claims">What was read since the write.</param>
public sealed record CheckLine(Expectation Expectation, CheckState State, IReadOnlyList<Fact> Claims);

/// <summary>Compares a phone after the write with what its plan intended.</summary>
public static class Checker
{
    /// <summary>One line for each expectation, in the plan's order.</summary>
    /// <param name="plan">The plan that was carried out.</param>
    /// <param name="readSinceWrite">Facts read after the write; older ones prove nothing and must not be given.</param>
    public static IReadOnlyList<CheckLine> Compare(Plan plan, Phone readSinceWrite) =>
        [
            .. plan.Rehearsal.Expectations.Select(expectation =>
            {
                var fact = readSinceWrite[expectation.Fact];
                var state =
                    fact.State == FactState.Unknown ? CheckState.NotRead
                    : !fact.Values.All(expectation.IsMetBy) ? CheckState.Differs
                    // The system's build string tells of the system; which boot chain is under it, only the boot chain tells.
                    : expectation.Fact == FactName.BootloaderRevision && fact.Claims.All(claim => claim.ParsedFrom is not null)
                        ? CheckState.NotRead
                    : CheckState.AsIntended;
                return new CheckLine(expectation, state, fact.Claims);
            }),
        ];

    /// <summary>
    /// When a phone was seen at its set-up again after it had run, or after its settings had been read: somebody has reset it meanwhile,
    /// and what was read before says nothing any more. Null where nobody has.
    /// </summary>
    /// <param name="readSinceWrite">Facts read after the write.</param>
    public static DateTimeOffset? ResetAt(IEnumerable<Fact> readSinceWrite)
    {
        DateTimeOffset? reset = null;
        var hasRun = false;
        foreach (var fact in readSinceWrite.OrderBy(fact => fact.At))
        {
            if (fact.Name == FactName.Mode && PhoneModes.Parse(fact.Value) == PhoneMode.SetupWizard)
            {
                if (hasRun)
                    reset = fact.At;
                hasRun = false;
            }

            hasRun |= fact.Source == FactSource.Settings || fact.Name == FactName.Mode && PhoneModes.Parse(fact.Value) == PhoneMode.System;
        }

        return reset;
    }

    /// <summary>Whether the job may be handed back: every needed line was read, and none that was read differs.</summary>
    public static bool IsPassed(IReadOnlyList<CheckLine> lines) =>
        lines.All(line => line.State == CheckState.AsIntended || (line.State == CheckState.NotRead && !line.Expectation.IsNeeded));
}
