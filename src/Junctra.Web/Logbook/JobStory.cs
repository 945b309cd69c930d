using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Logbook;
using Junctra.Web.Writing;

namespace Junctra.Web.Logbook;

/// <summary>One thing that happened in a job.</summary>
/// <param name="At">When.</param>
/// <param name="Station">At which station.</param>
/// <param name="Who">Who did it; empty where nobody did.</param>
/// <param name="What">What happened.</param>
public sealed record StoryLine(DateTimeOffset At, Station Station, string Who, string What)
{
    /// <summary>More of it, each in a line of its own.</summary>
    public IReadOnlyList<string> More { get; init; } = [];
}

/// <summary>A run in a job's story: what was said of it before, and what became of it.</summary>
/// <param name="Run">The run.</param>
/// <param name="State">How it ended, or stands.</param>
/// <param name="Lines">Its journal in words.</param>
public sealed record StoryRun(RunRow Run, RunState State, IReadOnlyList<JournalLine> Lines)
{
    /// <summary>What the writer's part was said to take, in seconds.</summary>
    public Band Said =>
        new(
            Run.Plan.Steps.Where(step => !step.Act.FollowsTheRun).Sum(step => step.Seconds.Typical),
            Run.Plan.Steps.Where(step => !step.Act.FollowsTheRun).Sum(step => step.Seconds.Slow)
        );

    /// <summary>What it took, in seconds; null while it goes on.</summary>
    public double? Took => Run.EndedAt is { } ended && State.Began is { } began ? (ended - began).TotalSeconds : null;
}

/// <summary>A job from the counter to the counter, in the order in which it happened.</summary>
/// <param name="Lines">What happened, the earliest first.</param>
/// <param name="Runs">Its runs, in order; their begin stands among the lines, too.</param>
public sealed record JobStory(IReadOnlyList<StoryLine> Lines, IReadOnlyList<StoryRun> Runs)
{
    // What one person noted at one place within so many seconds is told as one thing.
    private const int OneSitting = 45;

    /// <summary>The story of a record.</summary>
    /// <param name="record">All that is kept of the job.</param>
    /// <param name="catalogue">Words for checks and findings.</param>
    public static JobStory Of(JobRecord record, ModelCatalogue catalogue)
    {
        var job = record.Job;
        var runs = job
            .Runs.Select(run => new StoryRun(
                run,
                RunState.Of(run.Plan, record.Journal[run.Id]),
                [.. record.Journal[run.Id].Select(RunDisplay.Line).OfType<JournalLine>()]
            ))
            .ToList();
        var lines = Noted(job)
            .Concat(job.TriageAnswers.Select(answer => Answered(answer, job.TakenInAt, catalogue.Triage)))
            .Concat(
                job.Claims.Select(claim => new StoryLine(
                    claim.At,
                    Station.Intake,
                    claim.RecordedBy,
                    $"{claim.SaidBy} said: “{claim.Text}”"
                ))
            )
            .Concat(job.Consents.SelectMany(Agreed))
            .Concat(record.Tries.Select(one => Tried(one, catalogue.Links)))
            .Concat(record.Audit.Select(line => new StoryLine(line.At, StationAt(job, line.At), line.By, line.Act)))
            .Concat(runs.SelectMany(Told))
            .OrderBy(line => line.At)
            .ToList();
        return new JobStory(lines, runs);
    }

