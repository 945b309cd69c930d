using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Insight;
using Junctra.Core.Jobs;
using Junctra.Core.Logbook;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Rescue;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Logbook;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Logbook;

/// <summary>Makes what the logbook keeps of jobs: what is listed, found, measured and counted. It depends on their records alone.</summary>
public sealed class LogbookEntries(ModelCatalogue catalogue)
{
    /// <summary>Entries of jobs; steps' times and runs' results are stored beside them.</summary>
    public async Task<IReadOnlyList<LogbookEntry>> OfAsync(JunctraDb db, IReadOnlyCollection<int> ids, CancellationToken cancel)
    {
        var records = await JobRecords.LoadAsync(db, ids, cancel);
        await db.StepTimes.Where(time => ids.Contains(time.JobId)).ExecuteDeleteAsync(cancel);
        await db.RunResults.Where(result => ids.Contains(result.JobId)).ExecuteDeleteAsync(cancel);
        var entries = new List<LogbookEntry>();
        foreach (var record in records)
        {
            var job = new JobView(record.Job, catalogue);
            var states = record.Job.Runs.ToDictionary(run => run.Id, run => RunState.Of(run.Plan, record.Journal[run.Id]));
            var outcome = Outcome(job, states);
            entries.Add(new LogbookEntry(Row(job, outcome), Words(record, job, outcome)));
            db.StepTimes.AddRange(Times(record, job));
            db.RunResults.AddRange(
                record.Job.Runs.Where(run => !run.Status.IsOpen()).Select(run => Result(job, run, states[run.Id], outcome))
            );
        }

        // Of the rows themselves nothing hangs on a job's lock: they are derived, and nobody decides by them.
        await db.SaveChangesAsync(cancel);
        return entries;
    }

    private static JobOutcome Outcome(JobView job, Dictionary<int, RunState> states) =>
        JobOutcomes.Of(
            job.Row.HandedBackAt is not null,
            job.Row.Cell,
            states.Values.Any(state => state.HasTouchedPhone),
            job.LastRun?.Status == RunStatus.Finished && Checker.IsPassed(job.Checks)
        );

    private LogbookRow Row(JobView job, JobOutcome outcome)
    {
        var (row, first) = (job.Row, job.Row.Findings.FirstOrDefault());
        var written = row.Runs.LastOrDefault(run => run.Status == RunStatus.Finished) ?? row.Runs.LastOrDefault();
        return new LogbookRow
        {
            JobId = row.Id,
            Ticket = row.Ticket,
            Description = row.Description,
            Model = job.Model?.Code ?? "",
            Path = written?.Plan.Choice.Path ?? row.Path ?? "",
            Finding = row.FaultClassId ?? "",
            Outcome = outcome,
            Package = row.Runs.LastOrDefault(run => run.Status == RunStatus.Finished)?.PackageTitle ?? "",
            Finished = row.Runs.Count(run => run.Status == RunStatus.Finished),
            EndedEarly = row.Runs.Count(run => run.Status.EndedEarly()),
            TakenInAt = row.TakenInAt,
            HandedBackAt = row.HandedBackAt,
            BegunAt = row.Runs.FirstOrDefault()?.BegunAt,
            EndedAt = row.Runs.LastOrDefault()?.EndedAt,
            CheckedAt = job.Checks.SelectMany(line => line.Claims).Select(fact => (DateTimeOffset?)fact.At).Max(),
            Serial = row.Facts.LastOrDefault(fact => fact.WithdrawnAt is null && fact.Name == FactName.Serial.Value)?.Value ?? "",
            FirstFinding = first?.ClassId ?? "",
            FirstChance = first?.Chance,
            ReadWith = catalogue.Stamp,
        };
    }

