using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261125001559_SolidLine")]
    public partial class SolidLine : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "stop_asked_by",
                table: "runs",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "inspector_version",
                table: "packages",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "region_school",
                table: "jobs",
                type: "character varying(20)",
                maxLength: 20,
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "stop_asked_by",
                table: "runs");

            migrationBuilder.DropColumn(
                name: "inspector_version",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "region_school",
                table: "jobs");
        }
    }
}
