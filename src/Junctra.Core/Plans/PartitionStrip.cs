using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Plans;

/// <summary>What a plan or a run does with a partition.</summary>
public enum PartitionUse
{
    /// <summary>Not touched.</summary>
    Untouched,

    /// <summary>Will be written.</summary>
    ToWrite,

    /// <summary>Is being written.</summary>
    Writing,

    /// <summary>Accepted by the phone.</summary>
    Written,

    /// <summary>Will be erased.</summary>
    ToErase,

    /// <summary>Erased.</summary>
    Erased,
}

/// <summary>One partition on the strip, in drawing units.</summary>
/// <param name="Name">Partition.</param>
/// <param name="X">Left edge.</param>
/// <param name="Width">Width.</param>
/// <param name="Use">What happens to it.</param>
/// <param name="Fill">Share that is filled: of the partition by its image in a plan, of the image sent in a run. 0 to 1.</param>
/// <param name="LabelInside">Whether the name fits inside.</param>
/// <param name="LabelRow">Row under the strip for a name that does not fit inside, from 0.</param>
/// <param name="LabelX">Centre of that name.</param>
/// <param name="Text">What to say of it in words.</param>
public sealed record StripSegment(
    string Name,
    double X,
    double Width,
    PartitionUse Use,
    double Fill,
    bool LabelInside,
    int LabelRow,
    double LabelX,
    string Text
);

/// <summary>
/// The partitions of a phone on one strip. Widths grow with the cube root of the size, so that a boot chain of 4 MiB and user
/// data of half a terabyte both remain visible; the words carry the true sizes.
/// </summary>
/// <param name="Width">Width of the drawing.</param>
/// <param name="Segments">The partitions in layout order.</param>
/// <param name="LabelRows">Rows of names under the strip.</param>
public sealed record PartitionStrip(double Width, IReadOnlyList<StripSegment> Segments, int LabelRows)
{
    private const double Gap = 4;
    private const double LetterWidth = 7.4;

    /// <summary>Lays out a model's partitions.</summary>
    /// <param name="model">The model.</param>
    /// <param name="use">Use and fill of a partition.</param>
    /// <param name="width">Width in units.</param>
    public static PartitionStrip Of(PhoneModel model, Func<PartitionSpec, (PartitionUse Use, double Fill, string Text)> use, double width)
    {
        var weights = model.Partitions.Select(partition => Math.Cbrt(partition.SizeBytes)).ToList();
        var perWeight = (width - Gap * (weights.Count - 1)) / weights.Sum();
        var segments = new List<StripSegment>();
        var rowEnds = new List<double>();
        var x = 0.0;
        foreach (var (partition, weight) in model.Partitions.Zip(weights))
        {
            var wide = weight * perWeight;
            var label = partition.Name.Length * LetterWidth;
            var inside = label + 10 <= wide;
            var centre = Math.Clamp(x + wide / 2, label / 2, Math.Max(label / 2, width - label / 2));
            var row = 0;
            if (!inside)
            {
                row = rowEnds.FindIndex(end => end + 6 <= centre - label / 2);
                if (row < 0)
                {
                    row = rowEnds.Count;
                    rowEnds.Add(0);
                }

                rowEnds[row] = centre + label / 2;
            }

            var (kind, fill, text) = use(partition);
            segments.Add(new StripSegment(partition.Name, x, wide, kind, Math.Clamp(fill, 0, 1), inside, row, centre, text));
            x += wide + Gap;
        }

        return new PartitionStrip(width, segments, rowEnds.Count);
    }

    /// <summary>The strip of a plan: which partitions it writes and erases, and how full its images make them.</summary>
    public static PartitionStrip OfPlan(Plan plan, PhoneModel model, double width) =>
        Of(
            model,
            partition =>
            {
                var touch = plan.Steps.SelectMany(step => step.Act.Touches).LastOrDefault(one => one.Partition == partition.Name);
                if (touch is null)
                    return (PartitionUse.Untouched, 0, $"{partition.Name}: not touched");
                // What the clean pack writes over the user data leaves nothing of them.
                return touch.Erases || touch.Role == PartitionRole.UserData
                    ? (PartitionUse.ToErase, 1, $"{partition.Name}: erased")
                    : (
                        PartitionUse.ToWrite,
                        (double)touch.ExpandedBytes / partition.SizeBytes,
                        $"{partition.Name}: written, {ByteSize.Text(touch.ExpandedBytes)} of {ByteSize.Text(partition.SizeBytes)}"
                    );
            },
            width
        );
}
