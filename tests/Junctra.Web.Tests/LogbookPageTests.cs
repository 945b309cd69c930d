using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Junctra.Core.Logbook;
using Junctra.Web.Logbook;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The logbook, stories, insight, and the record as a whole.</summary>
[Trait("Turn", "3")]
public sealed partial class LogbookPageTests(HistoryBench bench) : IClassFixture<HistoryBench>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private readonly HttpClient here = bench.Here.Client();

    [Theory]
    [InlineData("counter")]
    [InlineData("bench")]
    public async Task Only_the_lead_writes_out_takes_in_and_decides(string who)
    {
        var client = await bench.Here.ClientAsync(who);
        Assert.Equal(HttpStatusCode.Forbidden, await StatusAsync(client, "/records/logbook.jsonl"));
        Assert.Equal(HttpStatusCode.Forbidden, await StatusAsync(client, "/records/logbook.zip"));
        foreach (var act in new[] { "TakeIn", "Keep", "Remove" })
            // Without a form on the page there is no token either.
            Assert.Contains(
                (await WebWorld.PostAsync(client, "/records", act, ("days", "30"))).StatusCode,
                new[] { HttpStatusCode.Forbidden, HttpStatusCode.BadRequest }
            );
        Assert.Contains("is for the lead", await client.GetStringAsync("/records", Cancel));
    }

    private static async Task<HttpStatusCode> StatusAsync(HttpClient client, string path)
    {
        using var answer = await client.GetAsync(path, Cancel);
        // Who may not is led to a page that says so.
        return answer.StatusCode == HttpStatusCode.Found ? HttpStatusCode.Forbidden : answer.StatusCode;
    }

    [Fact]
    public async Task A_file_that_is_no_logbook_says_so_and_changes_nothing()
    {
        Assert.Contains("is no logbook", await HistoryBench.TakeInAsync(here, Encoding.UTF8.GetBytes("ticket;model\n")));
        Assert.Contains("<b>0</b> taken in, <b>160</b> here already", await HistoryBench.TakeInAsync(here, bench.History));
    }

    [Theory]
    [InlineData("0256")]
    [InlineData("FRAYED")]
    [InlineData("white, fray")]
    [InlineData("broke connection")]
    [InlineData("zebra")]
    public async Task What_stands_in_a_record_finds_it_and_nothing_else(string question)
    {
        var html = WebUtility.HtmlDecode(await here.GetStringAsync($"/logbook?q={Uri.EscapeDataString(question)}", Cancel));
        await using var db = bench.Here.Database.CreateDbContext();
        var asked = SearchWords.Asked(question);
        var vectors = await db
            .Database.SqlQuery<string>($"select array_to_string(tsvector_to_array(words), chr(10)) as \"Value\" from logbook")
            .ToListAsync(Cancel);
        var expected = vectors.Count(words => SearchWords.Finds(asked, words.Split('\n')));
        Assert.Equal(question == "zebra", expected == 0);
        Assert.Contains(expected == 1 ? "1 job of this kind" : $"{expected:N0} jobs of this kind", html);
    }

    [Fact]
    public async Task A_mistyped_word_leads_to_what_was_meant()
    {
        var html = await here.GetStringAsync("/logbook?q=frayd", Cancel);
        Assert.Contains("Did you mean", html);
        var link = Regex.Match(html, "href=\"([^\"]+)\">frayed<").Groups[1].Value;
        Assert.Contains("of this kind", await here.GetStringAsync(WebUtility.HtmlDecode(link), Cancel));
    }

    [Theory]
    [InlineData("/logbook?q=%27%20or%20%271%27%3D%271")]
    [InlineData("/logbook?q=%5C%27%3A%2A%26%7C%21%28")]
    [InlineData("/logbook?model=-&finding=nothing&path=%27&outcome=none&before=-4")]
    [InlineData("/logbook?before=999999999&of=times")]
    [InlineData("/logbook?of=times%3A%3A%3A")]
    [InlineData("/find?q=%27%27%27%5C")]
    public async Task Whatever_is_asked_is_answered(string path)
    {
        using var answer = await here.GetAsync(path, Cancel);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
    }

    [Fact]
    public async Task Every_figure_leads_to_as_many_jobs_as_stand_behind_it()
    {
        await using var scope = bench.Here.Service<IServiceScopeFactory>().CreateAsyncScope();
        var insight = scope.ServiceProvider.GetRequiredService<ShopInsight>();
        var figures = (await insight.CalibrationAsync(Cancel))
            .Concat(await insight.CostsAsync(Cancel))
            .SelectMany(section =>
                section.Figures.Where(figure => figure.Jobs.Count > 0).Select(figure => (Of: $"{section.Key}:{figure.Key}", figure))
            )
            .ToList();
        Assert.True(figures.Count > 20, $"{figures.Count} figures");
        foreach (var (of, figure) in figures)
        {
            var list = await here.GetStringAsync($"/logbook?of={Uri.EscapeDataString(of)}", Cancel);
            Assert.Contains(figure.Jobs.Count == 1 ? "1 job of this kind" : $"{figure.Jobs.Count:N0} jobs of this kind", list);
        }
    }

    [Fact]
    public async Task A_run_can_be_watched_once_more_to_its_end()
    {
        await using var db = bench.Here.Database.CreateDbContext();
        var run = await db
            .Runs.OrderBy(run => run.Id)
            .FirstAsync(run => run.Status == Core.Runs.RunStatus.Finished && run.PackageId != null, Cancel);
        var frames = System.Text.Json.JsonDocument.Parse(await here.GetStringAsync($"/runs/{run.Id}/replay", Cancel)).RootElement;
        Assert.True(frames.GetArrayLength() > 5);
        var times = frames.EnumerateArray().Select(frame => frame.GetProperty("at").GetInt64()).ToList();
        Assert.Equal(times.Order(), times);
        Assert.Equal(0, times[0]);
        Assert.Equal(1, frames[frames.GetArrayLength() - 1].GetProperty("run").GetProperty("progress").GetDouble());
        Assert.Equal(HttpStatusCode.NotFound, (await here.GetAsync("/runs/999999/replay", Cancel)).StatusCode);
    }
}
