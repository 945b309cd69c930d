namespace Junctra.Core.Plans;

/// <summary>A step on the risk strip, or one image of it, in drawing units.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="X">Left edge.</param>
/// <param name="Width">Width.</param>
/// <param name="Risk">What a break there would leave.</param>
/// <param name="Text">The same in words.</param>
public sealed record RiskSegment(int Step, double X, double Width, RiskKind Risk, string Text);

/// <summary>A word under or in a stretch of the strip whose risk is the same.</summary>
/// <param name="X">Its middle.</param>
/// <param name="Risk">The risk.</param>
/// <param name="Text">The word.</param>
public sealed record RiskLabel(double X, RiskKind Risk, string Text);

/// <summary>
/// What a break at each step would leave, along the steps. Widths grow with the cube root of the time that a step takes, so that a boot
/// chain of seconds remains visible beside a system of minutes.
/// </summary>
/// <param name="Width">Width of the drawing.</param>
/// <param name="Segments">The steps in order; one that sends several images has a segment for each.</param>
/// <param name="Labels">Words of stretches that have room for them.</param>
public sealed record RiskStrip(double Width, IReadOnlyList<RiskSegment> Segments, IReadOnlyList<RiskLabel> Labels)
{
    private const double Gap = 3;
    private const double LetterWidth = 7.2;

    /// <summary>Lays out a plan's steps.</summary>
    /// <param name="plan">The plan, rehearsed.</param>
    /// <param name="width">Width in units.</param>
    public static RiskStrip Of(Plan plan, double width)
    {
        var parts = plan.Steps.Where(step => !step.Act.FollowsTheRun).SelectMany(step => Parts(plan, step)).ToList();
        if (parts.Count == 0)
            return new RiskStrip(width, [], []);
        var unit = (width - Gap * (parts.Count - 1)) / parts.Sum(part => part.Weight);
        var segments = new List<RiskSegment>();
        var x = 0.0;
        foreach (var (step, risk, weight, name) in parts)
        {
            segments.Add(new RiskSegment(step.Number, x, weight * unit, risk.Risk, $"{step.Number} {name}: {WordOf(risk.Risk)}"));
            x += weight * unit + Gap;
        }

        return new RiskStrip(width, segments, Apart([.. LabelsOf(segments)]));
    }

    /// <summary>A risk in a few words.</summary>
    public static string WordOf(RiskKind risk) =>
        risk switch
        {
            RiskKind.SafeToStop => "nothing lost",
            RiskKind.KeysBringItBack => "again, by keys",
            RiskKind.OnlyEmergency => "only emergency mode",
            _ => "no way back",
        };

    private static IEnumerable<(PlanStep Step, StepRisk Risk, double Weight, string Name)> Parts(Plan plan, PlanStep step)
    {
        if (
            step.Act.Touches is { Count: > 1 } touches
            && plan.Rehearsal.Risks.Any(risk => risk.Step == step.Number && risk.Partition is not null)
        )
        {
            var bytes = Math.Max(1, touches.Sum(touch => touch.Bytes));
            foreach (var touch in touches)
                yield return (
                    step,
                    plan.RiskOf(step, touch.Partition),
                    Weight(step.Seconds.Typical * touch.Bytes / bytes),
                    touch.Partition
                );
            yield break;
        }

        yield return (step, plan.RiskOf(step), Weight(step.Seconds.Typical), step.Title);
    }

    private static double Weight(double seconds) => Math.Cbrt(Math.Max(1, seconds));

    /// <summary>Labels that do not run into each other, from the left; of two that would, the worse stays.</summary>
    private static List<RiskLabel> Apart(IReadOnlyList<RiskLabel> labels)
    {
        var kept = new List<RiskLabel>();
        foreach (var label in labels.OrderByDescending(label => label.Risk))
        {
            if (kept.TrueForAll(other => Math.Abs(other.X - label.X) >= (other.Text.Length + label.Text.Length) * LetterWidth / 2))
                kept.Add(label);
        }

        return [.. kept.OrderBy(label => label.X)];
    }

    private static IEnumerable<RiskLabel> LabelsOf(List<RiskSegment> segments)
    {
        for (var from = 0; from < segments.Count; )
        {
            var to = from;
            while (to + 1 < segments.Count && segments[to + 1].Risk == segments[from].Risk)
                to++;
            var (left, right) = (segments[from].X, segments[to].X + segments[to].Width);
            var word = WordOf(segments[from].Risk);
            // The worst is always said, whatever room it has.
            if (right - left >= word.Length * LetterWidth || segments[from].Risk >= RiskKind.OnlyEmergency)
                yield return new RiskLabel((left + right) / 2, segments[from].Risk, word);
            from = to + 1;
        }
    }
}
