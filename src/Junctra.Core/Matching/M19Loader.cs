using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M19: a phone whose boot chain is gone is brought back by a loader that its chip takes in emergency mode. A loader supports boot chains
/// up to some revision; a phone above it cannot be helped, and that is said before anybody opens it.
/// </summary>
public sealed class M19Loader : IMatchRule
{
    private static readonly RuleSentence NotNeeded = RuleSentence.Idle("It answers by itself; no emergency loader is needed.");
    private static readonly RuleSentence UnknownMode = RuleSentence.Ask(
        "Whether it answers by itself, or needs an emergency loader, is not known before anybody has said what it shows. Look at it, and note it under Find out: 1 min."
    );
    private static readonly RuleSentence Supported = RuleSentence.Go(
        "The emergency loader supports revisions up to {highest}; the phone had {ours}."
    );
    private static readonly RuleSentence UnknownModel = RuleSentence.Ask(
        "Which emergency loader it takes is not known before its model code is. {how}"
    );
    private static readonly RuleSentence UnknownLoader = RuleSentence.Ask(
        "No emergency loader for {code} is known. Ask its maker's service, and add it to the catalogue before anything is opened."
    );
    private static readonly RuleSentence UnknownRevision = RuleSentence.Ask(
        "The emergency loader supports revisions up to {highest}, and the phone's is not known. Look into the logbook, or for an older build on its box: 3 min."
    );
    private static readonly RuleSentence ChipDoubt = RuleSentence.Ask(
        "Which emergency loader it takes is in doubt: its chip was read as {chips}, and a {code} has another. Find out which board is in it before anything is opened."
    );
    private static readonly RuleSentence TooHigh = RuleSentence.Stop(
        "The phone had bootloader revision {ours}; the emergency loader supports up to {highest}. Not worth opening."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Loader;

    /// <inheritdoc/>
    public string Title => "Loader";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [
        FactName.Mode,
        FactName.RollbackFloor,
        FactName.BootloaderRevision,
        FactName.ModelCode,
        FactName.ChipFamily,
        FactName.Build,
        FactName.LastGoodBuild,
    ];

    /// <inheritdoc/>
    public IEnumerable<Fact> Besides(MatchCase c) => IsBoardCase(c) == true ? RollbackFloor.Of(c.Phone, c.Catalogue).Facts : [];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [NotNeeded, Supported, UnknownMode, UnknownModel, UnknownLoader, UnknownRevision, ChipDoubt, TooHigh];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c) =>
        IsBoardCase(c) switch
        {
            null => UnknownMode.With(),
            false => NotNeeded.With(),
            _ => Judging.Each(
                c.Phone[FactName.ModelCode],
                () => UnknownModel.With(c.HowToRead(FactName.ModelCode)),
                code => JudgeModel(c, code)
            ),
        };

    /// <summary>
    /// Whether the phone's boot chain is gone: only its chip's ROM answers, or that is the finding; null where nobody knows what it does.
    /// </summary>
    internal static bool? IsBoardCase(MatchCase c)
    {
        var modes = c.Phone[FactName.Mode].Values.Select(PhoneModes.Parse).ToList();
        if (modes.Contains(PhoneMode.Emergency))
            return true;
        if (modes.Count == 0 || modes.Any(mode => mode is null or PhoneMode.Unknown))
            return c.Policy.NeedsBoardRescue ? true : null;
        // Whatever the finding was, it answers now; switched off, the finding counts.
        return modes.Contains(PhoneMode.Off) && c.Policy.NeedsBoardRescue;
    }

    /// <summary>
    /// The loaders for a model: of the chip that the phone was read to have, and of the one that the catalogue has for its model. A null is
    /// a chip without one.
    /// </summary>
    internal static IReadOnlyList<EmergencyLoader?> LoadersOf(MatchCase c, string code)
    {
        var chips = c.Phone[FactName.ChipFamily]
            .Values.Concat(c.Catalogue.Model(code) is { } model ? [model.ChipFamily] : [])
            .Distinct(StringComparer.OrdinalIgnoreCase);
        return
        [
            .. chips.Select(chip =>
                c.Catalogue.MakerOf(code)?.Loaders.FirstOrDefault(loader => loader.Chip.Equals(chip, StringComparison.OrdinalIgnoreCase))
            ),
        ];
    }

    private static Judgement JudgeModel(MatchCase c, string code)
    {
        var loaders = LoadersOf(c, code);
        var worst =
            loaders.Count == 0
                ? UnknownLoader.With(code)
                : loaders.Select(loader => JudgeLoader(c, code, loader)).MaxBy(judgement => judgement.Verdict);
        return loaders.Count > 1
            ? Judging.AtLeastAsk(worst, () => ChipDoubt.With(Judging.Or(c.Phone[FactName.ChipFamily].Values), code))
            : worst;
    }

    private static Judgement JudgeLoader(MatchCase c, string code, EmergencyLoader? loader)
    {
        if (loader is null)
            return UnknownLoader.With(code);
        // Fuses only rise: a bound from an earlier visit counts as much as a reading.
        if (RollbackFloor.Of(c.Phone, c.Catalogue).Highest is not { } ours)
            return UnknownRevision.With(loader.HighestRevision);
        return ours <= loader.HighestRevision ? Supported.With(loader.HighestRevision, ours) : TooHigh.With(ours, loader.HighestRevision);
    }
}
