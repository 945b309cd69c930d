namespace Junctra.Store.Migrations;

/// <summary>
/// What notes which jobs changed, so that the logbook is made anew for them, whoever changed them: this program, another one, an import.
/// The notes are appended and never updated, so that no change waits for another. Of a run only its status counts, and of a journal only
/// what somebody saw after the end: its other entries come by the thousand, and are read when the run ends. Beside them the index by which
/// a phone is known again at its next visit, however its serial was written.
/// </summary>
internal static class LogbookTriggers
{
    private static readonly string[] OfJob =
    [
        "facts",
        "triage_answers",
        "claims",
        "consents",
        "gate_answers",
        "findings",
        "snapshots",
        "link_tries",
        "audit",
    ];

    public static string Up { get; } =
        $"""
        create function logbook_note_jobs() returns trigger language plpgsql as $$
        begin
            insert into logbook_due (job_id) select distinct id from changed;
            return null;
        end $$;
        create function logbook_note_parts() returns trigger language plpgsql as $$
        begin
            insert into logbook_due (job_id) select distinct job_id from changed where job_id is not null;
            return null;
        end $$;
        create function logbook_note_run() returns trigger language plpgsql as $$
        begin
            insert into logbook_due (job_id) values (new.job_id);
            return null;
        end $$;
        create function logbook_note_seen() returns trigger language plpgsql as $$
        begin
            insert into logbook_due (job_id) select job_id from runs where id = new.run_id;
            return null;
        end $$;
        create trigger logbook_jobs_added after insert on jobs
            referencing new table as changed for each statement execute function logbook_note_jobs();
        create trigger logbook_jobs_changed after update on jobs
            referencing new table as changed for each statement execute function logbook_note_jobs();
        {string.Concat(OfJob.Select(Parts))}
        create trigger logbook_runs_added after insert on runs for each row execute function logbook_note_run();
        create trigger logbook_runs_changed after update on runs for each row
            when (old.status is distinct from new.status) execute function logbook_note_run();
        create trigger logbook_seen after insert on run_events for each row
            when (new.event ->> 'kind' in ('stage-seen', 'rung-taken')) execute function logbook_note_seen();
        insert into logbook_due (job_id) select id from jobs;
        create index ix_facts_serial_capitals on facts (upper(value)) where name = 'serial' and withdrawn_at is null;
        """;

    public static string Down { get; } =
        $"""
        drop index ix_facts_serial_capitals;
        drop function logbook_note_jobs, logbook_note_parts, logbook_note_run, logbook_note_seen cascade;
        """;

    /// <summary>What notes changes of one more table that hangs on jobs.</summary>
    public static string Parts(string table) =>
        $"""
        create trigger logbook_{table}_added after insert on {table}
            referencing new table as changed for each statement execute function logbook_note_parts();
        create trigger logbook_{table}_changed after update on {table}
            referencing new table as changed for each statement execute function logbook_note_parts();
        create trigger logbook_{table}_removed after delete on {table}
            referencing old table as changed for each statement execute function logbook_note_parts();

        """;
}
