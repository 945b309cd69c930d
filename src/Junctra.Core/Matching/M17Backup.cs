using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Matching;

/// <summary>
/// M17: a backup goes back onto the very phone it was taken from, and only when it was taken before the phone was modified: it brings back
/// what it holds.
/// </summary>
public sealed class M17Backup : IMatchRule
{
    private static readonly RuleSentence None = RuleSentence.Idle("It is no backup.");
    private static readonly RuleSentence Own = RuleSentence.Go("It was taken from this very phone on {day}, before it was modified.");
    private static readonly RuleSentence Unknown = RuleSentence.Ask(
        "It was taken from the phone {serial}, and this one's serial is not known. {how}"
    );
    private static readonly RuleSentence Stranger = RuleSentence.Stop(
        "It was taken from the phone {theirs}, not from this one ({ours}): somebody else's data are in it."
    );
    private static readonly RuleSentence NoDay = RuleSentence.Stop(
        "It does not say when it was taken, so it may bring a modification back."
    );
    private static readonly RuleSentence BadDay = RuleSentence.Stop(
        "It says that it was taken on {day}, which is no day of the form 2026-02-14: it may bring a modification back."
    );
    private static readonly RuleSentence LaterDay = RuleSentence.Stop(
        "It says that it was taken on {day}, which is after this phone was noted here: that cannot be from before it was modified."
    );
    private static readonly RuleSentence Modified = RuleSentence.Stop(
        "It was taken when the phone was modified already, and would bring the modification back."
    );
    private static readonly RuleSentence NoSystem = RuleSentence.Stop(
        "It does not say what ran on the phone when it was taken, so it may bring a modification back."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Backup;

    /// <inheritdoc/>
    public string Title => "Backup";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.Serial];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [None, Own, Unknown, Stranger, NoDay, BadDay, LaterDay, Modified, NoSystem];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        // What does not say of which phone it was taken is no backup set by its kind.
        if (!c.Package.Kind.Traits().IsOfOnePhone || c.Package.Backup is not { } backup)
            return None.With();
        var own = Judging.Each(
            c.Phone[FactName.Serial],
            () => Unknown.With(backup.Serial, c.HowToRead(FactName.Serial)),
            serial =>
                serial.Equals(backup.Serial, StringComparison.OrdinalIgnoreCase)
                    ? Own.With(backup.TakenOn ?? "a day that it does not say")
                    : Stranger.With(backup.Serial, serial)
        );
        if (own.Verdict == Verdict.Stop)
            return own;
        if (backup.TakenOn is not { } taken)
            return NoDay.With();
        if (
            !DateOnly.TryParseExact(
                taken,
                "yyyy-MM-dd",
                System.Globalization.CultureInfo.InvariantCulture,
                System.Globalization.DateTimeStyles.None,
                out var day
            )
        )
            return BadDay.With(taken);
        // The core has no clock: when the serial was noted, the phone was here already, and modified.
        var latest = c.Phone[FactName.Serial].Claims.Select(fact => fact.At).DefaultIfEmpty(DateTimeOffset.MinValue).Max();
        if (latest > DateTimeOffset.MinValue && day > DateOnly.FromDateTime(latest.UtcDateTime))
            return LaterDay.With(taken);
        return backup.System switch
        {
            "stock" => own,
            "modified" => Modified.With(),
            _ => NoSystem.With(),
        };
    }
}
