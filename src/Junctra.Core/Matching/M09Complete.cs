using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M09: a full stock write needs an image for every partition of the model's stock list.</summary>
public sealed class M09Complete : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M09";

    /// <inheritdoc/>
    public string Title => "Complete";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Kind == PackageKind.Unknown) return Judgement.Stop("It has no requirement lines and images together: no package of a kind that can be written here.");
        return Judging.Each(c.Phone[FactName.ModelCode],
            Judgement.Ask("Which parts are needed is not known before the model code is. Read it over the link: 1 min."),
            code =>
            {
                if (c.Catalogue.Model(code) is not { } model) return Judgement.Ask($"{code} is not in the catalogue, so what a full write of it needs is not known. Add the model.");
                var missing = model.Partitions.Where(partition => partition.IsStock && c.Package.Image(partition.Name) is null).Select(partition => partition.Name).ToList();
                return missing.Count == 0
                    ? Judgement.Go("It brings every image of a full stock write.")
                    : Judgement.Stop($"It brings no image for {string.Join(", ", missing)}, which belong{(missing.Count == 1 ? "s" : "")} to a full stock write.");
            });
    }
}
