namespace Junctra.Core.Plans;

/// <summary>What one mistake in a step would do, at the worst point of it.</summary>
/// <param name="What">The mistake: “the cable comes out”.</param>
/// <param name="Partition">Of a step that sends several images, the one whose turn it is; null otherwise.</param>
/// <param name="Shows">Where the phone would be then.</param>
/// <param name="Risk">What would be left.</param>
/// <param name="DataGone">Whether data that were to be kept would be gone.</param>
/// <param name="WayBackMinutes">Minutes of the way to where the plan begins again; null where no way leads there, or none is needed.</param>
public sealed record Interruption(string What, string? Partition, string Shows, RiskKind Risk, bool DataGone, double? WayBackMinutes)
{
    /// <summary>The same in a sentence.</summary>
    public string Sentence =>
        Risk switch
        {
            RiskKind.SafeToStop => "Nothing on the phone has changed. Begin again.",
            RiskKind.KeysBringItBack => (
                WayBackMinutes is { } minutes and > 0
                    ? $"It would be in {Shows}; about {Math.Max(1, Math.Round(minutes)):0} min by keys, then begin again from the start."
                    : $"It would be in {Shows}. Begin again from the start."
            ) + (DataGone ? " The data would be gone." : ""),
            RiskKind.OnlyEmergency => "Only chip emergency mode would be left: it may not answer again.",
            _ => $"It would be in {Shows}, and no way back is known.",
        };
}
