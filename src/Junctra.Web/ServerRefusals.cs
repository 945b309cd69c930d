using System.Diagnostics;
using System.Text;
using Microsoft.AspNetCore.Connections.Features;
using Microsoft.AspNetCore.Http.Features;

namespace Junctra.Web;

/// <summary>
/// Says why to whoever sends what the web server itself refuses, before any part of this program is asked: a NUL in a header or a path,
/// headers that are too long or too many, a line that is no request. The server alone would answer with a bare number, and without the
/// headers of every other answer.
/// </summary>
internal sealed class ServerRefusals : IObserver<KeyValuePair<string, object?>>
{
    // The server's own event; it is raised when the refusal is certain and nothing was sent yet.
    private const string BadRequest = "Microsoft.AspNetCore.Server.Kestrel.BadRequest";

    public void OnNext(KeyValuePair<string, object?> raised)
    {
        if (
            raised.Value is not IFeatureCollection features
            || features.Get<IHttpResponseFeature>() is not { HasStarted: false } response
            || features.Get<IHttpResponseBodyFeature>() is not { } body
            || features.Get<IConnectionTransportFeature>() is not { } connection
        )
            return;
        var text = Encoding.UTF8.GetBytes(Sentence(response.StatusCode) + "\n");
        SecurityHeaders.Set(response.Headers);
        response.Headers.ContentType = "text/plain; charset=utf-8";
        response.Headers.ContentLength = text.Length;
        // The event knows no waiting. These few bytes fit into what a connection buffers, so there is nothing to wait for; the server sends
        // them, then closes. The server's own writer for bodies does not exist yet for a request that never was one, so the text goes to
        // the connection, behind the headers that announce it.
        _ = body.StartAsync();
        _ = connection.Transport.Output.WriteAsync(text).AsTask();
    }

    public void OnCompleted() { }

    public void OnError(Exception error) { }

    /// <summary>Listens for as long as the program runs.</summary>
    public static IDisposable Listen(DiagnosticListener listener) => listener.Subscribe(new ServerRefusals(), name => name == BadRequest);

    private static string Sentence(int status) =>
        status switch
        {
            StatusCodes.Status431RequestHeaderFieldsTooLarge =>
                "The headers of this request are longer than Junctra takes. Delete the cookies of this address, then try again.",
            StatusCodes.Status414UriTooLong => "This address is longer than any of Junctra. Go back and follow a link instead.",
            StatusCodes.Status413PayloadTooLarge => "This is larger than Junctra takes here.",
            StatusCodes.Status408RequestTimeout => "The rest of this request did not come. Try again.",
            StatusCodes.Status505HttpVersionNotsupported => "Junctra speaks HTTP/1.1.",
            _ => "Junctra cannot read this request: a character or a line of it is not allowed.",
        };
}
