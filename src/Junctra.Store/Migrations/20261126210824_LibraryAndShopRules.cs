using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261126210824_LibraryAndShopRules")]
    public partial class LibraryAndShopRules : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "goal",
                table: "jobs",
                type: "character varying(20)",
                maxLength: 20,
                nullable: true);

            migrationBuilder.AlterColumn<string>(
                name: "path",
                table: "packages",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "added_at",
                table: "packages",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: new DateTimeOffset(new DateTime(1, 1, 1, 0, 0, 0, 0, DateTimeKind.Unspecified), new TimeSpan(0, 0, 0, 0, 0)));

            migrationBuilder.AddColumn<string>(
                name: "added_by",
                table: "packages",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string[]>(
                name: "image_digests",
                table: "packages",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<bool>(
                name: "is_stored",
                table: "packages",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "kind",
                table: "packages",
                type: "character varying(20)",
                maxLength: 20,
                nullable: false,
                defaultValue: "Unknown");

            migrationBuilder.AddColumn<string[]>(
                name: "model_codes",
                table: "packages",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<string>(
                name: "password",
                table: "packages",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "published_digest",
                table: "packages",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "read_with",
                table: "packages",
                type: "character varying(64)",
                maxLength: 64,
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string[]>(
                name: "regions",
                table: "packages",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<int>(
                name: "revision",
                table: "packages",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "source",
                table: "packages",
                type: "character varying(60)",
                maxLength: 60,
                nullable: false,
                defaultValue: "folder");

            migrationBuilder.AddColumn<string>(
                name: "title",
                table: "packages",
                type: "character varying(400)",
                maxLength: 400,
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "wholeness",
                table: "packages",
                type: "character varying(20)",
                maxLength: 20,
                nullable: false,
                defaultValue: "Unproven");

            migrationBuilder.AddColumn<uint>(
                name: "xmin",
                table: "packages",
                type: "xid",
                nullable: false,
                defaultValue: 0u);

            migrationBuilder.AddColumn<string>(
                name: "wish_kind",
                table: "jobs",
                type: "character varying(20)",
                maxLength: 20,
                nullable: false,
                defaultValue: "None");

            migrationBuilder.AddColumn<string>(
                name: "wish_version",
                table: "jobs",
                type: "character varying(120)",
                maxLength: 120,
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "api_tokens",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    staff_id = table.Column<int>(type: "integer", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    digest = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    created_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    last_used_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    revoked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_api_tokens", x => x.id);
                    table.ForeignKey(
                        name: "fk_api_tokens_staff_staff_id",
                        column: x => x.staff_id,
                        principalTable: "staff",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "mirrors",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    base_address = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                    index_form = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    index_path = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    needs_ticket = table.Column<bool>(type: "boolean", nullable: false),
                    ticket = table.Column<string>(type: "text", nullable: true),
                    publishes_checksums = table.Column<bool>(type: "boolean", nullable: false),
                    is_on = table.Column<bool>(type: "boolean", nullable: false),
                    rate = table.Column<double>(type: "double precision", nullable: true),
                    measured_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    indexed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    problem = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_mirrors", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "published_digests",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    file_name = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                    digest = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    from = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_published_digests", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "schools",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    job_id = table.Column<int>(type: "integer", nullable: true),
                    question = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    choice = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    reason = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_schools", x => x.id);
                    table.ForeignKey(
                        name: "fk_schools_jobs_job_id",
                        column: x => x.job_id,
                        principalTable: "jobs",
                        principalColumn: "id");
                });

            migrationBuilder.CreateTable(
                name: "unpacked_images",
                columns: table => new
                {
                    sha256 = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    size_bytes = table.Column<long>(type: "bigint", nullable: false),
                    unpacked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    last_used_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_unpacked_images", x => x.sha256);
                });

            migrationBuilder.CreateTable(
                name: "arrivals",
                columns: table => new
                {
                    id = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    file_name = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    mirror_id = table.Column<int>(type: "integer", nullable: true),
                    from = table.Column<string>(type: "text", nullable: true),
                    size_bytes = table.Column<long>(type: "bigint", nullable: true),
                    bytes_done = table.Column<long>(type: "bigint", nullable: false),
                    reserved_bytes = table.Column<long>(type: "bigint", nullable: false),
                    validator = table.Column<string>(type: "text", nullable: true),
                    published_digest = table.Column<string>(type: "text", nullable: true),
                    state = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    asked = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: true),
                    problem = table.Column<string>(type: "text", nullable: true),
                    is_spoilt = table.Column<bool>(type: "boolean", nullable: false),
                    rate = table.Column<double>(type: "double precision", nullable: true),
                    slow_rate = table.Column<double>(type: "double precision", nullable: true),
                    created_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    created_by = table.Column<string>(type: "text", nullable: false),
                    updated_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    worker = table.Column<string>(type: "text", nullable: true),
                    lease_until = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    package_id = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arrivals", x => x.id);
                    table.ForeignKey(
                        name: "fk_arrivals_mirrors_mirror_id",
                        column: x => x.mirror_id,
                        principalTable: "mirrors",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "mirror_files",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    mirror_id = table.Column<int>(type: "integer", nullable: false),
                    path = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false),
                    size_bytes = table.Column<long>(type: "bigint", nullable: true),
                    unpacked_bytes = table.Column<long>(type: "bigint", nullable: true),
                    sha256 = table.Column<string>(type: "text", nullable: true),
                    build = table.Column<string>(type: "text", nullable: true),
                    model_code = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_mirror_files", x => x.id);
                    table.ForeignKey(
                        name: "fk_mirror_files_mirrors_mirror_id",
                        column: x => x.mirror_id,
                        principalTable: "mirrors",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.Sql("""
                insert into schools (job_id, question, choice, reason, by, at)
                select id, 'region', lower(region_school), '', '', taken_in_at from jobs where region_school is not null
                """);

            migrationBuilder.DropColumn(
                name: "region_school",
                table: "jobs");

            migrationBuilder.CreateIndex(
                name: "ix_packages_image_digests",
                table: "packages",
                column: "image_digests")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_packages_model_codes",
                table: "packages",
                column: "model_codes")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_packages_nameless",
                table: "packages",
                column: "file_name",
                filter: "cardinality(model_codes) = 0 and kind <> 'Unknown'");

            migrationBuilder.CreateIndex(
                name: "ix_packages_title",
                table: "packages",
                column: "title");

            migrationBuilder.CreateIndex(
                name: "ix_api_tokens_digest",
                table: "api_tokens",
                column: "digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_api_tokens_staff_id",
                table: "api_tokens",
                column: "staff_id");

            migrationBuilder.CreateIndex(
                name: "ix_arrivals_mirror_id",
                table: "arrivals",
                column: "mirror_id");

            migrationBuilder.CreateIndex(
                name: "ix_mirror_files_build",
                table: "mirror_files",
                column: "build");

            migrationBuilder.CreateIndex(
                name: "ix_mirror_files_mirror_id_path",
                table: "mirror_files",
                columns: new[] { "mirror_id", "path" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_mirrors_name",
                table: "mirrors",
                column: "name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_published_digests_file_name",
                table: "published_digests",
                column: "file_name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_schools_job_id",
                table: "schools",
                column: "job_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "region_school",
                table: "jobs",
                type: "character varying(20)",
                maxLength: 20,
                nullable: true);

            migrationBuilder.Sql("""
                update jobs set region_school = initcap(latest.choice)
                from (select distinct on (job_id) job_id, choice from schools where question = 'region' order by job_id, id desc) latest
                where latest.job_id = jobs.id
                """);

            migrationBuilder.DropTable(
                name: "api_tokens");

            migrationBuilder.DropTable(
                name: "arrivals");

            migrationBuilder.DropTable(
                name: "mirror_files");

            migrationBuilder.DropTable(
                name: "published_digests");

            migrationBuilder.DropTable(
                name: "schools");

            migrationBuilder.DropTable(
                name: "unpacked_images");

            migrationBuilder.DropTable(
                name: "mirrors");

            migrationBuilder.DropIndex(
                name: "ix_packages_image_digests",
                table: "packages");

            migrationBuilder.DropIndex(
                name: "ix_packages_model_codes",
                table: "packages");

            migrationBuilder.DropIndex(
                name: "ix_packages_nameless",
                table: "packages");

            migrationBuilder.DropIndex(
                name: "ix_packages_title",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "added_at",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "added_by",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "image_digests",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "is_stored",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "kind",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "model_codes",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "password",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "published_digest",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "read_with",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "regions",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "revision",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "source",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "title",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "wholeness",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "xmin",
                table: "packages");

            migrationBuilder.DropColumn(
                name: "wish_kind",
                table: "jobs");

            migrationBuilder.DropColumn(
                name: "wish_version",
                table: "jobs");

            migrationBuilder.DropColumn(
                name: "goal",
                table: "jobs");

            migrationBuilder.AlterColumn<string>(
                name: "path",
                table: "packages",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);
        }
    }
}
