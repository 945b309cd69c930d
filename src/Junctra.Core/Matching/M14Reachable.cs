using Junctra.Core.Modes;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M14: the phone can be brought into the mode in which this kind of package is written.</summary>
/// <remarks>Judged by what was seen to be reached; the routes of the track plan answer more closely.</remarks>
public sealed class M14Reachable : IMatchRule
{
    private static readonly RuleSentence Now = RuleSentence.Go("It is in {mode} now.");
    private static readonly RuleSentence Seen = RuleSentence.Go("It was seen in {mode}.");
    private static readonly RuleSentence Possible = RuleSentence.Go("Nothing stands between it and {mode}; the route shows the keys.");
    private static readonly RuleSentence Unknown = RuleSentence.Ask("Into which mode the phone must come is not known before its model code is. {how}");
    private static readonly RuleSentence NoModel = RuleSentence.Ask("{code} is not in the catalogue, so its way into a write mode is not known. Add the model.");
    private static readonly RuleSentence Tried = RuleSentence.Ask("It was tried, and did not come into {mode}. Try the keys again from switched off, with the cable of the route: 3 min.");
    private static readonly RuleSentence AfterRescue = RuleSentence.Ask("Nothing answers: only a board rescue brings it into {mode}. What it shows then decides.");
    private static readonly RuleSentence None = RuleSentence.Stop("It answers in chip emergency mode only, and no emergency loader is known that could bring it into {mode}.");

    /// <inheritdoc/>
    public string Id => "M14";

    /// <inheritdoc/>
    public string Title => "Reach";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [
        FactName.Mode, FactName.ModelCode, FactName.Reached(PhoneMode.Download), FactName.Reached(PhoneMode.Fastboot), FactName.Reached(PhoneMode.StockRecovery), FactName.Reached(PhoneMode.CustomRecovery),
    ];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Now, Seen, Possible, Unknown, NoModel, Tried, AfterRescue, None];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c) =>
        Judging.Each(c.Phone[FactName.ModelCode], () => Unknown.With(c.HowToRead(FactName.ModelCode)), code => JudgeModel(c, code));

    private static Judgement JudgeModel(MatchCase c, string code)
    {
        if (c.Catalogue.Model(code) is not { } model) return NoModel.With(code);
        var mode = ModeOf(c.Package, model);
        var reach = WantedFacts.ReachOf(mode, c.Phone, model);
        if (reach == Reach.Now) return Now.With(mode.Label());
        if (M19Loader.IsBoardCase(c)) return M19Loader.LoaderOf(c, code) is null ? None.With(mode.Label()) : AfterRescue.With(mode.Label());
        return reach switch
        {
            Reach.Seen => Seen.With(mode.Label()),
            Reach.Possible => Possible.With(mode.Label()),
            _ => Tried.With(mode.Label()),
        };
    }

    /// <summary>The mode in which a kind of package is written on a model.</summary>
    public static PhoneMode ModeOf(Package package, Catalogue.PhoneModel model) => package.Kind switch
    {
        PackageKind.CardUpdate => PhoneMode.StockRecovery,
        PackageKind.BackupSet => PhoneMode.CustomRecovery,
        _ => model.WriteMode,
    };
}
