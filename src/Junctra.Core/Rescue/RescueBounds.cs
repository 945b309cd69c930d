using Junctra.Core.Facts;

namespace Junctra.Core.Rescue;

/// <summary>What the rest of a job allows at its opened phone.</summary>
/// <param name="WhyNotOpen">Why it is not opened, or not yet; null where it may be. What was begun is brought to its end all the same.</param>
/// <param name="HasPassed">Whether it was written and its checks hold.</param>
/// <param name="IsRunning">Whether a run goes on, or waits for hands.</param>
public sealed record RescueBounds(string? WhyNotOpen, bool HasPassed, bool IsRunning);

/// <summary>What is known of a phone's revision, and of the loader that is to start it.</summary>
/// <param name="Known">The highest revision that the phone is known to have had: a lower bound; null where none is known.</param>
/// <param name="Ceiling">The highest revision that the loader supports.</param>
/// <param name="InRuns">What runs of the job wrote down of their loaders.</param>
public sealed record LoaderCase(Revision? Known, Revision Ceiling, IReadOnlyList<RescueEntry> InRuns);
