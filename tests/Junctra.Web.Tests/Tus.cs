using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;

namespace Junctra.Web.Tests;

/// <summary>The sender's side of the upload protocol.</summary>
internal static class Tus
{
    /// <summary>Sends one request of the protocol, with the token of the page.</summary>
    public static async Task<HttpResponseMessage> SendAsync(
        HttpClient client,
        HttpMethod method,
        string path,
        byte[]? body,
        params (string, string)[] headers
    )
    {
        var token = Regex.Match(await client.GetStringAsync("/sources"), "data-token=\"([^\"]+)\"").Groups[1].Value;
        var request = new HttpRequestMessage(method, path);
        request.Headers.Add("Tus-Resumable", "1.0.0");
        request.Headers.Add("RequestVerificationToken", token);
        foreach (var (name, value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        if (body is not null)
        {
            request.Content = new ByteArrayContent(body);
            request.Content.Headers.ContentType = new MediaTypeHeaderValue("application/offset+octet-stream");
        }

        return await client.SendAsync(request);
    }

    /// <summary>Metadata with the name of a file.</summary>
    public static string Name(string name) => $"filename {Convert.ToBase64String(Encoding.UTF8.GetBytes(name))}";
}
