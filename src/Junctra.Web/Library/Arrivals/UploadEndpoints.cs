using System.Collections.Concurrent;
using System.Globalization;
using System.Text;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

/// <summary>
/// Takes files from a person's computer in pieces that may break off anywhere and go on later, by the open protocol tus 1.0.0 (core,
/// creation and termination). What counts as received is what lies on the disk.
/// </summary>
internal static class UploadEndpoints
{
    private const string Version = "1.0.0";
    private const string Pieces = "application/offset+octet-stream";
    private const int BufferBytes = 1 << 17;

    // Two senders of one upload would write over each other.
    private static readonly ConcurrentDictionary<string, byte> Busy = new(StringComparer.Ordinal);

    public static void MapUploads(this IEndpointRouteBuilder routes)
    {
        var uploads = routes
            .MapGroup("/uploads")
            .RequireAuthorization(Policies.Bench)
            .AddEndpointFilter(
                async (context, next) =>
                {
                    var http = context.HttpContext;
                    http.Response.Headers["Tus-Resumable"] = Version;
                    if (!HttpMethods.IsOptions(http.Request.Method) && http.Request.Headers["Tus-Resumable"] != Version)
                    {
                        http.Response.Headers["Tus-Version"] = Version;
                        return Results.StatusCode(StatusCodes.Status412PreconditionFailed);
                    }

                    if (HttpMethods.IsOptions(http.Request.Method) || HttpMethods.IsHead(http.Request.Method))
                        return await next(context);
                    return await http.RequestServices.GetRequiredService<IAntiforgery>().IsRequestValidAsync(http)
                        ? await next(context)
                        : Results.BadRequest("The page is too old. Load it again.");
                }
            );
        uploads.MapMethods("", ["OPTIONS"], (HttpContext http) =>
        {
            http.Response.Headers["Tus-Version"] = Version;
            http.Response.Headers["Tus-Extension"] = "creation,termination,expiration";
            http.Response.Headers["Tus-Max-Size"] = ArrivalService.MaxUploadBytes.ToString(CultureInfo.InvariantCulture);
            return Results.NoContent();
        });
        uploads.MapPost("", CreateAsync);
        uploads.MapMethods("{id}", ["HEAD"], TellAsync);
        uploads.MapPatch("{id}", ReceiveAsync).DisableAntiforgery();
        uploads.MapDelete("{id}", async (string id, ArrivalService desk, CancellationToken cancel) =>
        {
            return IsId(id) && await desk.EndUploadAsync(id, cancel) ? Results.NoContent() : Results.NotFound();
        });
    }

    private static async Task<IResult> CreateAsync(HttpContext http, ArrivalService desk, CancellationToken cancel)
    {
        if (
            !long.TryParse(http.Request.Headers["Upload-Length"], NumberStyles.None, CultureInfo.InvariantCulture, out var bytes)
            || bytes == 0
        )
            return Results.BadRequest("An upload says its size, above zero, before it begins.");
        if (bytes > ArrivalService.MaxUploadBytes)
            return Results.Text(
                $"The file has {ByteSize.Text(bytes)}; {ByteSize.Text(ArrivalService.MaxUploadBytes)} is the most.",
                statusCode: StatusCodes.Status413PayloadTooLarge
            );
        if (FileNameIn(http.Request.Headers["Upload-Metadata"].ToString()) is not { } name)
            return Results.BadRequest("An upload says the name of its file.");
        var (row, problem, isTooMany) = await desk.ReceiveAsync(name, bytes, http.User.Identity!.Name!, cancel);
        if (row is null)
            return Results.Text(
                problem,
                statusCode: isTooMany ? StatusCodes.Status429TooManyRequests : StatusCodes.Status507InsufficientStorage
            );
        TellExpiry(http, row);
        return Results.Created($"/uploads/{row.Id}", null);
    }

    private static async Task<IResult> TellAsync(string id, HttpContext http, JunctraDb db, ContentStore store, CancellationToken cancel)
    {
        http.Response.Headers.CacheControl = "no-store";
        if (await FindAsync(db, id, cancel) is not { } row)
            return Results.NotFound();
        // One that was paused here goes on where it is; one that is being taken in has all its bytes.
        var have = row.State is ArrivalState.Fetching or ArrivalState.Paused ? store.IncomingBytes(id) : row.SizeBytes!.Value;
        http.Response.Headers["Upload-Metadata"] = $"filename {Convert.ToBase64String(Encoding.UTF8.GetBytes(row.FileName))}";
        TellExpiry(http, row);
        http.Response.Headers["Upload-Offset"] = have.ToString(CultureInfo.InvariantCulture);
        http.Response.Headers["Upload-Length"] = row.SizeBytes!.Value.ToString(CultureInfo.InvariantCulture);
        return Results.Ok();
    }

