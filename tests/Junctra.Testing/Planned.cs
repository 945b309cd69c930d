using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;

namespace Junctra.Testing;

/// <summary>Plans for tests, and short words for their steps.</summary>
public static class Planned
{
    /// <summary>
    /// The plan of the first path that suits, for a Cairn and its factory set where nothing else is said; or why there is none.
    /// </summary>
    public static PlanOutcome Compile(
        Phone? phone = null,
        Package? package = null,
        bool erase = true,
        bool needsClean = false,
        IActTimes? times = null
    ) =>
        PathList.Compile(
            new PathCase(phone ?? Sample.Cairn(), package ?? Sample.Package(), erase, Repo.Catalogue, needsClean) { Times = times }
        );

    /// <summary>The same, where there is a plan.</summary>
    public static Plan Plan(Phone? phone = null, Package? package = null, bool erase = true, IActTimes? times = null) =>
        Compile(phone, package, erase, times: times) is { Plan: { } plan }
            ? plan
            : throw new InvalidOperationException(string.Join(" ", Compile(phone, package, erase).Refusals));

    /// <summary>The one partition that a step touches, or null.</summary>
    public static string? Partition(this PlanStep step) => step.Act.Touches is [var touch] ? touch.Partition : null;

    /// <summary>Whether a step writes an image.</summary>
    public static bool IsWrite(this PlanStep step) => step.Act is WriteImage;

    /// <summary>Whether a step erases a partition.</summary>
    public static bool IsErase(this PlanStep step) => step.Act is ErasePartition;
}
