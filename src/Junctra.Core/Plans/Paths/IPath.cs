using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Plans.Paths;

/// <summary>What a path is compiled for.</summary>
/// <param name="Phone">The phone.</param>
/// <param name="Package">The package that was chosen, or null.</param>
/// <param name="ErasesData">Whether the user data is to be erased.</param>
/// <param name="Catalogue">Models, ways and figures.</param>
/// <param name="NeedsCleanWrite">Whether the match allows the package only with the user data erased.</param>
public sealed record PathCase(Phone Phone, Package? Package, bool ErasesData, ModelCatalogue Catalogue, bool NeedsCleanWrite = false)
{
    /// <summary>Whether a write of this job proves that the phone's software is its maker's (<see cref="StockProof"/>).</summary>
    public bool IsProvenStock { get; init; }

    /// <summary>The phone's model, or null.</summary>
    public PhoneModel? Model => Catalogue.Model(Phone[FactName.ModelCode].Value);

    /// <summary>Where the phone is, as far as anybody knows.</summary>
    public PhoneMode Mode => PhoneModes.Parse(Phone[FactName.Mode].Value) ?? PhoneMode.Unknown;
}

/// <summary>A way of doing a job, from the first act to the last. One file for each; <see cref="PathList"/> is the list.</summary>
public interface IPath
{
    /// <summary>Its letter.</summary>
    string Letter { get; }

    /// <summary>Its name, as people say it.</summary>
    string Title { get; }

    /// <summary>Which phones it is for, and what it costs, in a sentence or two.</summary>
    string Purpose { get; }

    /// <summary>Whether it is a path for such a package, or without one, and for data that are kept or erased.</summary>
    bool Suits(PathCase @case);

    /// <summary>Makes the plan, or says why it cannot be made.</summary>
    PlanOutcome Compile(PathCase @case);
}

/// <summary>The paths.</summary>
public static class PathList
{
    /// <summary>All of them, by their letters.</summary>
    public static IReadOnlyList<IPath> All { get; } =
    [new BundleKeepingData(), new BundleClean(), new FactorySet(), new WipeOnly(), new Relock()];

    /// <summary>The path of a letter, or null.</summary>
    public static IPath? Find(string? letter) => All.FirstOrDefault(path => path.Letter == letter);

    /// <summary>The paths that suit a case, in the order in which they are preferred.</summary>
    public static IReadOnlyList<IPath> For(PathCase @case) => [.. All.Where(path => path.Suits(@case))];

    /// <summary>The plan by the path that was chosen, or else by the first that suits; or why there is none.</summary>
    /// <param name="case">What it is compiled for.</param>
    /// <param name="letter">The path that was chosen, or null.</param>
    public static PlanOutcome Compile(PathCase @case, string? letter = null)
    {
        if (All.FirstOrDefault(path => (letter is null || path.Letter == letter) && path.Suits(@case)) is { } path)
            return path.Compile(@case);
        if (Find(letter) is { } unfit)
            return new PlanOutcome(
                null,
                [
                    $"“{unfit.Title}” is no way to do this: {(@case.Package is null ? "it takes a package." : "it does not suit the package, or what is to become of the data.")}",
                ]
            );
        return new PlanOutcome(
            null,
            [
                @case.Package is { } package
                    ? $"{package.Title} is {Article(package.KindWords())}: no way to write one is known here yet."
                    : "Nothing is chosen to be done.",
            ]
        );
    }

    private static string Article(string words) => (words[0] is 'a' or 'e' or 'i' or 'o' or 'u' ? "an " : "a ") + words;
}
