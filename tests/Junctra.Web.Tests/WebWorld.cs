using System.Text.RegularExpressions;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Tests;

/// <summary>The web program with a database of its own, the demo library and the stand-in phones.</summary>
public sealed class WebWorld : IAsyncLifetime
{
    private const double MirrorPace = 8;
    private TestDatabase database = null!;
    private WebApplicationFactory<JunctraOptions> factory = null!;
    private HttpClient lead = null!;

    public StandInProcess Phones { get; private set; } = null!;

    /// <summary>Folder of the content store.</summary>
    public string Store { get; } = Directory.CreateTempSubdirectory("junctra-store-").FullName;

    /// <summary>Folder from which packages may be brought by their path.</summary>
    public string Open { get; } = Directory.CreateTempSubdirectory("junctra-open-").FullName;

    /// <summary>How many passwords were held against a hash: nearly all the time that an answer at the door takes.</summary>
    public int PasswordsHeld => passwordsHeld;

    private int passwordsHeld;

    // The library is one folder for all worlds, and looking through it is most of what a start costs: the first world does it, the others
    // begin with what it found, as a program does that is started again.
    private static readonly TaskCompletionSource<IReadOnlyList<PackageRow>> LookedThrough = new();
    private static int worlds;

    private sealed class CountingHasher(WebWorld world, IOptions<PasswordHasherOptions> options) : PasswordHasher<StaffRow>(options)
    {
        public override PasswordVerificationResult VerifyHashedPassword(StaffRow user, string hashedPassword, string providedPassword)
        {
            Interlocked.Increment(ref world.passwordsHeld);
            return base.VerifyHashedPassword(user, hashedPassword, providedPassword);
        }
    }

    /// <summary>A service of the web program.</summary>
    public T Service<T>()
        where T : notnull => factory.Services.GetRequiredService<T>();

    public TestDatabase Database => database;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync();
        Phones = await StandInProcess.BorrowAsync(MirrorPace);
        var library = await DemoLibrary.FolderAsync();
        var isFirst = Interlocked.Increment(ref worlds) == 1;
        if (!isFirst)
        {
            await using var db = database.CreateDbContext();
            db.Packages.AddRange(await LookedThrough.Task);
            await db.SaveChangesAsync();
        }

        try
        {
            await StartAsync(library);
        }
        catch (Exception error)
        {
            LookedThrough.TrySetException(error);
            throw;
        }

