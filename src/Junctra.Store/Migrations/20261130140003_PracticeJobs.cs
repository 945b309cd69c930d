using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    public partial class PracticeJobs : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "is_open",
                table: "practice",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.CreateTable(
                name: "practice_rules",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    lead_sees = table.Column<bool>(type: "boolean", nullable: false),
                    licences = table.Column<List<string>>(type: "text[]", nullable: false),
                    by = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_practice_rules", x => x.id);
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "practice_rules");

            migrationBuilder.DropColumn(
                name: "is_open",
                table: "practice");
        }
    }
}
