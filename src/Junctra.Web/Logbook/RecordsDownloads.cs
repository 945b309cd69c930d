using Junctra.Store;
using Junctra.Store.Exchange;
using Junctra.Web.Staff;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Logbook;

/// <summary>The whole record of the shop, written out while it is fetched.</summary>
internal static class RecordsDownloads
{
    public static void MapRecords(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/records/logbook.jsonl", LinesAsync).RequireAuthorization(Policies.Lead);
        routes.MapGet("/records/logbook.zip", TablesAsync).RequireAuthorization(Policies.Lead);
    }

    private static async Task LinesAsync(HttpContext http, JunctraDb db, IOptions<JunctraOptions> options, TimeProvider time)
    {
        await BeginAsync(http, db, time, "application/jsonl", "logbook.jsonl");
        await new LogbookExport(db).WriteLinesAsync(
            http.Response.Body,
            LogbookExport.Head(time.GetUtcNow(), options.Value.Shop),
            http.RequestAborted
        );
    }

    private static async Task TablesAsync(HttpContext http, JunctraDb db, IOptions<JunctraOptions> options, TimeProvider time)
    {
        // An archive's table of contents comes last, and is told where each entry began: it is written to a file first.
        var path = Path.GetTempFileName();
        try
        {
            await using var file = new FileStream(path, FileMode.Create, FileAccess.ReadWrite, FileShare.None);
            await new LogbookExport(db).WriteTablesAsync(
                file,
                LogbookExport.Head(time.GetUtcNow(), options.Value.Shop),
                http.RequestAborted
            );
            file.Position = 0;
            await BeginAsync(http, db, time, "application/zip", "logbook.zip");
            await file.CopyToAsync(http.Response.Body, http.RequestAborted);
        }
        finally
        {
            File.Delete(path);
        }
    }

    // What leaves the shop in one piece is written down.
    private static async Task BeginAsync(HttpContext http, JunctraDb db, TimeProvider time, string type, string name)
    {
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = http.User.Identity!.Name!,
                Act = $"Wrote the whole logbook out as {name}.",
            }
        );
        await db.SaveChangesAsync(http.RequestAborted);
        http.Response.ContentType = type;
        http.Response.Headers.ContentDisposition = $"attachment; filename=\"{name}\"";
        http.Response.Headers.CacheControl = "no-store";
    }
}
