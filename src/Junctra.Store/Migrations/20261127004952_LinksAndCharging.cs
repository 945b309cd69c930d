using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261127004952_LinksAndCharging")]
    public partial class LinksAndCharging : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "charge_began_at",
                table: "jobs",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "charge_milliamperes",
                table: "jobs",
                type: "integer",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "bench_things",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    kind = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    label = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    retired_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bench_things", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "link_tries",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    job_id = table.Column<int>(type: "integer", nullable: true),
                    sign = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    remedy = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    sign_after = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    worked = table.Column<bool>(type: "boolean", nullable: false),
                    cable_id = table.Column<int>(type: "integer", nullable: true),
                    computer_id = table.Column<int>(type: "integer", nullable: true),
                    port_name = table.Column<string>(type: "character varying(4)", maxLength: 4, nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_link_tries", x => x.id);
                    table.ForeignKey(
                        name: "fk_link_tries_bench_things_cable_id",
                        column: x => x.cable_id,
                        principalTable: "bench_things",
                        principalColumn: "id");
                    table.ForeignKey(
                        name: "fk_link_tries_bench_things_computer_id",
                        column: x => x.computer_id,
                        principalTable: "bench_things",
                        principalColumn: "id");
                    table.ForeignKey(
                        name: "fk_link_tries_jobs_job_id",
                        column: x => x.job_id,
                        principalTable: "jobs",
                        principalColumn: "id");
                });

            migrationBuilder.CreateIndex(
                name: "ix_bench_things_kind_label",
                table: "bench_things",
                columns: new[] { "kind", "label" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_link_tries_cable_id",
                table: "link_tries",
                column: "cable_id");

            migrationBuilder.CreateIndex(
                name: "ix_link_tries_computer_id",
                table: "link_tries",
                column: "computer_id");

            migrationBuilder.CreateIndex(
                name: "ix_link_tries_job_id",
                table: "link_tries",
                column: "job_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "link_tries");

            migrationBuilder.DropTable(
                name: "bench_things");

            migrationBuilder.DropColumn(
                name: "charge_began_at",
                table: "jobs");

            migrationBuilder.DropColumn(
                name: "charge_milliamperes",
                table: "jobs");
        }
    }
}
