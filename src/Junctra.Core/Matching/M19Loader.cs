using Junctra.Core.Catalogue;
using Junctra.Core.Modes;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M19: a phone whose boot chain is gone is brought back by a loader that its chip takes in emergency mode. A loader supports boot chains up to some revision; a
/// phone above it cannot be helped, and that is said before anybody opens it.
/// </summary>
public sealed class M19Loader : IMatchRule
{
    private static readonly RuleSentence NotNeeded = RuleSentence.Idle("It answers by itself; no emergency loader is needed.");
    private static readonly RuleSentence Supported = RuleSentence.Go("The emergency loader supports revisions up to {highest}; the phone had {ours}.");
    private static readonly RuleSentence UnknownModel = RuleSentence.Ask("Which emergency loader it takes is not known before its model code is. {how}");
    private static readonly RuleSentence UnknownLoader = RuleSentence.Ask("No emergency loader for {code} is known. Ask its maker's service, and add it to the catalogue before anything is opened.");
    private static readonly RuleSentence UnknownRevision = RuleSentence.Ask("The emergency loader supports revisions up to {highest}, and the phone's is not known. Look into the logbook, or for an older build on its box: 3 min.");
    private static readonly RuleSentence TooHigh = RuleSentence.Stop("The phone had bootloader revision {ours}; the emergency loader supports up to {highest}. Not worth opening.");

    /// <inheritdoc/>
    public string Id => "M19";

    /// <inheritdoc/>
    public string Title => "Loader";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.Mode, FactName.RollbackFloor, FactName.BootloaderRevision, FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [NotNeeded, Supported, UnknownModel, UnknownLoader, UnknownRevision, TooHigh];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c) => !IsBoardCase(c)
        ? NotNeeded.With()
        : Judging.Each(c.Phone[FactName.ModelCode], () => UnknownModel.With(c.HowToRead(FactName.ModelCode)), code => JudgeModel(c, code));

    /// <summary>Whether the phone's boot chain is gone: only its chip's ROM answers, or that is the finding.</summary>
    internal static bool IsBoardCase(MatchCase c) => PhoneModes.Parse(c.Phone[FactName.Mode].Value) switch
    {
        PhoneMode.Emergency => true,
        null or PhoneMode.Unknown or PhoneMode.Off => c.Policy.NeedsBoardRescue,
        // Whatever the finding was, it answers now.
        _ => false,
    };

    /// <summary>The loader for a model, or null.</summary>
    internal static EmergencyLoader? LoaderOf(MatchCase c, string code) =>
        c.Catalogue.Model(code) is { } model ? c.Catalogue.MakerOf(code)?.Loaders.FirstOrDefault(loader => loader.Chip.Equals(model.ChipFamily, StringComparison.OrdinalIgnoreCase)) : null;

    private static Judgement JudgeModel(MatchCase c, string code)
    {
        if (LoaderOf(c, code) is not { } loader) return UnknownLoader.With(code);
        var floor = RollbackFloor.Of(c.Phone);
        // Fuses only rise: a bound from an earlier visit counts as much as a reading.
        var ours = floor.Exact.Append(floor.AtLeast ?? -1).Max();
        if (ours < 0) return UnknownRevision.With(loader.HighestRevision);
        return ours <= loader.HighestRevision ? Supported.With(loader.HighestRevision, ours) : TooHigh.With(ours, loader.HighestRevision);
    }
}
