using System.Text.Json.Nodes;
using Junctra.Core.Catalogue;
using Junctra.Core.Runs;

namespace Junctra.Store.Exchange;

/// <summary>A job on its way in: what hangs on it gets its place, under the ids that this database gives.</summary>
internal sealed class IncomingJob(JunctraDb db, ExchangeTables tables, ExchangedJob written, JobRow job, LogbookImport import)
{
    private readonly List<RunRow> wereOpen = [];

    private Dictionary<int, TriageAnswerRow> answers = [];
    private Dictionary<int, RunRow> runs = [];

    /// <summary>Adds what other rows point to; their own ids are known once it is stored.</summary>
    public void AddFirst()
    {
        answers = Add<TriageAnswerRow>(ExchangeTables.TriageAnswers, row => row.Id, (row, id) => row.Id = id, row => row.JobId = job.Id);
        runs = Add<RunRow>(ExchangeTables.Runs, row => row.Id, (row, id) => row.Id = id, Place);
    }

    /// <summary>Adds everything else.</summary>
    public async Task AddRestAsync(CancellationToken cancel)
    {
        foreach (var table in tables.Parts.Where(table => table.Name is not (ExchangeTables.TriageAnswers or ExchangeTables.Runs)))
        foreach (var one in Rows(table.Name))
            db.Add(await PlacedAsync(table, one, cancel));
        foreach (var run in wereOpen)
            EndEarly(run);
    }

    private IReadOnlyList<JsonObject> Rows(string name) => written.Parts.GetValueOrDefault(name, []);

    private Dictionary<int, T> Add<T>(string name, Func<T, int> idOf, Action<T, int> setId, Action<T> place)
        where T : class
    {
        var table = tables.Part(name)!;
        var byOld = new Dictionary<int, T>();
        foreach (var one in Rows(name))
        {
            var row = (T)table.Read(one, import.Later);
            if (!byOld.TryAdd(idOf(row), row))
                throw new ExchangeException($"{name}: two rows have the id {idOf(row)}.");
            setId(row, 0);
            place(row);
            db.Add(row);
        }

        return byOld;
    }

    private void Place(RunRow run)
    {
        run.JobId = job.Id;
        if (!run.Status.IsOpen())
            return;
        // No writer here may ever take it up.
        (run.Status, run.EndedAt) = (RunStatus.Failed, import.Now);
        wereOpen.Add(run);
    }

    private void EndEarly(RunRow run) =>
        db.RunEvents.Add(
            new RunEventRow
            {
                RunId = run.Id,
                Seq = (db.RunEvents.Local.Where(entry => entry.RunId == run.Id).Max(entry => (long?)entry.Seq) ?? 0) + 1,
                At = import.Now,
                Event = new RunFailed(
                    "This run was going on when its record was written out.",
                    "How it ended stands where it was carried out. Read the phone before anything else."
                ),
            }
        );

    private async Task<object> PlacedAsync(ExchangeTable table, JsonObject one, CancellationToken cancel)
    {
        var row = table.Read(one, import.Later);
        switch (row)
        {
            case FactRow fact:
                fact.JobId = job.Id;
                if (fact.TriageAnswerId is { } answer)
                    fact.TriageAnswerId = answers.TryGetValue(answer, out var given)
                        ? given.Id
                        : throw new ExchangeException($"{table.Name}: there is no answer {answer}.");
                break;
            case RunEventRow entry:
                entry.RunId = runs.TryGetValue(entry.RunId, out var run)
                    ? run.Id
                    : throw new ExchangeException($"{table.Name}: there is no run {entry.RunId}.");
                break;
            case LinkTryRow tried:
                tried.JobId = job.Id;
                tried.CableId = await import.ThingAsync(LinkThing.Cable, one[LogbookExport.CableColumn], cancel);
                tried.ComputerId = await import.ThingAsync(LinkThing.Computer, one[LogbookExport.ComputerColumn], cancel);
                break;
            default:
                table.Type.FindProperty(nameof(FactRow.JobId))!.PropertyInfo!.SetValue(row, job.Id);
                break;
        }

        return row;
    }
}