    private static async Task<IResult> ReceiveAsync(
        string id,
        HttpContext http,
        JunctraDb db,
        ContentStore store,
        ArrivalService desk,
        TimeProvider time
    )
    {
        if (http.Request.ContentType != Pieces)
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        if (await FindAsync(db, id, http.RequestAborted) is not { } row)
            return Results.NotFound();
        if (row.State == ArrivalState.Paused)
            return Results.Text("It was paused. Go on with it on the page first.", statusCode: StatusCodes.Status409Conflict);
        if (row.State != ArrivalState.Fetching)
            return Results.Conflict();
        if (!Busy.TryAdd(id, 0))
            return Results.StatusCode(StatusCodes.Status423Locked);
        try
        {
            if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
                limit.MaxRequestBodySize = null;
            await using var file = new FileStream(
                store.IncomingPath(id),
                FileMode.OpenOrCreate,
                FileAccess.ReadWrite,
                FileShare.None,
                1,
                FileOptions.Asynchronous
            );
            if (
                !long.TryParse(http.Request.Headers["Upload-Offset"], NumberStyles.None, CultureInfo.InvariantCulture, out var offset)
                || offset != file.Length
            )
                return Results.Conflict();
            file.Position = offset;
            if (!await CopyAsync(http, file, row.SizeBytes!.Value))
                return Results.Text("More came than the upload said.", statusCode: StatusCodes.Status413PayloadTooLarge);
            TellExpiry(http, row);
            (row.BytesDone, row.UpdatedAt) = (file.Length, time.GetUtcNow());
            var isWhole = file.Length == row.SizeBytes;
            await file.DisposeAsync();
            await db.SaveChangesAsync();
            if (isWhole)
                await desk.ReceivedAsync(row, CancellationToken.None);
            http.Response.Headers["Upload-Offset"] = row.BytesDone.ToString(CultureInfo.InvariantCulture);
            return Results.NoContent();
        }
        catch (IOException error) when (IsDiskFull(error))
        {
            // What came is kept; it goes on once there is room.
            return Results.Text("The disk is full. Make room, then go on.", statusCode: StatusCodes.Status507InsufficientStorage);
        }
        finally
        {
            Busy.TryRemove(id, out _);
        }
    }

    /// <summary>Writes what comes; whatever came before a break is kept.</summary>
    /// <returns>False where more came than was promised.</returns>
    private static async Task<bool> CopyAsync(HttpContext http, FileStream file, long most)
    {
        var buffer = new byte[BufferBytes];
        try
        {
            for (int count; (count = await http.Request.Body.ReadAsync(buffer, http.RequestAborted)) > 0; )
            {
                if (file.Position + count > most)
                    return false;
                await file.WriteAsync(buffer.AsMemory(0, count));
            }
        }
        catch (Exception error) when (error is OperationCanceledException || error is IOException && !IsDiskFull(error))
        {
            // The sender went away; it asks how far it came, and sends the rest.
        }

        return true;
    }

    private static async Task<ArrivalRow?> FindAsync(JunctraDb db, string id, CancellationToken cancel) =>
        IsId(id)
            ? await db.Arrivals.SingleOrDefaultAsync(
                a => a.Id == id && a.Source == "upload" && a.State != ArrivalState.Cancelled && a.State != ArrivalState.Failed,
                cancel
            )
            : null;

    private static bool IsId(string id) => id.Length == 32 && id.All(char.IsAsciiHexDigit);

    /// <summary>ENOSPC and EDQUOT, as the framework passes them on.</summary>
    private static bool IsDiskFull(Exception error) =>
        (error.HResult & 0xFFFF) is 28 or 122 || error.Message.Contains("No space left", StringComparison.Ordinal);

    private static void TellExpiry(HttpContext http, ArrivalRow row) =>
        http.Response.Headers["Upload-Expires"] = (row.UpdatedAt + ArrivalService.UploadPatience).ToString(
            "r",
            CultureInfo.InvariantCulture
        );

    /// <summary>The name among <c>key base64</c> pairs.</summary>
    private static string? FileNameIn(string metadata)
    {
        foreach (var pair in metadata.Split(',', StringSplitOptions.TrimEntries))
        {
            if (pair.Split(' ') is not ["filename", var value])
                continue;
            try
            {
                return Encoding.UTF8.GetString(Convert.FromBase64String(value));
            }
            catch (FormatException)
            {
                return null;
            }
        }

        return null;
    }
}
