using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261130112258_Practice")]
    public partial class Practice : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "practice",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    person = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    exercise = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    skill = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    points = table.Column<int>(type: "integer", nullable: false),
                    passed = table.Column<bool>(type: "boolean", nullable: false),
                    took_milliseconds = table.Column<long>(type: "bigint", nullable: false),
                    lost = table.Column<string>(type: "jsonb", nullable: false),
                    done = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_practice", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_practice_person_skill",
                table: "practice",
                columns: new[] { "person", "skill" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "practice");
        }
    }
}
