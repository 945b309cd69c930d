using System.Text.Json;
using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Junctra.Store;

/// <summary>Tables, columns, keys and indexes.</summary>
public sealed partial class JunctraDb
{
    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        NameStaffTables(builder);
        ShapeLogbook(builder);
        ShapeOperation(builder);
        builder.Entity<JobRow>(job =>
        {
            job.ToTable("jobs");
            job.HasIndex(j => j.Ticket).IsUnique();
            job.Property(j => j.Ticket).HasMaxLength(40);
            job.Property(j => j.Description).HasMaxLength(200);
            job.Property(j => j.Complaint).HasMaxLength(2000);
            job.Property(j => j.DataWish).HasConversion<string>().HasMaxLength(20);
            job.Property(j => j.Goal).HasConversion<string>().HasMaxLength(20);
            job.Property(j => j.WishKind).HasConversion<string>().HasMaxLength(20);
            job.Property(j => j.WishVersion).HasMaxLength(120);
            job.HasMany(j => j.Schools).WithOne().HasForeignKey(s => s.JobId);
            job.Property(j => j.Cell).HasConversion<string>().HasMaxLength(20);
            job.Property(j => j.Accessories).HasMaxLength(400);
            job.Property(j => j.FaultClassId).HasMaxLength(60);
            job.Property(j => j.Version).IsRowVersion();
            job.HasIndex(j => j.HandedBackAt);
            job.HasMany(j => j.TriageAnswers).WithOne().HasForeignKey(a => a.JobId);
            job.HasMany(j => j.Claims).WithOne().HasForeignKey(c => c.JobId);
            job.HasMany(j => j.Consents).WithOne().HasForeignKey(c => c.JobId);
            job.HasMany(j => j.Snapshots).WithOne().HasForeignKey(s => s.JobId);
            job.HasMany(j => j.Rescue).WithOne().HasForeignKey(e => e.JobId);
            job.HasMany(j => j.Promises).WithOne().HasForeignKey(p => p.JobId);
            job.HasMany(j => j.Facts).WithOne().HasForeignKey(f => f.JobId);
            job.HasMany(j => j.Answers).WithOne().HasForeignKey(a => a.JobId);
            job.HasMany(j => j.Findings).WithOne().HasForeignKey(f => f.JobId);
            job.HasIndex(j => j.Key).IsUnique();
            job.Property(j => j.Key).HasDefaultValueSql("gen_random_uuid()");
            job.HasMany(j => j.Runs).WithOne(r => r.Job).HasForeignKey(r => r.JobId);
        });
        builder.Entity<BenchThingRow>(thing =>
        {
            thing.ToTable("bench_things");
            thing.Property(t => t.Kind).HasConversion<string>().HasMaxLength(20);
            thing.Property(t => t.Label).HasMaxLength(LinkHistory.MaxCharacters);
            thing.HasIndex(t => new { t.Kind, t.Label }).IsUnique();
        });
        builder.Entity<LinkTryRow>(tried =>
        {
            tried.ToTable("link_tries");
            tried.Property(t => t.Sign).HasMaxLength(40);
            tried.Property(t => t.Remedy).HasMaxLength(40);
            tried.Property(t => t.SignAfter).HasMaxLength(40);
            tried.Property(t => t.PortName).HasMaxLength(4);
            tried.HasIndex(t => t.JobId);
            tried.HasOne<BenchThingRow>().WithMany().HasForeignKey(t => t.CableId);
            tried.HasOne<BenchThingRow>().WithMany().HasForeignKey(t => t.ComputerId);
            tried.HasOne<JobRow>().WithMany().HasForeignKey(t => t.JobId);
        });
        builder.Entity<SchoolRow>(school =>
        {
            school.ToTable("schools");
            school.Property(s => s.Question).HasMaxLength(40);
            school.Property(s => s.Choice).HasMaxLength(40);
            school.Property(s => s.Reason).HasMaxLength(400);
            school.HasIndex(s => s.JobId);
        });
        builder.Entity<ApiTokenRow>(token =>
        {
            token.ToTable("api_tokens");
            token.Property(t => t.Name).HasMaxLength(60);
            token.Property(t => t.Digest).HasMaxLength(64);
            token.HasIndex(t => t.Digest).IsUnique();
            token.HasOne<StaffRow>().WithMany().HasForeignKey(t => t.StaffId);
        });
        builder.Entity<FactRow>(fact =>
        {
            fact.ToTable("facts");
            fact.Property(f => f.Name).HasMaxLength(80);
            fact.Property(f => f.Value).HasMaxLength(200);
            fact.Property(f => f.Source).HasConversion<string>().HasMaxLength(20);
            fact.HasIndex(f => f.JobId);
            fact.HasOne<TriageAnswerRow>().WithMany().HasForeignKey(f => f.TriageAnswerId);
        });
        builder.Entity<TriageAnswerRow>(answer =>
        {
            answer.ToTable("triage_answers");
            answer.Property(a => a.CheckId).HasMaxLength(60);
            answer.Property(a => a.OutcomeId).HasMaxLength(60);
            // One answer to a check counts at a time; whoever answers second is told of the first.
            answer
                .HasIndex(a => new { a.JobId, a.CheckId })
                .IsUnique()
                .HasFilter("withdrawn_at is null")
                .HasDatabaseName("ix_triage_answers_counting");
        });
        builder.Entity<ClaimRow>(claim =>
        {
            claim.ToTable("claims");
            claim.Property(c => c.Text).HasMaxLength(500);
            claim.Property(c => c.SaidBy).HasMaxLength(60);
        });
        builder.Entity<ConsentRow>(consent =>
        {
            consent.ToTable("consents");
            consent.Property(c => c.ConsentId).HasMaxLength(40);
            consent.Property(c => c.AgreedBy).HasMaxLength(120);
        });
        builder.Entity<SnapshotRow>(snapshot =>
        {
            snapshot.ToTable("snapshots");
            Json(snapshot.Property(s => s.Before));
        });
        builder.Entity<GateAnswerRow>().ToTable("gate_answers");
        builder.Entity<PackageRow>(package =>
        {
            package.ToTable("packages");
            package.HasKey(p => p.Id);
            package.Property(p => p.Id).HasMaxLength(64);
            package.HasIndex(p => p.Path).IsUnique();
            Json(package.Property(p => p.Contents));
            package.Property(p => p.Kind).HasConversion<string>().HasMaxLength(20);
            package.Property(p => p.Wholeness).HasConversion<string>().HasMaxLength(20);
            package.Property(p => p.Title).HasMaxLength(400);
            package.Property(p => p.Source).HasMaxLength(60);
            package.Property(p => p.PublishedBy).HasMaxLength(200);
            package.Property(p => p.ReadWith).HasMaxLength(64);
            package.HasIndex(p => p.ModelCodes).HasMethod("gin");
            package.HasIndex(p => p.ImageDigests).HasMethod("gin");
            package.HasIndex(p => p.Title);
            // The few that do not say for which model they are; all others are found by their codes.
            package
                .HasIndex(p => p.FileName)
                .HasFilter("cardinality(model_codes) = 0 and kind <> 'Unknown'")
                .HasDatabaseName("ix_packages_nameless");
            package.Property(p => p.Version).HasColumnName("xmin").HasColumnType("xid").ValueGeneratedOnAddOrUpdate();
        });
        builder.Entity<MirrorRow>(mirror =>
        {
            mirror.ToTable("mirrors");
            mirror.Property(m => m.Name).HasMaxLength(60);
            mirror.Property(m => m.BaseAddress).HasMaxLength(300);
            mirror.Property(m => m.IndexForm).HasMaxLength(20);
            mirror.Property(m => m.IndexPath).HasMaxLength(200);
            mirror.Property(m => m.OldTicket).HasColumnName("ticket");
            mirror.HasIndex(m => m.Name).IsUnique();
        });
        builder.Entity<MirrorFileRow>(file =>
        {
            file.ToTable("mirror_files");
            file.Property(f => f.Path).HasMaxLength(400);
            file.HasIndex(f => new { f.MirrorId, f.Path }).IsUnique();
            file.HasIndex(f => f.Build);
        });
        builder.Entity<ArrivalRow>(arrival =>
        {
            arrival.ToTable("arrivals");
            arrival.HasKey(a => a.Id);
            arrival.Property(a => a.Id).HasMaxLength(40);
            arrival.Property(a => a.FileName).HasMaxLength(300);
            arrival.Property(a => a.PublishedBy).HasMaxLength(60);
            arrival.Property(a => a.State).HasConversion<string>().HasMaxLength(20);
            arrival.Property(a => a.Asked).HasConversion<string>().HasMaxLength(20);
            arrival.HasOne(a => a.Mirror).WithMany().HasForeignKey(a => a.MirrorId).OnDelete(DeleteBehavior.Restrict);
        });
        builder.Entity<PublishedDigestRow>(published =>
        {
            published.ToTable("published_digests");
            published.Property(p => p.FileName).HasMaxLength(300);
            published.Property(p => p.Digest).HasMaxLength(128);
            published.Property(p => p.From).HasMaxLength(300);
            published.HasIndex(p => p.FileName).IsUnique();
        });
        builder.Entity<UnpackedImageRow>(image =>
        {
            image.ToTable("unpacked_images");
            image.HasKey(i => i.Sha256);
            image.Property(i => i.Sha256).HasMaxLength(64);
        });
        builder.Entity<RunRow>(run =>
        {
            run.ToTable("runs");
            run.Property(r => r.Plan)
                .HasColumnType("jsonb")
                .HasConversion(plan => JsonSerializer.Serialize(plan, StoreJson.Options), text => PlanVersions.Read(text));
            Json(run.Property(r => r.Report));
            run.Property(r => r.PackageTitle).HasMaxLength(400);
            run.Property(r => r.Status).HasConversion<string>().HasMaxLength(20);
            // One open run at a port and one for a job: a second one would write over the first.
            run.HasIndex(r => r.PortName)
                .IsUnique()
                .HasFilter("status in ('Queued', 'Writing', 'Waiting')")
                .HasDatabaseName("ix_runs_open_port");
            run.HasIndex(r => r.JobId)
                .IsUnique()
                .HasFilter("status in ('Queued', 'Writing', 'Waiting')")
                .HasDatabaseName("ix_runs_open_job");
        });
        builder.Entity<RunEventRow>(entry =>
        {
            entry.ToTable("run_events");
            entry.HasKey(e => new { e.RunId, e.Seq });
            entry.HasOne<RunRow>().WithMany().HasForeignKey(e => e.RunId);
            Json(entry.Property(e => e.Event));
        });
        builder.Entity<RescueEventRow>(entry =>
        {
            entry.ToTable("rescue_events");
            entry.Property(e => e.By).HasMaxLength(80);
            Json(entry.Property(e => e.Event));
        });
        builder.Entity<PromiseRow>(promise =>
        {
            promise.ToTable("promises");
            promise.Property(p => p.By).HasMaxLength(80);
        });
        builder.Entity<BenchHoursRow>(hours =>
        {
            hours.ToTable("bench_hours");
            hours.Property(h => h.Id).ValueGeneratedNever();
            hours.Property(h => h.Hours).HasColumnType("jsonb");
            hours.Property(h => h.By).HasMaxLength(80);
            hours.Property(h => h.Version).IsRowVersion();
        });
        builder.Entity<PracticeRow>(practice =>
        {
            practice.ToTable("practice");
            practice.Property(p => p.Person).HasMaxLength(80);
            practice.Property(p => p.Exercise).HasMaxLength(80);
            practice.Property(p => p.Skill).HasMaxLength(80);
            practice.Property(p => p.Lost).HasColumnType("jsonb");
            practice.Property(p => p.Done).HasColumnType("jsonb");
            practice.HasIndex(p => new { p.Person, p.Skill });
        });
        builder.Entity<PracticeRulesRow>(rules =>
        {
            rules.ToTable("practice_rules");
            rules.Property(r => r.Id).ValueGeneratedNever();
            rules.Property(r => r.By).HasMaxLength(80);
            rules.Property(r => r.Version).IsRowVersion();
        });
        builder.Entity<TimetableRow>(timetable =>
        {
            timetable.ToTable("timetables");
            timetable.Property(t => t.Id).ValueGeneratedNever();
            timetable.Property(t => t.Of).HasMaxLength(64);
            timetable.Property(t => t.Made).HasColumnType("jsonb");
        });
        builder.Entity<PortRow>(port =>
        {
            port.ToTable("ports");
            port.HasKey(p => p.Name);
            port.Property(p => p.Name).HasMaxLength(20);
            port.Property(p => p.Address).HasMaxLength(300);
        });
        builder.Entity<AuditRow>(entry =>
        {
            entry.ToTable("audit");
            entry.HasIndex(a => a.JobId);
        });
    }

    private static void NameStaffTables(ModelBuilder builder)
    {
        builder.Entity<StaffRow>().ToTable("staff");
        builder.Entity<IdentityRole<int>>().ToTable("staff_roles");
        builder.Entity<IdentityUserRole<int>>().ToTable("staff_in_roles");
        builder.Entity<IdentityUserClaim<int>>().ToTable("staff_claims");
        builder.Entity<IdentityUserLogin<int>>().ToTable("staff_logins");
        builder.Entity<IdentityUserToken<int>>().ToTable("staff_tokens");
        builder.Entity<IdentityRoleClaim<int>>().ToTable("staff_role_claims");
        builder.Entity<DataProtectionKey>().ToTable("data_protection_keys");
    }

    private static void Json<T>(PropertyBuilder<T> property)
        where T : class? =>
        property
            .HasColumnType("jsonb")
            .HasConversion(
                value => JsonSerializer.Serialize(value, StoreJson.Options),
                text => JsonSerializer.Deserialize<T>(text, StoreJson.Options)!
            );
}
