using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>
/// M12: in fastboot mode a locked bootloader refuses every write; in download mode it takes what the maker signed, and nothing else; stock
/// recovery takes a signed card update, locked or not; custom recovery runs on an open phone only.
/// </summary>
public sealed class M12Lock : IMatchRule
{
    private static readonly RuleSentence Card = RuleSentence.Go("Stock recovery takes what the maker signed, locked or not.");
    private static readonly RuleSentence CardOpen = RuleSentence
        .Care("Nothing proves that the maker signed it. The lock is open; stock recovery may refuse it all the same.")
        .Costing(ConsequenceKind.NotProven, "Whether recovery takes it is seen when it is put in.");
    private static readonly RuleSentence CardLocked = RuleSentence.Ask(
        "The lock is closed, stock recovery takes only what the maker signed, and nothing proves that of this package. Ask for a digest from a source that the shop trusts."
    );
    private static readonly RuleSentence Signed = RuleSentence.Go("In download mode what the maker sent out is taken, locked or not.");
    private static readonly RuleSentence Open = RuleSentence.Go("The bootloader is unlocked; it takes writes.");
    private static readonly RuleSentence Unsigned = RuleSentence
        .Care("Nothing proves that the maker signed it. The lock is open, so it is taken; whether it starts is not promised.")
        .Costing(
            ConsequenceKind.Warranty,
            "Software that the maker did not sign sets the tamper mark of a phone that has one, for ever, and the maker may owe nothing more."
        );
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The lock state is not known. {how}");
    private static readonly RuleSentence UnsignedLocked = RuleSentence.Stop(
        "The lock is closed, and download mode then takes only what the maker signed. Nothing proves that of this package."
    );
    private static readonly RuleSentence BackupLocked = RuleSentence.Stop(
        "A backup goes back through custom recovery, which a phone with a closed lock does not start."
    );
    private static readonly RuleSentence Locked = RuleSentence.Stop(
        "The bootloader is locked; in fastboot mode it refuses every write. What remains: a card update, or unlocking where the maker and the owner permit it, which erases the phone."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Lock;

    /// <inheritdoc/>
    public string Title => "Lock";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.LockState, FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [Card, CardOpen, CardLocked, Signed, Open, Unsigned, Unknown, UnsignedLocked, BackupLocked, Locked];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Kind.Traits().IsOnCard)
        {
            return c.Package.Provenance == Provenance.Official
                ? Card.With()
                : Judging.Each(
                    c.Phone.Of(FactName.LockState),
                    () => Unknown.With(c.HowToRead(FactName.LockState)),
                    state => (state == LockState.Unlocked ? CardOpen : CardLocked).With()
                );
        }

        var isBackup = c.Package.Kind.Traits().IsOfOnePhone;
        var models = c.Phone[FactName.ModelCode].Values.Select(c.Catalogue.Model).ToList();
        var isDownload = !isBackup && models.Count > 0 && models.All(model => model is { WriteMode: PhoneMode.Download });
        if (isDownload && c.Package.Provenance == Provenance.Official)
            return Signed.With();
        return Judging.Each(
            c.Phone.Of(FactName.LockState),
            () => Unknown.With(c.HowToRead(FactName.LockState)),
            state =>
                (state, isDownload) switch
                {
                    (LockState.Unlocked, true) => Unsigned.With(),
                    (LockState.Unlocked, false) => Open.With(),
                    (_, true) => UnsignedLocked.With(),
                    _ => isBackup ? BackupLocked.With() : Locked.With(),
                }
        );
    }
}
