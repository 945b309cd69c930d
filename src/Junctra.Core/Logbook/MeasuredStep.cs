using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;

namespace Junctra.Core.Logbook;

/// <summary>How long a step of a run took.</summary>
/// <param name="Step">The step; of what a phone does by itself, the first of those steps.</param>
/// <param name="Kind">What took the time.</param>
/// <param name="Said">What the plan said of it, in seconds.</param>
/// <param name="Acts">The acts that it amounts to: one, or those which a phone does one after the other by itself.</param>
/// <param name="Took">What it took, in seconds.</param>
/// <param name="By">Whose hands it were; null where nobody's.</param>
/// <param name="At">When it was over.</param>
public sealed record MeasuredStep(
    int Step,
    TimeKind Kind,
    Catalogue.Band Said,
    IReadOnlyList<Act> Acts,
    double Took,
    string? By,
    DateTimeOffset At
)
{
    /// <summary>
    /// The steps of a run whose begin and end its journal tells. A step that ended early tells nothing of how long it takes. What hands do
    /// is measured from when they were wanted, so that a wait for them is part of it: that is what a promise has to reckon with.
    /// </summary>
    /// <param name="plan">The run's plan.</param>
    /// <param name="journal">Its journal.</param>
    /// <param name="readSince">What was read of the phone after its end, until the next run; of the customer's own memory nothing.</param>
    public static IReadOnlyList<MeasuredStep> Of(Plan plan, IEnumerable<JournalEntry> journal, IEnumerable<Fact> readSince)
    {
        var steps = plan.Steps.ToDictionary(step => step.Number);
        var measured = new List<MeasuredStep>();
        var began = new Dictionary<int, DateTimeOffset>();
        DateTimeOffset? finished = null,
            counts = null,
            counted = null,
            up = null;
        foreach (var entry in journal)
        {
            switch (entry.Event)
            {
                case StepStarted started:
                    began[started.Step] = entry.At;
                    break;
                case HandsWanted wanted:
                    // Of hands that were wanted twice for one step, all of it.
                    began.TryAdd(wanted.Step, entry.At);
                    break;
                case HandsSaid { Done: true } said:
                    Add(said.Step, entry.At, said.By);
                    break;
                case StepDone done:
                    Add(done.Step, entry.At, null);
                    break;
                case RunFinished:
                    finished = entry.At;
                    break;
                case StageSeen { CountsApps: true }:
                    counts ??= entry.At;
                    counted = entry.At;
                    break;
                case StageSeen seen when PhoneModes.Parse(seen.Shows) is PhoneMode.System or PhoneMode.SetupWizard:
                    up ??= entry.At;
                    break;
                case RungTaken:
                    // From here on it is another story: what was done to it, and not how long it takes.
                    finished = null;
                    break;
            }
        }

        var facts = readSince.Where(fact => fact.At >= finished).ToList();
        up ??= facts
            .Where(fact => fact.Name == FactName.Mode && PhoneModes.Parse(fact.Value) is PhoneMode.System or PhoneMode.SetupWizard)
            .Select(fact => (DateTimeOffset?)fact.At)
            .Min();
        if (finished is not { } end || up is not { } seenUp)
            return measured;
        var own = plan.Steps.Where(step => step.Act is AwaitStage).ToList();
        Own(own.Where(step => step.Act.Timed != TimeKind.Optimising), end, counts ?? seenUp);
        if (counts is { } from && counted is not null)
            Own(own.Where(step => step.Act.Timed == TimeKind.Optimising), from, seenUp);
        if (
            plan.Steps.FirstOrDefault(step => step.Act is CheckResult) is { } check
            && facts.Where(fact => fact.At > seenUp).OrderBy(fact => fact.At).LastOrDefault() is { } last
        )
            measured.Add(
                new(check.Number, TimeKind.Check, check.Seconds, [check.Act], (last.At - seenUp).TotalSeconds, last.RecordedBy, last.At)
            );
        return measured;

        void Add(int number, DateTimeOffset at, string? by)
        {
            if (steps.TryGetValue(number, out var step) && began.Remove(number, out var from) && measured.All(one => one.Step != number))
                measured.Add(new(number, step.Act.Timed, step.Seconds, [step.Act], (at - from).TotalSeconds, by, at));
        }

        void Own(IEnumerable<PlanStep> steps, DateTimeOffset from, DateTimeOffset to)
        {
            if (steps.ToList() is not { Count: > 0 } all || to <= from)
                return;
            var kind = all.Exists(step => step.Act.Timed == TimeKind.FirstBoot) ? TimeKind.FirstBoot : all[^1].Act.Timed;
            measured.Add(
                new(
                    all[0].Number,
                    kind,
                    new(all.Sum(step => step.Seconds.Typical), all.Sum(step => step.Seconds.Slow)),
                    [.. all.Select(step => step.Act)],
                    (to - from).TotalSeconds,
                    null,
                    to
                )
            );
        }
    }
}
