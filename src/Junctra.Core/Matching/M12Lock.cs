using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M12: in fastboot mode a locked bootloader refuses every write.</summary>
public sealed class M12Lock : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M12";

    /// <inheritdoc/>
    public string Title => "Lock";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.LockState];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c) => Judging.Each(
        c.Phone[FactName.LockState],
        Judgement.Ask("The lock state is not known. Read it over the link or on the bootloader screen: 1 min."),
        state => state == "unlocked"
            ? Judgement.Go("The bootloader is unlocked; it takes writes.")
            : Judgement.Stop("The bootloader is locked; in fastboot mode it refuses every write. What remains: a card update, or unlocking where the maker and the owner permit it, which erases the phone."));
}
