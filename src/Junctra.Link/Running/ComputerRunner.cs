using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>What this computer does alone.</summary>
internal sealed class ComputerRunner(WriteOrder order, WriteSource? source) : IRunner
{
    public bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act that it does alone.</summary>
    public static bool Does(Act act) => act is VerifyFiles;

    public Task CarryOutAsync(PlanStep step, CancellationToken cancel) =>
        step.Act switch
        {
            VerifyFiles => source!.PrepareAsync(order.Package!, ImagesOf(order.Plan).Select(image => Find(order.Package!, image)), cancel),
            var act => throw new InvalidOperationException($"This computer does not carry out {act.GetType().Name}."),
        };

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    /// <summary>All images that a plan sends.</summary>
    public static IEnumerable<PlannedImage> ImagesOf(Plan plan) =>
        plan.Steps.SelectMany(step =>
            step.Act switch
            {
                WriteImage write => [write.Image],
                SendBundle bundle => bundle.Images,
                _ => (IEnumerable<PlannedImage>)[],
            }
        );

    /// <summary>The image of a package that a plan means: two packs of a bundle hold one for the same partition.</summary>
    /// <exception cref="InvalidDataException">The package as it is read now has no such image.</exception>
    public static PackageImage Find(Package package, PlannedImage planned) =>
        package.Images.FirstOrDefault(image => image.Partition == planned.Partition && image.Body.Sha256 == planned.Sha256)
        ?? throw new InvalidDataException($"The package has no image for {planned.Partition} that is the one of the plan.");
}
