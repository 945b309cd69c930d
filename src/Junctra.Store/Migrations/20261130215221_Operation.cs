using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    public partial class Operation : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "ended_sign_ins");

            migrationBuilder.AddColumn<bool>(
                name: "has_seen_the_line",
                table: "staff",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "sealed_ticket",
                table: "mirrors",
                type: "text",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "audit_seals",
                columns: table => new
                {
                    seq = table.Column<long>(type: "bigint", nullable: false),
                    audit_id = table.Column<int>(type: "integer", nullable: false),
                    line = table.Column<byte[]>(type: "bytea", nullable: false),
                    link = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_audit_seals", x => x.seq);
                });

            migrationBuilder.CreateTable(
                name: "backups",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    folder = table.Column<string>(type: "text", nullable: false),
                    tables = table.Column<int>(type: "integer", nullable: false),
                    rows = table.Column<long>(type: "bigint", nullable: false),
                    bytes = table.Column<long>(type: "bigint", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_backups", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "owners",
                columns: table => new
                {
                    what = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    holder = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    since = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    until = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_owners", x => x.what);
                });

            migrationBuilder.CreateTable(
                name: "sign_ins",
                columns: table => new
                {
                    id = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    staff_id = table.Column<int>(type: "integer", nullable: false),
                    stamp = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    address = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    is_handheld = table.Column<bool>(type: "boolean", nullable: false),
                    by_second_factor = table.Column<bool>(type: "boolean", nullable: false),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_ins", x => x.id);
                    table.ForeignKey(
                        name: "fk_sign_ins_staff_staff_id",
                        column: x => x.staff_id,
                        principalTable: "staff",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_audit_seals_audit_id",
                table: "audit_seals",
                column: "audit_id");

            migrationBuilder.CreateIndex(
                name: "ix_sign_ins_staff_id",
                table: "sign_ins",
                column: "staff_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "audit_seals");

            migrationBuilder.DropTable(
                name: "backups");

            migrationBuilder.DropTable(
                name: "owners");

            migrationBuilder.DropTable(
                name: "sign_ins");

            migrationBuilder.DropColumn(
                name: "has_seen_the_line",
                table: "staff");

            migrationBuilder.DropColumn(
                name: "sealed_ticket",
                table: "mirrors");

            migrationBuilder.CreateTable(
                name: "ended_sign_ins",
                columns: table => new
                {
                    id = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_ended_sign_ins", x => x.id);
                });
        }
    }
}
