using Junctra.Store;
using Junctra.Store.Logbook;
using Microsoft.EntityFrameworkCore;

// What pages are held against: runs the same queries and sends the same number of bytes, without layout and without rules.
// Settings: ConnectionStrings__Junctra, ASPNETCORE_URLS. Paths: /open and /done, with ?bytes=.
var builder = WebApplication.CreateBuilder(args);
builder.Logging.ClearProviders();
builder.Services.AddDbContext<JunctraDb>(options => JunctraDb.Configure(options, builder.Configuration.GetConnectionString("Junctra")!));
var app = builder.Build();
app.MapGet("/open", (JunctraDb db, int bytes, HttpContext http) => AnswerAsync(db, bytes, http, done: false));
app.MapGet("/done", (JunctraDb db, int bytes, HttpContext http) => AnswerAsync(db, bytes, http, done: true));
await app.RunAsync();

static async Task AnswerAsync(JunctraDb db, int bytes, HttpContext http, bool done)
{
    // Whether who asks is signed in, the page's own list, and the column at its side.
    await db
        .SignIns.Where(row => row.Id == "" && row.EndedAt == null && db.Users.Any(user => user.Id == 1 && user.SecurityStamp == row.Stamp))
        .Select(row => (DateTimeOffset?)row.SeenAt)
        .SingleOrDefaultAsync();
    if (done)
        await new LogbookSearch(db).FindAsync(new LogbookQuestion(""), http.RequestAborted);
    else
    {
        await db.Users.SingleOrDefaultAsync(user => user.Id == 1);
        await db.Timetables.Select(row => (DateTimeOffset?)row.MadeAt).SingleOrDefaultAsync();
    }

    await JobLists.HeadsAsync(db, 500, http.RequestAborted);
    await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync();
    http.Response.ContentType = "text/html; charset=utf-8";
    http.Response.ContentLength = bytes;
    await http.Response.Body.WriteAsync(new byte[bytes]);
}
