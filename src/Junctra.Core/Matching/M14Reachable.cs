using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Routes;

namespace Junctra.Core.Matching;

/// <summary>M14: the phone can be brought into the mode in which this kind of package is written.</summary>
/// <remarks>Judged by the routes of <see cref="Router"/> from where the phone is; what was tried and failed counts before what should
/// work.</remarks>
public sealed class M14Reachable : IMatchRule
{
    private static readonly RuleSentence Now = RuleSentence.Go("It is in {mode} now.");
    private static readonly RuleSentence Seen = RuleSentence.Go("It was seen in {mode}.");
    private static readonly RuleSentence Route = RuleSentence.Go(
        "From {from} it comes into {mode} in about {minutes} min; the route shows how."
    );
    private static readonly RuleSentence NeedsFact = RuleSentence.Ask("Into {mode} a way is open only if {fact} is {value}. {how}");
    private static readonly RuleSentence NoWay = RuleSentence.Stop("From {from} no way leads into {mode}. {why}");
    private static readonly RuleSentence UnknownMode = RuleSentence.Ask(
        "Where the phone is now is not known, so whether a way leads into {mode} is not either. Look at it, and note under Find out what it shows: 1 min."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask(
        "Into which mode the phone must come is not known before its model code is. {how}"
    );
    private static readonly RuleSentence NoModel = RuleSentence.Ask(
        "{code} is not in the catalogue, so its way into a write mode is not known. Add the model."
    );
    private static readonly RuleSentence Tried = RuleSentence.Ask(
        "It was tried, and did not come into {mode}. Try the keys again from switched off, with the cable of the route: 3 min."
    );
    private static readonly RuleSentence AfterRescue = RuleSentence.Ask(
        "Nothing answers: only a board rescue brings it into {mode}. What it shows then decides."
    );
    private static readonly RuleSentence None = RuleSentence.Stop(
        "Only an emergency loader could bring it into {mode}, and none is known for it."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Reachable;

    /// <inheritdoc/>
    public string Title => "Reach";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [
        FactName.Mode,
        FactName.ModelCode,
        FactName.Recovery,
        FactName.UsbDebugging,
        FactName.Root,
        FactName.UnlockPermission,
        FactName.Reached(PhoneMode.System),
        FactName.Reached(PhoneMode.BootLoop),
        FactName.Reached(PhoneMode.StuckAtLogo),
        FactName.Reached(PhoneMode.Download),
        FactName.Reached(PhoneMode.Fastboot),
        FactName.Reached(PhoneMode.StockRecovery),
        FactName.Reached(PhoneMode.CustomRecovery),
        FactName.ChipFamily,
    ];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [Now, Seen, Route, UnknownMode, NeedsFact, NoWay, Unknown, NoModel, Tried, AfterRescue, None];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c) =>
        Judging.Each(c.Phone[FactName.ModelCode], () => Unknown.With(c.HowToRead(FactName.ModelCode)), code => JudgeModel(c, code));

    private static Judgement JudgeModel(MatchCase c, string code)
    {
        if (c.Catalogue.Model(code) is not { } model)
            return NoModel.With(code);
        var mode = ModeOf(c.Package, model);
        if (M19Loader.IsBoardCase(c) == true)
            return M19Loader.LoadersOf(c, code) is [not null, ..] ? AfterRescue.With(mode.Label()) : None.With(mode.Label());
        return Judging.Each(c.Phone.Of(FactName.Mode), () => UnknownMode.With(mode.Label()), now => JudgeMode(c, model, now, mode));
    }

    private static Judgement JudgeMode(MatchCase c, PhoneModel model, PhoneMode now, PhoneMode mode)
    {
        if (now == PhoneMode.Unknown)
            return UnknownMode.With(mode.Label());
        if (now == mode)
            return Now.With(mode.Label());
        var seen = c.Phone[FactName.Reached(mode)];
        if (seen.State == FactState.Conflicting)
            return Judging.Disagreement(seen);
        return WantedFacts.ReachOf(mode, c.Phone, model) switch
        {
            Reach.Seen or Reach.Now => Seen.With(mode.Label()),
            Reach.Possible => JudgeRoute(c, model, now, mode),
            _ => c.Phone.Of(FactName.Reached(mode)).Is(false) ? Tried.With(mode.Label()) : JudgeRoute(c, model, now, mode),
        };
    }

    private static Judgement JudgeRoute(MatchCase c, PhoneModel model, PhoneMode from, PhoneMode mode)
    {
        if (Router.Best(c.Phone, model, from, mode, c.Catalogue, c.Policy.Routes) is { } route)
            return Route.With(from.Label(), mode.Label(), Minutes(route.Minutes));
        var report = Router.Find(c.Phone, model, from, mode, c.Catalogue, c.Policy.Routes);
        if (report.Openers.FirstOrDefault(opener => !opener.Known) is { } asked)
            return NeedsFact.With(mode.Label(), asked.Fact.LabelInText, asked.Value, c.HowToRead(asked.Fact));
        var opens = report.Openers is [var opener, ..] ? $" What would open one: {opener.Fact.LabelInText} {opener.Value}." : "";
        return NoWay.With(from.Label(), mode.Label(), report.WhyNone + opens);
    }

    private static string Minutes(double minutes) =>
        minutes < 1 ? "1" : Math.Round(minutes).ToString(System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The mode in which a kind of package is written on a model.</summary>
    public static PhoneMode ModeOf(Package package, PhoneModel model) => package.Kind.Traits().ModeFor(model);
}
