using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M01: the phone's exact model code must be among the package's. A product name decides nothing.</summary>
public sealed class M01Model : IMatchRule
{
    private static readonly RuleSentence Made = RuleSentence.Go("Made for {code}.");
    private static readonly RuleSentence AsIn = RuleSentence.Go(
        "It names no model itself; it lies byte for byte in {package}, which is made for {code}."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The model code is not known. {how}");
    private static readonly RuleSentence Silent = RuleSentence.Ask(
        "The package does not say which model it is for. Ask its source, or look for its requirement lines."
    );
    private static readonly RuleSentence Namesake = RuleSentence.Stop(
        "Also called {name}, but made for {theirs}, not {code}: another phone inside."
    );
    private static readonly RuleSentence OneLetter = RuleSentence.Stop(
        "Made for {theirs}, not {code}. The codes differ in one character only, and that character is another phone."
    );
    private static readonly RuleSentence Other = RuleSentence.Stop("Made for {theirs}, not {code}.");

    /// <inheritdoc/>
    public RuleId Id => RuleId.Model;

    /// <inheritdoc/>
    public string Title => "Model";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Made, AsIn, Unknown, Silent, Namesake, OneLetter, Other];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var codes = c.Says(FactName.ModelCode);
        var model = c.Phone[FactName.ModelCode];
        if (codes.Count == 0 && model.State != FactState.Unknown)
            return Silent.With();
        return Judging.Each(model, () => Unknown.With(c.HowToRead(FactName.ModelCode)), code => JudgeCode(c, code, codes));
    }

    private static Judgement JudgeCode(MatchCase c, string code, IReadOnlyList<string> codes)
    {
        if (codes.Contains(code, StringComparer.OrdinalIgnoreCase))
            return c.LiesIn is { } proof ? AsIn.With(proof.FileName, code) : Made.With(code);
        var name = c.Catalogue.Model(code)?.ProductName;
        var namesake = codes.FirstOrDefault(other => name is not null && c.Catalogue.Model(other)?.ProductName == name);
        if (namesake is not null)
            return Namesake.With(name!, namesake, code);
        return codes.FirstOrDefault(other => Codes.Distance(other.ToUpperInvariant(), code.ToUpperInvariant()) <= 1) is { } near
            ? OneLetter.With(near, code)
            : Other.With(string.Join(", ", codes), code);
    }
}
