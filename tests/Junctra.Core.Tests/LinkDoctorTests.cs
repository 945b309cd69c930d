using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class LinkDoctorTests
{
    private static LinkTables Tables => Repo.Catalogue.Links;

    private static IReadOnlyList<string> Order(string sign, IReadOnlyList<LinkTry>? history = null, params string[] tried) =>
        [.. LinkDoctor.Order(Tables, sign, history ?? [], tried).Select(ranked => ranked.Remedy.Id)];

    [Fact]
    public void With_nothing_tried_the_order_is_by_chance_a_minute_and_a_cable_comes_first()
    {
        Assert.Equal("cable", Order("nothing")[0]);
        Assert.Equal("allow", Order("unauthorised")[0]);
        Assert.Equal("re-enter", Order("wrong-mode")[0]);
        foreach (var sign in Tables.Signs.Where(sign => !sign.IsWell))
        {
            var rates = LinkDoctor.Order(Tables, sign.Id, [], []).Select(ranked => ranked.Rate).ToList();
            Assert.NotEmpty(rates);
            Assert.Equal(rates.OrderDescending(), rates);
        }
    }

    [Fact]
    public void What_was_tried_comes_no_more_and_the_shops_own_tries_move_the_order()
    {
        Assert.Equal(Order("nothing").Skip(1), Order("nothing", null, "cable"));
        LinkTry[] history =
        [
            .. Enumerable.Repeat(new LinkTry("nothing", "cable", false), 12),
            .. Enumerable.Repeat(new LinkTry("nothing", "port", true), 12),
        ];
        Assert.Equal("port", Order("nothing", history)[0]);
        Assert.True(Order("nothing", history).ToList().IndexOf("cable") > 1);
        // What mended another sign says nothing of this one.
        Assert.Equal(Order("warning"), Order("warning", history));
    }

    [Theory]
    [InlineData(0.4, 10, 0, 0, 0.4), InlineData(0.4, 10, 10, 10, 0.7), InlineData(0.4, 10, 0, 10, 0.2), InlineData(0.5, 2, 1, 2, 0.5)]
    public void A_chance_is_the_mean_of_a_beta_distribution(double prior, double weight, int worked, int tried, double chance) =>
        Assert.Equal(chance, LinkDoctor.Chance(prior, weight, worked, tried), 9);

    [Fact]
    public void More_success_never_lowers_a_chance_and_many_tries_outweigh_the_catalogue()
    {
        for (var tried = 1; tried < 40; tried++)
        for (var worked = 1; worked <= tried; worked++)
            Assert.True(LinkDoctor.Chance(0.3, 8, worked, tried) > LinkDoctor.Chance(0.3, 8, worked - 1, tried));
        Assert.InRange(LinkDoctor.Chance(0.9, 8, 0, 1000), 0, 0.01);
    }

    [Fact]
    public void The_worst_cable_is_named_once_it_stands_out()
    {
        Assert.Null(LinkDoctor.Worst([new ThingRecord("red", 0, 2), new ThingRecord("grey", 5, 0)]));
        Assert.Equal(
            "red",
            LinkDoctor.Worst([new ThingRecord("red", 1, 4), new ThingRecord("grey", 9, 1), new ThingRecord("new", 0, 0)])!.Label
        );
        Assert.Null(LinkDoctor.Worst([new ThingRecord("red", 9, 1), new ThingRecord("grey", 9, 1)]));
        Assert.Null(LinkDoctor.Worst([]));
        Assert.Equal("only", LinkDoctor.Worst([new ThingRecord("only", 0, 6)])!.Label);
    }

    [Fact]
    public void A_sign_is_mended_when_it_is_gone_but_not_because_nothing_is_listed()
    {
        LinkSign Sign(string id) => Tables.Sign(id)!;
        Assert.True(LinkDoctor.Mended("nothing", Sign("right")));
        Assert.True(LinkDoctor.Mended("nothing", Sign("warning")));
        Assert.False(LinkDoctor.Mended("warning", Sign("warning")));
        Assert.False(LinkDoctor.Mended("warning", Sign("nothing")));
    }

    [Fact]
    public void The_target_is_told_by_serial_never_by_order()
    {
        ListedPhone mine = new("TRD1", PhoneMode.Download, false, true, "a"),
            other = new("TNX1", PhoneMode.Download, false, true, "b"),
            shy = new(null, PhoneMode.Unknown, true, true, null);
        foreach (var listed in new[] { new[] { mine, other }, [other, mine] })
        {
            Assert.Equal(
                ("right", mine),
                (ListReading.Of(listed, "trd1", PhoneMode.Download).SignId, ListReading.Of(listed, "trd1", PhoneMode.Download).Target)
            );
            Assert.Equal(
                ("two-listed", null),
                (ListReading.Of(listed, null, PhoneMode.Download) is var unknown ? unknown.SignId : "", unknown.Target)
            );
            Assert.Null(ListReading.Of(listed, "TRD9", PhoneMode.Download).Target);
        }

        Assert.Equal("two-listed", ListReading.Of([other], "TRD1", PhoneMode.Download).SignId);
        Assert.Equal(
            ("warning", null),
            (ListReading.Of([shy], "TRD1", PhoneMode.Download) is var hidden ? hidden.SignId : "", hidden.Target)
        );
        Assert.Equal("nothing", ListReading.Of([], "TRD1", PhoneMode.Download).SignId);
        Assert.Contains("Whether it is this job's", ListReading.Of([mine], null, PhoneMode.Download).Why);
        // Two with one serial: neither is taken for the target.
        Assert.Equal(
            ("two-listed", null),
            (
                ListReading.Of([mine, mine with { Address = "127.0.0.1:9" }], "TRD1", PhoneMode.Download) is var twice ? twice.SignId : "",
                twice.Target
            )
        );
        Assert.Equal("wrong-mode", ListReading.Of([mine with { Mode = PhoneMode.StockRecovery }], "TRD1", PhoneMode.Download).SignId);
        Assert.Equal("unauthorised", ListReading.Of([mine with { IsAllowed = false }], "TRD1", PhoneMode.Download).SignId);
        Assert.Equal("warning", ListReading.Of([mine with { HasWarning = true }, other], "TRD1", PhoneMode.Download).SignId);
    }
}
