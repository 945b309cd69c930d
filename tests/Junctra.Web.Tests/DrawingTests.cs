using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Junctra.Web.Tests;

/// <summary>The drawings: each has words for those who do not see it, and nothing in them is run.</summary>
public class DrawingTests
{
    private static string Render(TagHelper helper)
    {
        var context = new TagHelperContext([], new Dictionary<object, object>(), "x");
        var output = new TagHelperOutput("x", [], (_, _) => Task.FromResult<TagHelperContent>(new DefaultTagHelperContent()));
        helper.Process(context, output);
        using var writer = new StringWriter();
        output.WriteTo(writer, System.Text.Encodings.Web.HtmlEncoder.Default);
        return writer.ToString();
    }

    [Fact]
    public void Every_verdict_has_a_shape_of_its_own_and_a_word()
    {
        var drawn = Enum.GetValues<Verdict>().Select(v => Render(new SignalTagHelper { Verdict = v })).ToList();
        Assert.All(Enum.GetValues<Verdict>(), v => Assert.Contains($"<span>{v}</span>", drawn[(int)v]));
        var shapes = drawn.Select(html =>
            html[html.IndexOf("<svg", StringComparison.Ordinal)..html.IndexOf("</svg>", StringComparison.Ordinal)]
        );
        Assert.Equal(4, shapes.Distinct().Count());
    }

    [Fact]
    public void A_compact_signal_keeps_its_word_for_those_who_do_not_see_it() =>
        Assert.Contains("<span class=\"sr-only\">Stop</span>", Render(new SignalTagHelper { Verdict = Verdict.Stop, Compact = true }));

    [Fact]
    public void A_signals_own_word_is_text_and_never_markup() =>
        Assert.DoesNotContain("<b>", Render(new SignalTagHelper { Verdict = Verdict.Go, Word = "<b>x</b>" }));

    private static JobView Job(params Core.Facts.Fact[] facts)
    {
        var row = new JobRow
        {
            Ticket = "0418",
            Description = "blue case",
            Complaint = "loops",
        };
        row.Facts.AddRange(facts.Select(FactRow.Of));
        return new JobView(row, Repo.Catalogue);
    }

    [Fact]
    public void A_jobs_line_links_all_stations_and_marks_the_one_on_the_page()
    {
        var html = Render(new JobLineTagHelper { Job = Job([.. Sample.Cairn().All]), Here = Station.FindOut });
        Assert.All(Stations.All, station => Assert.Contains($"/jobs/0418/{station.Slug()}\"", html));
        Assert.Equal(2, html.Split("aria-current=\"step\"").Length);
        Assert.Contains("data-station=\"find-out\" aria-current=\"step\"", html);
        Assert.Contains("Match</span><span class=\"sr-only\">, waits</span>", html);
        Assert.Contains("Intake</span><span class=\"sr-only\">, done</span>", html);
    }

    [Fact]
    public void A_small_line_says_where_the_job_is()
    {
        var line = Render(
            new MiniLineTagHelper
            {
                Standing = new JobStanding(Station.Route, ""),
                View = new ViewContext { HttpContext = new DefaultHttpContext() },
            }
        );
        Assert.Contains("aria-label=\"At Route, station 4 of 8\"", line);
        Assert.Contains("href=\"#line-3\"", line);
        Assert.Equal(Stations.All.Count + 1, System.Text.RegularExpressions.Regex.Count(line, "<symbol "));
    }

    [Fact]
    public void A_score_carries_its_words_and_one_bar_for_each_hold()
    {
        var family = Repo.Catalogue.KeyFamilyOf(Repo.Catalogue.Model("HX204")!);
        var recipe = family.Recipes.First(recipe => recipe.Id == "loop-to-bootloader");
        var html = Render(new KeyScoreTagHelper { Family = family, Recipe = recipe });
        Assert.StartsWith("<svg", html);
        Assert.Contains("role=\"img\"", html);
        Assert.All(recipe.Words, word => Assert.Contains(word, System.Net.WebUtility.HtmlDecode(html)));
        Assert.Equal(recipe.Bars.Count, html.Split("<rect").Length - 1);
        Assert.Contains("data-length=\"19\"", html);
    }

    [Fact]
    public void A_strip_says_of_every_partition_what_becomes_of_it()
    {
        var package = Sample.Package();
        var plan = Planned.Plan(Sample.Cairn(), package, true);
        var html = Render(new PartitionStripTagHelper { Strip = PartitionStrip.OfPlan(plan, Repo.Catalogue.Model("HX204")!, 900) });
        Assert.Contains("userdata: erased", html);
        Assert.Contains("identity: not touched", html);
        Assert.Contains("system: written, 26.2 MB of 50.3 MB", html);
        Assert.Contains("class=\"segment to-erase\"", html);
    }

    [Fact]
    public void A_phones_screen_is_text() =>
        Assert.DoesNotContain("<script>", Render(new PhonePictureTagHelper { Shows = "<script>alert(1)</script>" }));

    [Theory]
    [InlineData(30, 60, "30 s, at worst 60")]
    [InlineData(30, 120, "1 min, at worst 2")]
    [InlineData(479, 840, "8 min, at worst 14")]
    public void Times_are_said_as_bands(double typical, double slow, string expected) =>
        Assert.Equal(expected, Say.Band(new Core.Catalogue.Band(typical, slow)));

    [Fact]
    public void What_may_be_wrong_is_drawn_to_scale_and_said_in_words()
    {
        var tables = Repo.Catalogue.Triage;
        var diagnosis = Diagnoser.Of(tables, new TriageCase(), [new Observation("now", "loop"), new Observation("last", "custom")]);
        var html = Render(new ChanceBarsTagHelper { Diagnosis = diagnosis });
        Assert.Contains("<title>What may be wrong: Wrong or damaged system", html);
        var widths = System
            .Text.RegularExpressions.Regex.Matches(html, "width=\"([0-9.]+)\" height=\"18\" rx=\"4\" class=\"chance")
            .Select(match => double.Parse(match.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture))
            .ToList();
        Assert.Equal(widths.OrderDescending(), widths);
        Assert.Equal(diagnosis.Candidates[0].Chance / diagnosis.Candidates[1].Chance, widths[0] / widths[1], 1);
    }

    [Theory]
    [InlineData(0, "under 1 %")]
    [InlineData(0.004, "under 1 %")]
    [InlineData(0.5, "50 %")]
    [InlineData(0.9999, "99 %")]
    public void A_chance_is_never_said_to_be_nothing_or_certain(double chance, string words) =>
        Assert.Equal(words, ChanceBarsTagHelper.Percent(chance));
}
