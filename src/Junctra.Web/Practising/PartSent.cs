using Junctra.Core.Practice;

namespace Junctra.Web.Practising;

/// <summary>A part of an exercise as the browser sends it, and as it is kept: answers, or what hands did.</summary>
public sealed record PartSent
{
    private const int MaxHints = 20,
        MaxAnswers = 40,
        MaxSaid = 60;

    /// <summary>Ids of the answers, in the order of the questions; null where none was given.</summary>
    public IReadOnlyList<string?>? Answers { get; init; }

    /// <summary>The one answer, in what was kept before whole jobs were.</summary>
    public string? Answer { get; init; }

    /// <summary>What was done at the phone.</summary>
    public IReadOnlyList<HandsAct> Acts { get; init; } = [];

    /// <summary>Milliseconds since its beginning.</summary>
    public long Now { get; init; }

    /// <summary>When hints were asked for.</summary>
    public IReadOnlyList<long>? Hints { get; init; }

    /// <summary>When it was said that a step is done.</summary>
    public IReadOnlyList<long>? Said { get; init; }

    /// <summary>Why it cannot be replayed; null where it can.</summary>
    public string? WhyNot() =>
        TwinHands.WhyNot(Acts, Now)
        ?? (
            Hints is { } hints && (hints.Count > MaxHints || hints.Any(at => at is < 0 or > TwinHands.MaxMilliseconds))
                ? $"At most {MaxHints} hints, none before the first act."
            : Said is { } said && (said.Count > MaxSaid || said.Any(at => at is < 0 or > TwinHands.MaxMilliseconds))
                ? $"At most {MaxSaid} words, none before the first act."
            : Answers?.Count > MaxAnswers ? $"At most {MaxAnswers} answers."
            : null
        );

    /// <summary>As it is judged.</summary>
    /// <param name="part">The part of the job.</param>
    public PartDone Done(JobPart part) =>
        new(
            Answers ?? [],
            TwinHands.Played(Acts, PracticePhone.Computer, part.Write?.Start.Card ?? part.Keys?.Start.Card),
            Said ?? [],
            Hints ?? [],
            Now
        );
}
