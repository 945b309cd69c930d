using System.Text.RegularExpressions;
using Junctra.Testing;
using Microsoft.AspNetCore.Mvc.Testing;

namespace Junctra.Web.Tests;

/// <summary>The web program with a database of its own, the demo library and the stand-in phones.</summary>
public sealed class WebWorld : IAsyncLifetime
{
    private TestDatabase database = null!;
    private WebApplicationFactory<JunctraOptions> factory = null!;

    public StandInProcess Phones { get; private set; } = null!;

    public TestDatabase Database => database;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync(migrate: false);
        Phones = await StandInProcess.StartAsync();
        var library = await DemoLibrary.FolderAsync();
        factory = new WebApplicationFactory<JunctraOptions>().WithWebHostBuilder(host => host
            .UseSetting("ConnectionStrings:Junctra", database.Connection)
            .UseSetting("Junctra:Catalogue", Repo.CatalogueFolder)
            .UseSetting("Junctra:Library", library)
            .UseSetting("Junctra:DemoPorts:A", Phones.A.ToString())
            .UseSetting("Junctra:DemoPorts:B", Phones.B.ToString())
            .UseSetting("Junctra:DemoPorts:C", Phones.C.ToString()));
        using var client = Client();
        await Until.TrueAsync(async () => Regex.Count(await client.GetStringAsync("/packages"), "<tr data-row") == DemoLibrary.Count, "the library is looked through");
    }

    public HttpClient Client() => factory.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });

    public async ValueTask DisposeAsync()
    {
        await factory.DisposeAsync();
        await Phones.DisposeAsync();
        await database.DisposeAsync();
    }

    /// <summary>Posts a form as the page at an address would, with its anti-forgery token.</summary>
    public static async Task<HttpResponseMessage> PostAsync(HttpClient client, string page, string? handler, params (string Name, string Value)[] fields)
    {
        var html = await client.GetStringAsync(page);
        var token = Regex.Match(html, "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        var form = new FormUrlEncodedContent([.. fields.Select(f => KeyValuePair.Create(f.Name, f.Value)), KeyValuePair.Create("__RequestVerificationToken", token)]);
        return await client.PostAsync(page.Split('?')[0] + (handler is null ? "" : "?handler=" + handler), form);
    }
}
