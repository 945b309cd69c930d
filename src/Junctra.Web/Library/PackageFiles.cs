using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Junctra.Core.Packages;
using Junctra.Formats;
using Junctra.Formats.Inspection;
using Junctra.Formats.Text;
using Microsoft.AspNetCore.Http.Features;

namespace Junctra.Web.Library;

/// <summary>What a package gives to other programs: its manifest, its list of digests, and itself packed anew.</summary>
internal static class PackageFiles
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static void MapPackageFiles(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/packages/{id}/manifest.json", async (string id, PackageIndex shelf, CancellationToken cancel) =>
            await shelf.FindAsync(id, cancel) is { } package
                ? Results.File(
                    JsonSerializer.SerializeToUtf8Bytes(PackageManifest.Of(package), Json),
                    "application/json",
                    NameOf(package, "json")
                )
                : Results.NotFound()
        );
        routes.MapGet("/packages/{id}/sha256sums", async (string id, PackageIndex shelf, CancellationToken cancel) =>
            await shelf.FindAsync(id, cancel) is { } package
                ? Results.File(
                    Encoding.UTF8.GetBytes(
                        ChecksumText.Write([new ChecksumLine(package.Id, package.FileName), .. PackageManifest.ChecksumsOf(package)])
                    ),
                    "text/plain; charset=utf-8",
                    "SHA256SUMS"
                )
                : Results.NotFound()
        );
        routes.MapGet("/packages/{id}/repacked.{form:regex(^(tar|zip)$)}", RepackAsync);
    }

    private static async Task<IResult> RepackAsync(
        string id,
        string form,
        HttpContext http,
        PackageIndex shelf,
        UnpackedImageCache unpacked,
        CancellationToken cancel
    )
    {
        if (await shelf.FindAsync(id, cancel) is not { } package || await shelf.PathAsync(id, cancel) is not { } path || !File.Exists(path))
            return Results.NotFound();
        if (package.IsDamaged || package.Images.Count == 0)
            return Results.Text("A package that is not whole is not packed anew.", statusCode: StatusCodes.Status409Conflict);
        IReadOnlyDictionary<string, string> files;
        try
        {
            files = await unpacked.EnsureAsync(package, path, package.Images.Where(image => image.Body.Offset is null), cancel);
        }
        catch (InvalidDataException error)
        {
            return Results.Text(error.Message, statusCode: StatusCodes.Status409Conflict);
        }
        catch (IOException error)
        {
            return Results.Text(error.Message, statusCode: StatusCodes.Status507InsufficientStorage);
        }

        // The library's ZIP writer ends its members by blocking writes, a few bytes each.
        if (form == "zip" && http.Features.Get<IHttpBodyControlFeature>() is { } body)
            body.AllowSynchronousIO = true;

        Stream Open(PackageImage image) =>
            image.Body.Offset is { } offset
                ? new SlicedStream(OpenFile(path), offset, image.Body.Bytes, leaveOpen: false)
                : OpenFile(files[image.Body.Sha256]);
        return Results.Stream(
            output => PackageRepacker.WriteAsync(package, Open, form == "zip" ? FileForm.Zip : FileForm.Tar, output, cancel),
            "application/octet-stream",
            NameOf(package, form)
        );
    }

    private static FileStream OpenFile(string path) =>
        new(
            path,
            FileMode.Open,
            FileAccess.Read,
            FileShare.Read | FileShare.Delete,
            1 << 16,
            FileOptions.Asynchronous | FileOptions.SequentialScan
        );

    private static string NameOf(Package package, string ending) =>
        string.Concat(package.Title.Select(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-' or '_' ? c : '-')) + "." + ending;
}
