using System.Security.Cryptography;
using Microsoft.Net.Http.Headers;

namespace Junctra.StandIns;

/// <summary>How a simulated mirror behaves.</summary>
/// <param name="Name">Its name.</param>
/// <param name="BytesPerSecond">How fast it gives bytes.</param>
/// <param name="PublishesDigests">Whether its index has digests.</param>
/// <param name="Ticket">The code it asks for, or null.</param>
/// <param name="Damaged">A file in which it has one byte wrong, or null.</param>
/// <param name="CutOff">A file of which it has only the first part, or null.</param>
internal sealed record DemoMirror(
    string Name,
    long BytesPerSecond,
    bool PublishesDigests = false,
    string? Ticket = null,
    string? Damaged = null,
    string? CutOff = null
);

/// <summary>
/// The three mirrors of the demo world: real HTTP with ranges, entity tags and an index in JSON, each slow, honest and whole in its own
/// way.
/// </summary>
internal static class Mirrors
{
    /// <summary>The ticket code of Drift.</summary>
    public const string DriftTicket = "TIDE-1640";

    /// <summary>The mirrors, with rates multiplied.</summary>
    public static IReadOnlyList<DemoMirror> All(double pace) =>
        [
            new("quay", (long)(6_000_000 * pace)),
            new("breakwater", (long)(900_000 * pace), PublishesDigests: true),
            new("drift", (long)(9_000_000 * pace), Ticket: DriftTicket, Damaged: "tern4-26w26.tar", CutOff: "fell-full-2.6.121.zip"),
        ];

    /// <summary>Answers below <c>/quay</c>, <c>/breakwater</c> and <c>/drift</c> from one folder of files.</summary>
    public static void Map(IEndpointRouteBuilder app, string folder, double pace)
    {
        var files = DemoBundles.OfMirrors.Select(file => new FileInfo(Path.Combine(folder, file.FileName))).ToList();
        var digests = files.ToDictionary(
            file => file.Name,
            file => Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(file.FullName)))
        );
        foreach (var mirror in All(pace))
        {
            app.MapGet($"/{mirror.Name}/index.json", () => Results.Json(
                    new
                    {
                        files = files.Select(
                            (file, i) =>
                                new
                                {
                                    path = $"stock/{file.Name}",
                                    sizeBytes = file.Length,
                                    unpackedBytes = file.Length * 4,
                                    build = DemoBundles.OfMirrors[i].Build,
                                    model = DemoBundles.OfMirrors[i].Model,
                                    sha256 = mirror.PublishesDigests ? digests[file.Name] : null,
                                }
                        ),
                    }
                ));
            app.MapMethods($"/{mirror.Name}/stock/{{name}}", ["GET", "HEAD"], (string name, HttpContext http) =>
            {
                if (mirror.Ticket is not null && http.Request.Headers["X-Ticket"] != mirror.Ticket)
                    return Results.StatusCode(StatusCodes.Status403Forbidden);
                if (files.FirstOrDefault(file => file.Name == name) is not { } file)
                    return Results.NotFound();
                var length = name == mirror.CutOff ? file.Length * 2 / 3 : file.Length;
                var body = new MirrorStream(
                    file.OpenRead(),
                    length,
                    name == mirror.Damaged ? file.Length / 2 : null,
                    mirror.BytesPerSecond
                );
                return Results.Stream(
                    body,
                    "application/octet-stream",
                    enableRangeProcessing: true,
                    entityTag: new EntityTagHeaderValue($"\"{digests[name][..16]}\""),
                    lastModified: new DateTimeOffset(2026, 9, 1, 8, 0, 0, TimeSpan.Zero)
                );
            });
        }
    }

    /// <summary>A file as a mirror gives it: no faster than it can, cut off or with one byte wrong.</summary>
    private sealed class MirrorStream(Stream file, long length, long? wrongAt, long bytesPerSecond) : Stream
    {
        private readonly long beganAt = Environment.TickCount64;
        private long given;

        public override bool CanRead => true;
        public override bool CanSeek => true;
        public override bool CanWrite => false;
        public override long Length => length;

        public override long Position
        {
            get => file.Position;
            set => file.Position = value;
        }

        public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
        {
            var at = file.Position;
            var most = (int)Math.Min(Math.Min(buffer.Length, Math.Max(4096, bytesPerSecond / 20)), length - at);
            if (most <= 0)
                return 0;
            var count = await file.ReadAsync(buffer[..most], cancellationToken);
            if (wrongAt is { } wrong && wrong >= at && wrong < at + count)
                buffer.Span[(int)(wrong - at)] ^= 0x10;
            given += count;
            var due = given * 1000 / bytesPerSecond - (Environment.TickCount64 - beganAt);
            if (due > 0)
                await Task.Delay((int)Math.Min(due, 2000), cancellationToken);
            return count;
        }

        public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
            ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) =>
            Position =
                offset
                + (
                    origin switch
                    {
                        SeekOrigin.Begin => 0,
                        SeekOrigin.Current => Position,
                        _ => length,
                    }
                );

        public override void Flush() { }

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        protected override void Dispose(bool disposing)
        {
            if (disposing)
                file.Dispose();
            base.Dispose(disposing);
        }
    }
}
