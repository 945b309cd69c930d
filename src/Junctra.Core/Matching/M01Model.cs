using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M01: the phone's exact model code must be among the package's. A product name decides nothing.</summary>
public sealed class M01Model : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M01";

    /// <inheritdoc/>
    public string Title => "Model";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var codes = c.Package.Says(FactName.ModelCode);
        var unknown = Judgement.Ask("The model code is not known. Read it over the link, in the settings or on the label: 1 min.");
        if (codes.Count == 0)
        {
            return c.Phone[FactName.ModelCode].State == FactState.Unknown
                ? unknown
                : Judgement.Ask("The package does not say which model it is for. Ask its source, or look for its requirement lines.");
        }

        return Judging.Each(c.Phone[FactName.ModelCode], unknown, code => JudgeCode(c, code, codes));
    }

    private static Judgement JudgeCode(MatchCase c, string code, IReadOnlyList<string> codes)
    {
        if (codes.Contains(code, StringComparer.OrdinalIgnoreCase)) return Judgement.Go($"Made for {code}.");
        var name = c.Catalogue.Model(code)?.ProductName;
        var namesake = codes.FirstOrDefault(other => name is not null && c.Catalogue.Model(other)?.ProductName == name);
        return namesake is not null
            ? Judgement.Stop($"Also called {name}, but made for {namesake}, not {code}: another phone inside.")
            : Judgement.Stop($"Made for {string.Join(", ", codes)}, not {code}.");
    }
}
