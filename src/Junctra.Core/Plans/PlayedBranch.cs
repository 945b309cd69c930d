using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>A twin from its beginning to its end.</summary>
/// <param name="Start">Before the plan.</param>
/// <param name="End">After it.</param>
/// <param name="Seen">After each step.</param>
internal sealed record PlayedBranch(TwinState Start, TwinState End, IReadOnlyList<(PlanStep Step, TwinState State)> Seen);

/// <summary>
/// What of a twin decides how things go on: what lies on it, never when. Thousands of twins of one rehearsal share their partitions, so the
/// words of those are kept.
/// </summary>
internal sealed class TwinKey
{
    private readonly Dictionary<object, string> parts = new(ReferenceEqualityComparer.Instance);

    /// <summary>The key of a twin; equal for two that go on alike.</summary>
    public string Of(TwinState state) =>
        string.Join(
            '|',
            PartsOf(state),
            state.Floor,
            state.Unlocked,
            state.PermissionOn,
            state.Slot,
            state.AsksForAccount,
            state.Data is { } data ? $"{data.Kind} {data.Os} {data.Apps} {data.Account}" : "",
            state.Layout.Count
        );

    private string PartsOf(TwinState state)
    {
        if (!parts.TryGetValue(state.Parts, out var text))
            parts[state.Parts] = text = string.Join(
                ',',
                state.Parts.Select(pair => $"{pair.Key}={pair.Value.Content}{(pair.Value.Whole ? "" : "!")}{pair.Value.Kind}")
            );
        return text;
    }
}