    private static IEnumerable<StoryLine> Noted(JobRow job)
    {
        var facts = job.Facts.Where(fact => !new FactName(fact.Name).IsPartitionSize).OrderBy(fact => fact.Id).ToList();
        for (var i = 0; i < facts.Count; )
        {
            var first = facts[i];
            var sitting = facts
                .Skip(i)
                .TakeWhile(fact => fact.RecordedBy == first.RecordedBy && (fact.At - first.At).TotalSeconds < OneSitting)
                .ToList();
            i += sitting.Count;
            var from = string.Join(", ", sitting.Select(fact => fact.Source.Label()).Distinct());
            yield return new StoryLine(
                first.At,
                StationAt(job, first.At),
                first.RecordedBy,
                sitting.Count == 1 ? $"{Say(first)} ({from})" : $"{sitting.Count} facts noted: {from}"
            )
            {
                More = sitting.Count == 1 ? [] : [.. sitting.Select(fact => $"{Say(fact)} ({fact.Source.Label()})")],
            };
        }

        static string Say(FactRow fact) =>
            $"{new FactName(fact.Name).Label}: {Drawing.Say.Value(new FactName(fact.Name), fact.Value)}{(fact.WithdrawnAt is null ? "" : ", withdrawn later")}";
    }

    private static StoryLine Answered(TriageAnswerRow answer, DateTimeOffset takenIn, TriageTables tables)
    {
        var check = tables.Check(answer.CheckId);
        var said =
            answer.OutcomeId == TriageAnswerRow.CannotTell ? "cannot tell" : check?.Outcome(answer.OutcomeId)?.Label ?? answer.OutcomeId;
        return new StoryLine(
            answer.At,
            answer.At - takenIn < TimeSpan.FromMinutes(1) ? Station.Intake : Station.FindOut,
            answer.By,
            $"{check?.Ask ?? answer.CheckId} {said}{(answer.WithdrawnAt is null ? "" : " (taken back later)")}"
        );
    }

    private static IEnumerable<StoryLine> Agreed(ConsentRow consent)
    {
        yield return new StoryLine(consent.At, Station.Intake, consent.RecordedBy, $"{consent.AgreedBy} agreed: “{consent.Text}”");
        if (consent.WithdrawnAt is { } taken)
            yield return new StoryLine(taken, Station.Intake, consent.WithdrawnBy ?? "", $"Taken back: “{consent.Text}”");
    }

    private static StoryLine Tried(LabelledTry one, LinkTables links) =>
        new(
            one.Row.At,
            Station.Route,
            one.Row.By,
            $"For the computer to see it: {links.Remedy(one.Row.Remedy)?.Label.ToLowerInvariant() ?? one.Row.Remedy}{(one.Cable is { } cable ? $" ({cable})" : "")}{(one.Row.PortName is { } port ? $", port {port}" : "")}. {(one.Row.Worked ? "It worked." : "No change.")}"
        );

    private static IEnumerable<StoryLine> Told(StoryRun told)
    {
        if (told.Run.EndedAt is not { } ended)
            yield break;
        yield return told.State.Status.EndedEarly()
            ? new StoryLine(ended, Station.Write, "", $"The write ended early. {told.State.WhatHappened}")
            : new StoryLine(ended, Station.Write, "", $"Carried out: {told.Run.Plan.Title}");
        foreach (var seen in told.State.Seen)
            yield return new StoryLine(
                seen.At,
                Station.Check,
                seen.What.By,
                seen.What.CountsApps
                    ? $"It has prepared {seen.What.Apps} of {seen.What.OfApps} apps"
                    : $"It shows {PhoneModes.Parse(seen.What.Shows)?.Label() ?? seen.What.Shows}"
            );
    }

    /// <summary>Where a job was at a moment, by what had been done until then.</summary>
    private static Station StationAt(JobRow job, DateTimeOffset at) =>
        job.HandedBackAt is { } back && at >= back ? Station.HandBack
        : job.Runs.LastOrDefault(run => run.BegunAt <= at) is { } run
            ? run.EndedAt is not { } ended || at < ended ? Station.Write
                : run.Status.EndedEarly() ? Station.Route
                : Station.Check
        : job.Answers.Count > 0 && job.Answers[0].At <= at ? Station.Plan
        : at - job.TakenInAt < TimeSpan.FromMinutes(1) ? Station.Intake
        : Station.FindOut;
}
