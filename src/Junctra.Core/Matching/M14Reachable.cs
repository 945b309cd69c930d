using Junctra.Core.Catalogue;
using Junctra.Core.Modes;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M14: the phone can be brought into the mode in which this kind of package is written.</summary>
/// <remarks>Judged by the routes of <see cref="Router"/> from where the phone is; what was tried and failed counts before what should work.</remarks>
public sealed class M14Reachable : IMatchRule
{
    private static readonly RuleSentence Now = RuleSentence.Go("It is in {mode} now.");
    private static readonly RuleSentence Seen = RuleSentence.Go("It was seen in {mode}.");
    private static readonly RuleSentence Possible = RuleSentence.Go("Nothing stands between it and {mode}; the route shows the keys.");
    private static readonly RuleSentence Route = RuleSentence.Go("From {from} it comes into {mode} in about {minutes} min; the route shows how.");
    private static readonly RuleSentence NeedsFact = RuleSentence.Ask("Into {mode} a way is open only if {fact} is {value}. {how}");
    private static readonly RuleSentence NoWay = RuleSentence.Stop("From {from} no way leads into {mode}. {why}");
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
        FactName.Mode, FactName.ModelCode, FactName.Recovery, FactName.UsbDebugging, FactName.Root, FactName.UnlockPermission, FactName.Reached(PhoneMode.System), FactName.Reached(PhoneMode.BootLoop), FactName.Reached(PhoneMode.StuckAtLogo),
        FactName.Reached(PhoneMode.Download), FactName.Reached(PhoneMode.Fastboot), FactName.Reached(PhoneMode.StockRecovery), FactName.Reached(PhoneMode.CustomRecovery),
    ];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Now, Seen, Route, Possible, NeedsFact, NoWay, Unknown, NoModel, Tried, AfterRescue, None];

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
            Reach.Possible when PhoneModes.Parse(c.Phone[FactName.Mode].Value) is { } from and not PhoneMode.Unknown => JudgeRoute(c, model, from, mode),
            Reach.Possible => Possible.With(mode.Label()),
            _ => Tried.With(mode.Label()),
        };
    }

    private static Judgement JudgeRoute(MatchCase c, PhoneModel model, PhoneMode from, PhoneMode mode)
    {
        if (Router.Best(c.Phone, model, from, mode, c.Catalogue, c.Policy.Routes) is { } route) return Route.With(from.Label(), mode.Label(), Minutes(route.Minutes));
        var report = Router.Find(c.Phone, model, from, mode, c.Catalogue, c.Policy.Routes);
        if (report.Openers.FirstOrDefault(opener => !opener.Known) is { } asked) return NeedsFact.With(mode.Label(), asked.Fact.LabelInText, asked.Value, c.HowToRead(asked.Fact));
        var opens = report.Openers is [var opener, ..] ? $" What would open one: {opener.Fact.LabelInText} {opener.Value}." : "";
        return NoWay.With(from.Label(), mode.Label(), report.WhyNone + opens);
    }

    private static string Minutes(double minutes) => minutes < 1 ? "1" : Math.Round(minutes).ToString(System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The mode in which a kind of package is written on a model.</summary>
    public static PhoneMode ModeOf(Package package, PhoneModel model) => package.Kind switch
    {
        PackageKind.CardUpdate => PhoneMode.StockRecovery,
        PackageKind.BackupSet => PhoneMode.CustomRecovery,
        _ => model.WriteMode,
    };
}
