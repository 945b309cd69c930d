using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Junctra.Store.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(JunctraDb))]
    [Migration("20261129185022_EarlierVisits")]
    public partial class EarlierVisits : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateIndex(
                name: "ix_facts_serial",
                table: "facts",
                column: "value",
                filter: "name = 'serial' and withdrawn_at is null");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_facts_serial",
                table: "facts");
        }
    }
}
