using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261130044700_BenchDay")]
    public partial class BenchDay : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "bench_hours",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    hours = table.Column<string>(type: "jsonb", nullable: false),
                    by = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bench_hours", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "timetables",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    made_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    of = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    made = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_timetables", x => x.id);
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "bench_hours");

            migrationBuilder.DropTable(
                name: "timetables");
        }
    }
}
