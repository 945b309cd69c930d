using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Junctra.Store;

/// <summary>The database: jobs with their facts, the library's index, runs with their journals.</summary>
public sealed class JunctraDb(DbContextOptions<JunctraDb> options) : DbContext(options)
{
    public DbSet<JobRow> Jobs => Set<JobRow>();
    public DbSet<FactRow> Facts => Set<FactRow>();
    public DbSet<GateAnswerRow> Answers => Set<GateAnswerRow>();
    public DbSet<PackageRow> Packages => Set<PackageRow>();
    public DbSet<RunRow> Runs => Set<RunRow>();
    public DbSet<RunEventRow> RunEvents => Set<RunEventRow>();
    public DbSet<PortRow> Ports => Set<PortRow>();
    public DbSet<AuditRow> Audit => Set<AuditRow>();

    /// <summary>Options for a PostgreSQL database; the one place where the provider and the names of columns are settled.</summary>
    public static DbContextOptionsBuilder Configure(DbContextOptionsBuilder options, string connection) =>
        options.UseNpgsql(connection).UseSnakeCaseNamingConvention();

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<JobRow>(job =>
        {
            job.ToTable("jobs");
            job.HasIndex(j => j.Ticket).IsUnique();
            job.Property(j => j.Ticket).HasMaxLength(40);
            job.Property(j => j.Description).HasMaxLength(200);
            job.Property(j => j.Complaint).HasMaxLength(2000);
            job.Property(j => j.DataWish).HasConversion<string>().HasMaxLength(20);
            job.Property(j => j.RegionSchool).HasConversion<string>().HasMaxLength(20);
            job.Property(j => j.Version).IsRowVersion();
            job.HasMany(j => j.Facts).WithOne().HasForeignKey(f => f.JobId);
            job.HasMany(j => j.Answers).WithOne().HasForeignKey(a => a.JobId);
            job.HasMany(j => j.Runs).WithOne(r => r.Job).HasForeignKey(r => r.JobId);
        });
        modelBuilder.Entity<FactRow>(fact =>
        {
            fact.ToTable("facts");
            fact.Property(f => f.Name).HasMaxLength(80);
            fact.Property(f => f.Value).HasMaxLength(200);
            fact.Property(f => f.Source).HasConversion<string>().HasMaxLength(20);
            fact.HasIndex(f => f.JobId);
        });
        modelBuilder.Entity<GateAnswerRow>().ToTable("gate_answers");
        modelBuilder.Entity<PackageRow>(package =>
        {
            package.ToTable("packages");
            package.HasKey(p => p.Id);
            package.Property(p => p.Id).HasMaxLength(64);
            package.HasIndex(p => p.Path).IsUnique();
            Json(package.Property(p => p.Contents));
        });
        modelBuilder.Entity<RunRow>(run =>
        {
            run.ToTable("runs");
            Json(run.Property(r => r.Plan));
            Json(run.Property(r => r.Report));
            run.Property(r => r.Status).HasConversion<string>().HasMaxLength(20);
            // One open run at a port and one for a job: a second one would write over the first.
            run.HasIndex(r => r.PortName).IsUnique().HasFilter("status in ('Queued', 'Writing')").HasDatabaseName("ix_runs_open_port");
            run.HasIndex(r => r.JobId).IsUnique().HasFilter("status in ('Queued', 'Writing')").HasDatabaseName("ix_runs_open_job");
        });
        modelBuilder.Entity<RunEventRow>(entry =>
        {
            entry.ToTable("run_events");
            entry.HasKey(e => new { e.RunId, e.Seq });
            entry.HasOne<RunRow>().WithMany().HasForeignKey(e => e.RunId);
            Json(entry.Property(e => e.Event));
        });
        modelBuilder.Entity<PortRow>(port =>
        {
            port.ToTable("ports");
            port.HasKey(p => p.Name);
            port.Property(p => p.Name).HasMaxLength(20);
            port.Property(p => p.Address).HasMaxLength(300);
        });
        modelBuilder.Entity<AuditRow>(entry =>
        {
            entry.ToTable("audit");
            entry.HasIndex(a => a.JobId);
        });
    }

    private static void Json<T>(PropertyBuilder<T> property) where T : class =>
        property.HasColumnType("jsonb").HasConversion(
            value => JsonSerializer.Serialize(value, StoreJson.Options),
            text => JsonSerializer.Deserialize<T>(text, StoreJson.Options)!);
}
