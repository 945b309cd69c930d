using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261128123153_PlansOfManyPaths")]
    public partial class PlansOfManyPaths : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_runs_open_job",
                table: "runs");

            migrationBuilder.DropIndex(
                name: "ix_runs_open_port",
                table: "runs");

            migrationBuilder.AlterColumn<string>(
                name: "report",
                table: "runs",
                type: "jsonb",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "jsonb");

            migrationBuilder.AlterColumn<string>(
                name: "port_name",
                table: "runs",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AlterColumn<string>(
                name: "package_id",
                table: "runs",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AlterColumn<string>(
                name: "address",
                table: "runs",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "queued_at",
                table: "runs",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: new DateTimeOffset(new DateTime(1, 1, 1, 0, 0, 0, 0, DateTimeKind.Unspecified), new TimeSpan(0, 0, 0, 0, 0)));

            migrationBuilder.Sql("update runs set queued_at = begun_at");

            migrationBuilder.AddColumn<string>(
                name: "path",
                table: "jobs",
                type: "text",
                nullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "package_id",
                table: "gate_answers",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AddColumn<string>(
                name: "plan_key",
                table: "gate_answers",
                type: "text",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_runs_open_job",
                table: "runs",
                column: "job_id",
                unique: true,
                filter: "status in ('Queued', 'Writing', 'Waiting')");

            migrationBuilder.CreateIndex(
                name: "ix_runs_open_port",
                table: "runs",
                column: "port_name",
                unique: true,
                filter: "status in ('Queued', 'Writing', 'Waiting')");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_runs_open_job",
                table: "runs");

            migrationBuilder.DropIndex(
                name: "ix_runs_open_port",
                table: "runs");

            migrationBuilder.DropColumn(
                name: "queued_at",
                table: "runs");

            migrationBuilder.DropColumn(
                name: "path",
                table: "jobs");

            migrationBuilder.DropColumn(
                name: "plan_key",
                table: "gate_answers");

            migrationBuilder.AlterColumn<string>(
                name: "report",
                table: "runs",
                type: "jsonb",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "jsonb",
                oldNullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "port_name",
                table: "runs",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "package_id",
                table: "runs",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "address",
                table: "runs",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "package_id",
                table: "gate_answers",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_runs_open_job",
                table: "runs",
                column: "job_id",
                unique: true,
                filter: "status in ('Queued', 'Writing')");

            migrationBuilder.CreateIndex(
                name: "ix_runs_open_port",
                table: "runs",
                column: "port_name",
                unique: true,
                filter: "status in ('Queued', 'Writing')");
        }
    }
}
