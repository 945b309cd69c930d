using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261128055505_TrustedDigests")]
    public partial class TrustedDigests : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<string>(
                name: "digest",
                table: "published_digests",
                type: "character varying(128)",
                maxLength: 128,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(64)",
                oldMaxLength: 64);

            migrationBuilder.AddColumn<bool>(
                name: "is_trusted",
                table: "published_digests",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "published_by",
                table: "packages",
                type: "character varying(200)",
                maxLength: 200,
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "published_note",
                table: "packages",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "published_by",
                table: "arrivals",
                type: "character varying(60)",
                maxLength: 60,
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "is_trusted",
                table: "published_digests");

            migrationBuilder.DropColumn(
                name: "published_by",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "published_note",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "published_by",
                table: "arrivals");

            migrationBuilder.AlterColumn<string>(
                name: "digest",
                table: "published_digests",
                type: "character varying(64)",
                maxLength: 64,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(128)",
                oldMaxLength: 128);
        }
    }
}
