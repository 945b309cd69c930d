using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;

namespace Junctra.Core.Plans.Paths;

/// <summary>Why a path is none for a case, in sentences that several paths share.</summary>
internal static class PathFit
{
    /// <summary>How a sentence begins that says what a path is for.</summary>
    public const string ItTakes = "It takes ";

    /// <summary>Why a path is none for a case with a package.</summary>
    public const string TakesNone = ItTakes + "no package.";

    /// <summary>Why a path is none: it takes packages of another kind, or its job is another one.</summary>
    /// <param name="case">The case.</param>
    /// <param name="takes">What the path takes: “a bundle”.</param>
    /// <param name="isIt">Whether a package is such a one.</param>
    public static string? Package(PathCase @case, string takes, Func<Package, bool> isIt) =>
        @case.Package is not { } package ? $"{ItTakes}{takes}, and no package is chosen."
        : !isIt(package) ? $"{ItTakes}{takes}."
        : @case.Goal == JobGoal.Recovery ? "The job is for stock recovery alone."
        : @case.Mode == PhoneMode.Emergency ? "Only the phone's chip answers, and takes nothing but a loader."
        : null;

    /// <summary>Why a path is none that takes no package.</summary>
    public static string? NoPackage(PathCase @case) =>
        @case.Package is not null ? TakesNone
        : @case.NeedsRescue && @case.Mode is PhoneMode.Off or PhoneMode.Unknown or PhoneMode.Emergency
            ? "The phone does not react: nothing can be done on it before it has a boot chain again."
        : null;

    /// <summary>Why a path is none that writes a system and keeps the data.</summary>
    public static string? Keeps(PathCase @case) =>
        @case.ErasesData ? "It keeps the data, which are to be erased."
        : @case.Policy.Wipe == WipeSchool.Always ? "By shop rule no write keeps the data: plan it erased, or decide otherwise for this job."
        : null;

    /// <summary>Why a path is none that erases the data.</summary>
    public static string? Erases(PathCase @case) => @case.ErasesData ? null : "It erases the data, which are to be kept.";
}
