using System.Diagnostics;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using Junctra.Core.Facts;
using Junctra.Store;

namespace Junctra.Web.Library.Arrivals;

/// <summary>
/// Reads the index of a mirror, measures how fast it is, and opens its files at any byte. Mirrors are strangers: whatever they answer is
/// bounded, no answer leads to another address, and no name of theirs becomes a path here.
/// </summary>
public sealed class MirrorClient(HttpClient http, MirrorTickets tickets, MirrorPatience? patience = null)
{
    private readonly MirrorPatience waits = patience ?? MirrorPatience.Usual;

    private const int MaxIndexBytes = 8 << 20;
    private const int ProbeBytes = 1 << 20;
    private const string TicketHeader = "X-Ticket";

    /// <summary>The client as all are made: no redirects, no waiting for ever.</summary>
    public static HttpClient CreateHttp() =>
        new(
            new SocketsHttpHandler
            {
                AllowAutoRedirect = false,
                ConnectTimeout = TimeSpan.FromSeconds(10),
                AutomaticDecompression = DecompressionMethods.None,
                MaxResponseHeadersLength = 32,
            }
        )
        {
            Timeout = Timeout.InfiniteTimeSpan,
        };

    /// <summary>What a mirror offers.</summary>
    /// <exception cref="SourceException">It does not answer, or not with an index.</exception>
    public async Task<IReadOnlyList<MirrorFileRow>> IndexAsync(MirrorRow mirror, CancellationToken cancel)
    {
        using var answer = await SendAsync(new HttpRequestMessage(HttpMethod.Get, AddressOf(mirror, mirror.IndexPath)), mirror, cancel);
        if (answer.StatusCode != HttpStatusCode.OK)
            throw Refused(mirror, answer.StatusCode);
        var bytes = await ReadBoundedAsync(answer.Content, mirror, cancel);
        var text = Encoding.UTF8.GetString(bytes);
        // A file elsewhere is none of this mirror's.
        return [.. MirrorIndex.Read(mirror, text).Where(file => LiesAt(mirror, file.Path) is not null)];
    }

    /// <summary>Bytes a second of a first part of a file.</summary>
    /// <exception cref="SourceException">It does not answer.</exception>
    public async Task<double> MeasureAsync(MirrorRow mirror, string path, CancellationToken cancel)
    {
        var request = new HttpRequestMessage(HttpMethod.Get, AddressOf(mirror, path));
        request.Headers.Range = new RangeHeaderValue(0, ProbeBytes - 1);
        var began = Stopwatch.GetTimestamp();
        using var answer = await SendAsync(request, mirror, cancel);
        if (!answer.IsSuccessStatusCode)
            throw Refused(mirror, answer.StatusCode);
        await using var body = await answer.Content.ReadAsStreamAsync(cancel);
        var buffer = new byte[64 << 10];
        long got = 0;
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(waits.Measure);
        try
        {
            for (int count; got < ProbeBytes && (count = await body.ReadAsync(buffer, limit.Token)) > 0; )
                got += count;
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            // So far is as good a measure as any.
        }

        return got / Math.Max(0.001, Stopwatch.GetElapsedTime(began).TotalSeconds);
    }

    /// <summary>Opens a file at a byte; where that cannot be, or the file is no longer the same, at its first.</summary>
    /// <param name="mirror">The mirror.</param>
    /// <param name="path">Path of the file.</param>
    /// <param name="from">Bytes that are here already.</param>
    /// <param name="validator">What the mirror said of the file when those came, or null.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="SourceException">It does not answer, or refuses.</exception>
    public async Task<OpenedSource> OpenAsync(MirrorRow mirror, string path, long from, string? validator, CancellationToken cancel)
    {
        var request = new HttpRequestMessage(HttpMethod.Get, AddressOf(mirror, path));
        if (from > 0 && validator is not null)
        {
            request.Headers.Range = new RangeHeaderValue(from, null);
            request.Headers.IfRange = RangeConditionHeaderValue.Parse(validator);
        }

        var answer = await SendAsync(request, mirror, cancel);
        try
        {
            var now = answer.Headers.ETag is { IsWeak: false } tag ? tag.ToString() : answer.Content.Headers.LastModified?.ToString("r");
            switch (answer.StatusCode)
            {
                case HttpStatusCode.OK:
                    return new OpenedSource(
                        await answer.Content.ReadAsStreamAsync(cancel),
                        0,
                        answer.Content.Headers.ContentLength,
                        now,
                        answer
                    );
                case HttpStatusCode.PartialContent
                    when answer.Content.Headers.ContentRange is { } range && range.From == from && (now is null || now == validator):
                    return new OpenedSource(await answer.Content.ReadAsStreamAsync(cancel), from, range.Length, validator, answer);
                case HttpStatusCode.PartialContent:
                    throw new SourceException(
                        $"{mirror.Name} answered with another part of the file than was asked for.",
                        mayTryAgain: true
                    );
                case HttpStatusCode.RequestedRangeNotSatisfiable when answer.Content.Headers.ContentRange?.Length == from:
                    return new OpenedSource(Stream.Null, from, from, validator);
                case HttpStatusCode.RequestedRangeNotSatisfiable when request.Headers.Range is not null:
                    answer.Dispose();
                    return await OpenAsync(mirror, path, 0, null, cancel);
                case HttpStatusCode.RequestedRangeNotSatisfiable:
                    throw new SourceException(
                        $"{mirror.Name} refuses a part of the file that nobody asked for. Take it from another mirror."
                    );
                default:
                    throw Refused(mirror, answer.StatusCode);
            }
        }
        catch
        {
            answer.Dispose();
            throw;
        }
    }