    private IReadOnlyList<string> Words(JobRecord record, JobView job, JobOutcome outcome)
    {
        var row = job.Row;
        return SearchWords.Of([
            row.Ticket,
            row.Description,
            row.Complaint,
            row.Accessories,
            row.PortName,
            outcome.Label(),
            job.Model?.ProductName,
            catalogue.MakerOf(job.Model?.Code)?.Name,
            catalogue.Triage.Class(row.FaultClassId)?.Label,
            PathList.Find(row.Path)?.Title,
            .. row.Facts.Where(fact => fact.WithdrawnAt is null && !new FactName(fact.Name).IsPartitionSize).SelectMany(Words),
            .. row.Claims.SelectMany(claim => new[] { claim.Text, claim.SaidBy }),
            .. row.Consents.Where(consent => consent.WithdrawnAt is null).Select(consent => consent.AgreedBy),
            .. row.Rescue.SelectMany(entry => new[] { entry.By, RescueWords.Of(entry.Event, catalogue.BoardOf(job.Model?.Code)) }),
            .. row.Findings.Select(finding => catalogue.Triage.Class(finding.ClassId)?.Label),
            .. row.Runs.SelectMany(run => new[] { run.Plan.Choice.Title, run.PackageTitle, run.PortName, run.PackageId, run.BegunBy }),
            .. record.Journal.Values.SelectMany(entries => entries).Select(entry => JournalWords.Of(entry.Event)),
            .. record.Tries.SelectMany(one => new[] { one.Cable, one.Computer, one.Row.Remedy, one.Row.By }),
            .. record.Audit.SelectMany(line => new[] { line.By, line.Act }),
        ]);
    }

    private static IEnumerable<string?> Words(FactRow fact) =>
        [fact.Value, Say.Value(new FactName(fact.Name), fact.Value), fact.RecordedBy];

    private IEnumerable<StepTimeRow> Times(JobRecord record, JobView job) =>
        from run in job.Row.Runs
        let cable = record.Tries.LastOrDefault(one => one.Row.At <= run.BegunAt && one.Cable is not null)?.Cable
        from step in MeasuredStep.Of(run.Plan, record.Journal[run.Id], job.ReadAfter(run))
        let logged = LoggedTime.Of(job.Row.Id, run.Plan, step, cable, catalogue.Figures)
        select new StepTimeRow
        {
            JobId = job.Row.Id,
            RunId = run.Id,
            Step = step.Step,
            Kind = logged.Kind,
            Model = logged.Model,
            Link = logged.Link,
            Cable = logged.Cable,
            Port = run.PortName ?? "",
            By = logged.By,
            Usual = logged.Usual,
            Said = step.Said.Typical,
            SaidSlow = step.Said.Slow,
            Took = logged.Took,
            At = step.At,
        };

    private static RunResultRow Result(JobView job, RunRow run, RunState state, JobOutcome outcome)
    {
        var checks = Checker.Compare(run.Plan, new Phone(job.ReadAfter(run)));
        return new RunResultRow
        {
            RunId = run.Id,
            JobId = job.Row.Id,
            Model = run.Plan.Target.ModelCode,
            Path = run.Plan.Choice.Path,
            At = run.EndedAt ?? run.BegunAt,
            Went = run.Status switch
            {
                RunStatus.Finished when !run.Plan.IsChecked || Checker.IsPassed(checks) => true,
                RunStatus.Finished when checks.Any(line => line.State == CheckState.Differs) => false,
                // A cable that let go says nothing of what was judged; a phone that refuses does.
                RunStatus.Failed when state.WasRefused => false,
                _ => null,
            },
            Verdicts = run.Report?.Results.ToDictionary(result => result.RuleId.Value, result => result.Verdict) ?? [],
            Risk = run.Status.EndedEarly() && state.HasTouchedPhone ? run.Plan.RiskOf(state.Step, state.At).Risk : null,
            CameBack =
                !run.Status.EndedEarly() || !state.HasTouchedPhone || outcome == JobOutcome.Open ? null : outcome == JobOutcome.InOrder,
            What = state.WhatHappened ?? "",
        };
    }
}
