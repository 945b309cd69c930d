using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Modes;
using Junctra.Core.Planning;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
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
        var shapes = drawn.Select(html => html[html.IndexOf("<svg", StringComparison.Ordinal)..html.IndexOf("</svg>", StringComparison.Ordinal)]);
        Assert.Equal(4, shapes.Distinct().Count());
    }

    [Fact]
    public void A_compact_signal_keeps_its_word_for_those_who_do_not_see_it() =>
        Assert.Contains("<span class=\"sr-only\">Stop</span>", Render(new SignalTagHelper { Verdict = Verdict.Stop, Compact = true }));

    [Fact]
    public void A_signals_own_word_is_text_and_never_markup() =>
        Assert.DoesNotContain("<b>", Render(new SignalTagHelper { Verdict = Verdict.Go, Word = "<b>x</b>" }));

    private static JobView Job(params Core.Phones.Fact[] facts)
    {
        var row = new JobRow { Ticket = "0418", Description = "blue case", Complaint = "loops" };
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
    public void A_small_line_says_where_the_job_is() =>
        Assert.Contains("<title>At Route, station 4 of 8</title>", Render(new MiniLineTagHelper { Standing = new JobStanding(Station.Route, "") }));

    [Fact]
    public void A_score_carries_its_words_and_one_bar_for_each_hold()
    {
        var family = Repo.Catalogue.KeyFamilyOf(Repo.Catalogue.Model("HX204")!);
        var recipe = family.Quickest(PhoneMode.BootLoop, PhoneMode.Fastboot)!;
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
        var plan = PathF.Compile(Sample.Cairn(), package, true, Repo.Catalogue).Plan!;
        var html = Render(new PartitionStripTagHelper { Strip = PartitionStrip.OfPlan(plan, Repo.Catalogue.Model("HX204")!, package, 900) });
        Assert.Contains("userdata: erased", html);
        Assert.Contains("identity: not touched", html);
        Assert.Contains("system: written, 104.9 MB of 201.3 MB", html);
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
}