        if (isFirst)
        {
            await using var db = database.CreateDbContext();
            LookedThrough.SetResult(await db.Packages.AsNoTracking().ToListAsync());
        }
    }

    private async Task StartAsync(string library)
    {
        factory = new WebApplicationFactory<JunctraOptions>().WithWebHostBuilder(host =>
            host.UseSetting("ConnectionStrings:Junctra", database.Connection)
                .UseSetting("Junctra:Catalogue", Repo.CatalogueFolder)
                // Tests of the timetable make it when they want it.
                .UseSetting("Junctra:KeepsTimetable", "false")
                .UseSetting("Junctra:Library", library)
                .UseSetting("Junctra:Store", Store)
                .UseSetting("Junctra:Keys", SealingKey.NewFolder())
                .UseSetting("Junctra:AllowedRoots:0", Open)
                .UseSetting("Junctra:DemoMirrors:Quay", $"{Phones.Hands}quay")
                .UseSetting("Junctra:DemoMirrors:Breakwater", $"{Phones.Hands}breakwater")
                .UseSetting("Junctra:DemoMirrors:Drift", $"{Phones.Hands}drift")
                .UseSetting("Junctra:DemoPorts:A", Phones.A.ToString())
                .UseSetting("Junctra:DemoPorts:B", Phones.B.ToString())
                .UseSetting("Junctra:DemoPorts:C", Phones.C.ToString())
                .UseSetting("Junctra:DemoPorts:D", Phones.D.ToString())
                .UseSetting("Junctra:DemoPorts:H", Phones.H.ToString())
                .UseSetting("Junctra:PhoneList", Phones.List.ToString())
                .ConfigureTestServices(services =>
                    services
                        // Slow hashes are against somebody who has stolen them; the suite signs in some hundred times.
                        .Configure<PasswordHasherOptions>(hashing => hashing.IterationCount = 1000)
                        .AddScoped<IPasswordHasher<StaffRow>>(provider => new CountingHasher(
                            this,
                            provider.GetRequiredService<IOptions<PasswordHasherOptions>>()
                        ))
                )
        );
        lead = await ClientAsync();
        await Until.TrueAsync(
            async () =>
            {
                await using var db = database.CreateDbContext();
                return await db.Packages.CountAsync(package => package.InspectorVersion == PackageInspector.Version) == DemoLibrary.Count;
            },
            "the library is looked through"
        );
    }

    /// <summary>The client of somebody who may do everything.</summary>
    public HttpClient Client() => lead;

    /// <summary>A client that is not signed in.</summary>
    public HttpClient Stranger() => Patient(factory.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));

    /// <summary>A client that keeps no cookies: it sends what it is told.</summary>
    public HttpClient Bare() =>
        Patient(factory.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false, HandleCookies = false }));

    private static HttpClient Patient(HttpClient client)
    {
        client.Timeout = TimeSpan.FromMinutes(5);
        return client;
    }

    /// <summary>A client that is signed in as one of the demo's people.</summary>
    public async Task<HttpClient> ClientAsync(string who = "lead")
    {
        var client = Stranger();
        await SignInAsync(client, who);
        return client;
    }

    /// <summary>A page as a browser takes it: what stands for letters as letters, and of all white space one space.</summary>
    public static string Words(string html) =>
        System.Text.RegularExpressions.Regex.Replace(System.Net.WebUtility.HtmlDecode(html), "\\s+", " ");

    /// <summary>Signs a client in as one of the demo's people.</summary>
    public static async Task SignInAsync(HttpClient client, string who = "lead", string? password = null)
    {
        var answer = await PostAsync(client, "/sign-in", null, ("Name", who), ("Password", password ?? $"slipway-{who}"));
        Assert.True(answer.StatusCode == System.Net.HttpStatusCode.Redirect, $"{who} was not signed in: {answer.StatusCode}");
    }

    /// <summary>The web program of a shop that begins: no demo, a database of its own.</summary>
    /// <param name="connection">Its database.</param>
    /// <param name="settings">What else is set.</param>
    public WebApplicationFactory<JunctraOptions> Shop(string connection, params (string Name, string Value)[] settings) =>
        new WebApplicationFactory<JunctraOptions>().WithWebHostBuilder(host =>
        {
            host.UseSetting("Junctra:Keys", SealingKey.NewFolder());
            foreach (var (name, value) in settings)
                host.UseSetting(name, value);
            host.UseSetting("ConnectionStrings:Junctra", connection)
                .UseSetting("Junctra:Catalogue", Repo.CatalogueFolder)
                // Tests of the timetable make it when they want it.
                .UseSetting("Junctra:KeepsTimetable", "false")
                .UseSetting("Junctra:Library", Directory.CreateTempSubdirectory("junctra-shop-").FullName);
        });

    public async ValueTask DisposeAsync()
    {
        await factory.DisposeAsync();
        Directory.Delete(Store, true);
        Directory.Delete(Open, true);
        await Phones.GiveBackAsync(MirrorPace);
        await database.DisposeAsync();
    }

    /// <summary>What answers the gates of a write at a phone whose data may go.</summary>
    public static (string Name, string Value)[] GatesAnswered { get; } =
    [
        ("gate.backup", "waived"),
        ("gate.data-loss", "agreed"),
        ("gate.accounts", "owner-knows"),
        ("gate.modification", "agreed"),
        ("gate.program", "closed"),
        ("gate.cable", "steady"),
    ];

    /// <summary>Posts a form as the page at an address would, with its anti-forgery token.</summary>
    public static async Task<HttpResponseMessage> PostAsync(
        HttpClient client,
        string page,
        string? handler,
        params (string Name, string Value)[] fields
    )
    {
        var html = await client.GetStringAsync(page);
        var token = Regex.Match(html, "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        // The plan on the page is the one that answers are for, unless a test says another.
        var plan = Regex.Match(html, "name=\"planFor\" value=\"([^\"]+)\"").Groups[1].Value;
        if (plan.Length > 0 && fields.All(field => field.Name != "planFor"))
            fields = [.. fields, ("planFor", plan)];
        var form = new FormUrlEncodedContent([
            .. fields.Select(f => KeyValuePair.Create(f.Name, f.Value)),
            KeyValuePair.Create("__RequestVerificationToken", token),
        ]);
        return await client.PostAsync(page.Split('?')[0] + (handler is null ? "" : "?handler=" + handler), form);
    }
}
