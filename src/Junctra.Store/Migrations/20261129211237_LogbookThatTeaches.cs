using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;
using NpgsqlTypes;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261129211237_LogbookThatTeaches")]
    public partial class LogbookThatTeaches : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_facts_serial",
                table: "facts");

            migrationBuilder.AlterDatabase()
                .Annotation("Npgsql:PostgresExtension:pg_trgm", ",,");

            migrationBuilder.AddColumn<Guid>(
                name: "key",
                table: "jobs",
                type: "uuid",
                nullable: false,
                defaultValueSql: "gen_random_uuid()");

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "words_removed_at",
                table: "jobs",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "findings",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    job_id = table.Column<int>(type: "integer", nullable: false),
                    class_id = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    chance = table.Column<double>(type: "double precision", nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_findings", x => x.id);
                    table.ForeignKey(
                        name: "fk_findings_jobs_job_id",
                        column: x => x.job_id,
                        principalTable: "jobs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "keep_rules",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    days = table.Column<int>(type: "integer", nullable: false),
                    reason = table.Column<string>(type: "text", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_keep_rules", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "logbook",
                columns: table => new
                {
                    job_id = table.Column<int>(type: "integer", nullable: false),
                    ticket = table.Column<string>(type: "text", nullable: false),
                    description = table.Column<string>(type: "text", nullable: false),
                    model = table.Column<string>(type: "text", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    finding = table.Column<string>(type: "text", nullable: false),
                    outcome = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    package = table.Column<string>(type: "text", nullable: false),
                    finished = table.Column<int>(type: "integer", nullable: false),
                    ended_early = table.Column<int>(type: "integer", nullable: false),
                    taken_in_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    handed_back_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    begun_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    checked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    serial = table.Column<string>(type: "text", nullable: false),
                    first_finding = table.Column<string>(type: "text", nullable: false),
                    first_chance = table.Column<double>(type: "double precision", nullable: true),
                    read_with = table.Column<string>(type: "text", nullable: false),
                    words = table.Column<NpgsqlTsVector>(type: "tsvector", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_logbook", x => x.job_id);
                    table.ForeignKey(
                        name: "fk_logbook_jobs_job_id",
                        column: x => x.job_id,
                        principalTable: "jobs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "logbook_due",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    job_id = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_logbook_due", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "logbook_words",
                columns: table => new
                {
                    word = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_logbook_words", x => x.word);
                });

            migrationBuilder.CreateTable(
                name: "run_results",
                columns: table => new
                {
                    run_id = table.Column<int>(type: "integer", nullable: false),
                    job_id = table.Column<int>(type: "integer", nullable: false),
                    model = table.Column<string>(type: "text", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    went = table.Column<bool>(type: "boolean", nullable: true),
                    verdicts = table.Column<string>(type: "jsonb", nullable: false),
                    risk = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: true),
                    came_back = table.Column<bool>(type: "boolean", nullable: true),
                    what = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_run_results", x => x.run_id);
                    table.ForeignKey(
                        name: "fk_run_results_runs_run_id",
                        column: x => x.run_id,
                        principalTable: "runs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "step_times",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    job_id = table.Column<int>(type: "integer", nullable: false),
                    run_id = table.Column<int>(type: "integer", nullable: false),
                    step = table.Column<int>(type: "integer", nullable: false),
                    kind = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    model = table.Column<string>(type: "text", nullable: false),
                    link = table.Column<string>(type: "text", nullable: false),
                    cable = table.Column<string>(type: "text", nullable: false),
                    port = table.Column<string>(type: "text", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    usual = table.Column<double>(type: "double precision", nullable: false),
                    said = table.Column<double>(type: "double precision", nullable: false),
                    said_slow = table.Column<double>(type: "double precision", nullable: false),
                    took = table.Column<double>(type: "double precision", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_step_times", x => x.id);
                    table.ForeignKey(
                        name: "fk_step_times_runs_run_id",
                        column: x => x.run_id,
                        principalTable: "runs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_jobs_key",
                table: "jobs",
                column: "key",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_findings_job_id",
                table: "findings",
                column: "job_id");

            migrationBuilder.CreateIndex(
                name: "ix_logbook_model_finding_path_outcome",
                table: "logbook",
                columns: new[] { "model", "finding", "path", "outcome" });

            migrationBuilder.CreateIndex(
                name: "ix_logbook_finding_taken_in_at",
                table: "logbook",
                columns: new[] { "finding", "taken_in_at" });

            migrationBuilder.CreateIndex(
                name: "ix_logbook_model_taken_in_at",
                table: "logbook",
                columns: new[] { "model", "taken_in_at" });

            migrationBuilder.CreateIndex(
                name: "ix_logbook_outcome_taken_in_at",
                table: "logbook",
                columns: new[] { "outcome", "taken_in_at" });

            migrationBuilder.CreateIndex(
                name: "ix_logbook_path_taken_in_at",
                table: "logbook",
                columns: new[] { "path", "taken_in_at" });

            migrationBuilder.CreateIndex(
                name: "ix_logbook_taken_in_at",
                table: "logbook",
                column: "taken_in_at");

            migrationBuilder.CreateIndex(
                name: "ix_logbook_words",
                table: "logbook",
                column: "words")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_logbook_words_likeness",
                table: "logbook_words",
                column: "word")
                .Annotation("Npgsql:IndexMethod", "gin")
                .Annotation("Npgsql:IndexOperators", new[] { "gin_trgm_ops" });

            migrationBuilder.CreateIndex(
                name: "ix_run_results_job_id",
                table: "run_results",
                column: "job_id");

            migrationBuilder.CreateIndex(
                name: "ix_step_times_at",
                table: "step_times",
                column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_step_times_job_id",
                table: "step_times",
                column: "job_id");

            migrationBuilder.CreateIndex(
                name: "ix_step_times_run_id",
                table: "step_times",
                column: "run_id");
            migrationBuilder.Sql(LogbookTriggers.Up);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(LogbookTriggers.Down);
            migrationBuilder.DropTable(
                name: "findings");

            migrationBuilder.DropTable(
                name: "keep_rules");

            migrationBuilder.DropTable(
                name: "logbook");

            migrationBuilder.DropTable(
                name: "logbook_due");

            migrationBuilder.DropTable(
                name: "logbook_words");

            migrationBuilder.DropTable(
                name: "run_results");

            migrationBuilder.DropTable(
                name: "step_times");

            migrationBuilder.DropIndex(
                name: "ix_jobs_key",
                table: "jobs");

            migrationBuilder.DropColumn(
                name: "key",
                table: "jobs");

            migrationBuilder.DropColumn(
                name: "words_removed_at",
                table: "jobs");

            migrationBuilder.AlterDatabase()
                .OldAnnotation("Npgsql:PostgresExtension:pg_trgm", ",,");

            migrationBuilder.CreateIndex(
                name: "ix_facts_serial",
                table: "facts",
                column: "value",
                filter: "name = 'serial' and withdrawn_at is null");
        }
    }
}