    /// <summary>Name of a file here: the last part of its path, without what could leave a folder.</summary>
    public static string FileNameOf(string path)
    {
        var last = Uri.UnescapeDataString(path).Split('/', '\\')[^1].Trim();
        var name = string.Concat(last.Where(c => !char.IsControl(c) && c is not (':' or '"' or '<' or '>' or '|' or '?' or '*')))
            .TrimStart('.');
        return name.Length == 0 ? "package" : name[..Math.Min(200, name.Length)];
    }

    private async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, MirrorRow mirror, CancellationToken cancel)
    {
        if (mirror.NeedsTicket && tickets.Open(mirror) is { } ticket)
        {
            // An account is a name and a password with a colon between them, as HTTP's basic scheme has it; a ticket code has none.
            if (ticket.Contains(':'))
                request.Headers.Authorization = new AuthenticationHeaderValue(
                    "Basic",
                    Convert.ToBase64String(Encoding.UTF8.GetBytes(ticket))
                );
            else
                request.Headers.TryAddWithoutValidation(TicketHeader, ticket);
        }

        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(waits.Answer);
        try
        {
            return await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, limit.Token);
        }
        catch (Exception error)
            when (error is HttpRequestException or IOException || error is OperationCanceledException && !cancel.IsCancellationRequested)
        {
            throw new SourceException($"{mirror.Name} does not answer. Try another mirror, or the line.", mayTryAgain: true);
        }
    }

    private static Uri AddressOf(MirrorRow mirror, string path) =>
        LiesAt(mirror, path) ?? throw new SourceException($"{mirror.Name} names a file that does not lie at its address: {path}");

    private static Uri? LiesAt(MirrorRow mirror, string path)
    {
        var start = new Uri(mirror.BaseAddress.TrimEnd('/') + "/");
        return Uri.TryCreate(start, path, out var address) && start.IsBaseOf(address) && address != start ? address : null;
    }

    private static SourceException Refused(MirrorRow mirror, HttpStatusCode status) =>
        status switch
        {
            HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden => new SourceException(
                mirror.NeedsTicket
                    ? $"{mirror.Name} does not take the ticket code or the account. Enter a valid one at the mirror."
                    : $"{mirror.Name} wants an account or a ticket. Say so at the mirror, with its code."
            ),
            HttpStatusCode.NotFound or HttpStatusCode.Gone => new SourceException(
                $"{mirror.Name} has no such file any more. Read its index again."
            ),
            >= HttpStatusCode.MultipleChoices and < HttpStatusCode.BadRequest => new SourceException(
                $"{mirror.Name} points to another address, which is not followed. Enter that address at the mirror if you trust it."
            ),
            _ => new SourceException(
                $"{mirror.Name} answers with {(int)status}.",
                mayTryAgain: (int)status >= 500 || status == HttpStatusCode.TooManyRequests
            ),
        };

    private async Task<byte[]> ReadBoundedAsync(HttpContent content, MirrorRow mirror, CancellationToken cancel)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(waits.Index);
        try
        {
            await using var body = await content.ReadAsStreamAsync(limit.Token);
            var bytes = new MemoryStream();
            var buffer = new byte[64 << 10];
            for (int count; (count = await body.ReadAsync(buffer, limit.Token)) > 0; )
            {
                bytes.Write(buffer, 0, count);
                if (bytes.Length > MaxIndexBytes)
                    throw new SourceException(
                        $"The index of {mirror.Name} is longer than {ByteSize.Text(MaxIndexBytes)}. Is that the right address?"
                    );
            }

            return bytes.ToArray();
        }
        catch (Exception error)
            when (error is HttpRequestException or IOException || error is OperationCanceledException && !cancel.IsCancellationRequested)
        {
            throw new SourceException($"The index of {mirror.Name} broke off.", mayTryAgain: true);
        }
    }
}
