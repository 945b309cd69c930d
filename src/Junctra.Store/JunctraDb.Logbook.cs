using Junctra.Core.Matching;
using Junctra.Store.Logbook;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Junctra.Store;

/// <summary>Tables of the logbook: what is derived from jobs and runs, so that it can be found and counted.</summary>
public sealed partial class JunctraDb
{
    private static void ShapeLogbook(ModelBuilder builder)
    {
        builder.HasPostgresExtension("pg_trgm");
        builder.Entity<LogbookRow>(row =>
        {
            row.ToTable("logbook");
            row.HasKey(r => r.JobId);
            row.Property(r => r.JobId).ValueGeneratedNever();
            row.HasOne<JobRow>().WithOne().HasForeignKey<LogbookRow>(r => r.JobId);
            row.Property(r => r.Outcome).HasConversion<string>().HasMaxLength(20);
            row.HasIndex(r => r.Words).HasMethod("gin");
            row.HasIndex(r => r.TakenInAt);
            // All counts of all filters are read off it, without the rows.
            row.HasIndex(r => new
            {
                r.Model,
                r.Finding,
                r.Path,
                r.Outcome,
            });
            row.HasIndex(r => new { r.Model, r.TakenInAt });
            row.HasIndex(r => new { r.Finding, r.TakenInAt });
            row.HasIndex(r => new { r.Path, r.TakenInAt });
            row.HasIndex(r => new { r.Outcome, r.TakenInAt });
        });
        builder.Entity<LogbookWordRow>(word =>
        {
            word.ToTable("logbook_words");
            word.HasKey(w => w.Word);
            word.HasIndex(w => w.Word).HasMethod("gin").HasOperators("gin_trgm_ops").HasDatabaseName("ix_logbook_words_likeness");
        });
        builder.Entity<LogbookDueRow>().ToTable("logbook_due");
        builder.Entity<StepTimeRow>(time =>
        {
            time.ToTable("step_times");
            time.Property(t => t.Kind).HasConversion<string>().HasMaxLength(20);
            time.HasIndex(t => t.JobId);
            time.HasIndex(t => t.At);
            time.HasOne<RunRow>().WithMany().HasForeignKey(t => t.RunId);
        });
        builder.Entity<RunResultRow>(result =>
        {
            result.ToTable("run_results");
            result.HasKey(r => r.RunId);
            result.Property(r => r.RunId).ValueGeneratedNever();
            result.HasOne<RunRow>().WithOne().HasForeignKey<RunResultRow>(r => r.RunId);
            result.Property(r => r.Risk).HasConversion<string>().HasMaxLength(20);
            Json(result.Property(r => r.Verdicts));
            // Rows are made anew, never changed.
            result.Property(r => r.Verdicts).Metadata.SetValueComparer(new ValueComparer<Dictionary<string, Verdict>>(false));
            result.HasIndex(r => r.JobId);
        });
        builder.Entity<FindingRow>(finding =>
        {
            finding.ToTable("findings");
            finding.Property(f => f.ClassId).HasMaxLength(60);
        });
        builder.Entity<KeepRuleRow>().ToTable("keep_rules");
    }
}
