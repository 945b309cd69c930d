using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Plans;

/// <summary>A write of this job, as it ended.</summary>
/// <param name="Plan">What was written.</param>
/// <param name="IsWhole">Whether all of it was accepted.</param>
/// <param name="EndedAt">When it ended.</param>
/// <param name="Package">Its package as the library has it now, or null where it is gone.</param>
public sealed record WrittenPlan(Plan Plan, bool IsWhole, DateTimeOffset EndedAt, Package? Package);

/// <summary>
/// Whether it is proved that what lies on a phone is its maker's: every partition of the stock list accepted in this job from one verified
/// official package, then one boot (specification: section 9.2 of the job).
/// </summary>
/// <param name="Holds">Whether it is.</param>
/// <param name="Why">What proves it, or what would.</param>
public sealed record StockProof(bool Holds, string Why)
{
    /// <summary>Of a job in which nothing was written.</summary>
    public static StockProof None { get; } =
        new(
            false,
            "Nothing was written in this job, so nothing proves what lies on the phone. Match a full package of its own build, write it, let the phone start once; then close the lock."
        );

    /// <summary>The proof that a job's last write gives.</summary>
    /// <param name="model">The phone's model.</param>
    /// <param name="written">The job's last write, or null.</param>
    /// <param name="phone">The phone as it is known now.</param>
    public static StockProof Of(PhoneModel model, WrittenPlan? written, Phone phone)
    {
        if (written is null)
            return None;
        if (!written.IsWhole)
            return new(false, "The last write of this job did not end whole. Write the package again.");
        var images = written.Plan.Steps.SelectMany(step => step.Act.Touches).Where(touch => !touch.Erases).ToList();
        var missing = model
            .Partitions.Where(spec =>
                spec is { IsStock: true, Role: not PartitionRole.RegionPack } && images.All(image => image.Partition != spec.Name)
            )
            .Select(spec => spec.Name)
            .ToList();
        if (missing.Count > 0)
            return new(false, $"Not written in this job: {string.Join(", ", missing)}. A full package proves them, a part does not.");
        if (written.Package is not { } package)
            return new(false, "The package that was written is no longer in the library: nothing tells whose it was.");
        if (package.Provenance != Provenance.Official)
            return new(false, $"{package.Title} was written, and nothing says that it is as its maker sent it out.");
        // A list that came with the file proves that it is whole, and not whose it is: whoever changed an image wrote the list anew.
        if (package.Whole().State != Wholeness.AsPublished)
            return new(
                false,
                $"{package.Title} was written, and no digest from elsewhere, which the shop trusts, proves that it is its maker's."
            );
        var hasStarted = phone.All.Any(fact => fact.At >= written.EndedAt && SaysThatItStarts(fact));
        return hasStarted
            ? new(true, $"All {images.Count} images of {package.Title} were accepted in this job, and the phone has started since.")
            : new(
                false,
                $"All of {package.Title} was accepted; the phone has not been seen to start since. Let it start once, and note what it shows."
            );
    }

    private static bool SaysThatItStarts(Fact fact) =>
        fact.Source == FactSource.Settings
        || fact.Name == FactName.Mode && PhoneModes.Parse(fact.Value) is PhoneMode.System or PhoneMode.SetupWizard
        || fact.Name.ReachedMode is (PhoneMode.System or PhoneMode.SetupWizard) and var mode
            && FactName.Reached(mode).TryRead(fact.Value, out var reached)
            && reached;
}
