using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>The drawings of the route station: laid out for every model, every route, and several widths.</summary>
public class TrackPlanTests
{
    private const double LetterHeight = 12;

    public static TheoryData<string, double> Models()
    {
        var data = new TheoryData<string, double>();
        foreach (var model in OtherCatalogue.WithAllKeyFamilies.Models)
        foreach (var width in new[] { 500.0, 700, 980 })
            data.Add(model.Code, width);
        return data;
    }

    private readonly record struct Box(double Left, double Top, double Right, double Bottom, string What)
    {
        public bool Hits(Box other) => Left < other.Right && other.Left < Right && Top < other.Bottom && other.Top < Bottom;
    }

    private readonly record struct Line(double X1, double Y1, double X2, double Y2, PhoneMode From, PhoneMode To)
    {
        // All lines are level or upright.
        public bool Crosses(Line other) => Level != other.Level && (Level ? Cuts(this, other) : Cuts(other, this));

        private bool Level => Y1 == Y2;

        private static bool Cuts(Line level, Line upright) =>
            Math.Min(level.X1, level.X2) < upright.X1 - 1
            && upright.X1 + 1 < Math.Max(level.X1, level.X2)
            && Math.Min(upright.Y1, upright.Y2) < level.Y1 - 1
            && level.Y1 + 1 < Math.Max(upright.Y1, upright.Y2);

        public bool Runs(Box box) =>
            Level
                ? box.Top < Y1 && Y1 < box.Bottom && Math.Min(X1, X2) < box.Right && box.Left < Math.Max(X1, X2)
                : box.Left < X1 && X1 < box.Right && Math.Min(Y1, Y2) < box.Bottom && box.Top < Math.Max(Y1, Y2);
    }

    [Theory, MemberData(nameof(Models))]
    public void Nothing_lies_on_anything_else_and_no_two_ways_cross(string code, double width)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        foreach (var from in Enum.GetValues<PhoneMode>())
        foreach (var to in Enum.GetValues<PhoneMode>())
        {
            if (Router.Find(Sample.Phone(), model, from, to, OtherCatalogue.WithAllKeyFamilies).Best is not { } route)
                continue;
            var plan = TrackPlan.Of(route, width);
            var where = $"{code} {from.Id()} to {to.Id()} at {width}";
            var boxes = plan
                .Nodes.Select(node => new Box(
                    node.X - TrackPlan.Radius,
                    node.Y - TrackPlan.Radius,
                    node.X + TrackPlan.Radius,
                    node.Y + TrackPlan.Radius,
                    node.Mode.Id()
                ))
                .Concat(plan.Nodes.SelectMany(node => node.Lines.Select((text, i) => Text(node.X, TrackPlan.LabelY(node, i), text))))
                .Concat(plan.Ways.Where(way => way.Label.Length > 0).Select(way => Text(way.LabelX, way.LabelY, way.Label)))
                .ToList();
            for (var i = 0; i < boxes.Count; i++)
            {
                Assert.True(
                    boxes[i].Left >= 0 && boxes[i].Right <= plan.Width && boxes[i].Top >= 0 && boxes[i].Bottom <= plan.Height,
                    $"{where}: {boxes[i].What} leaves the drawing"
                );
                for (var j = i + 1; j < boxes.Count; j++)
                    Assert.False(boxes[i].Hits(boxes[j]), $"{where}: {boxes[i].What} lies on {boxes[j].What}");
            }

            var lines = plan
                .Ways.SelectMany(way =>
                    new[]
                    {
                        new Line(way.FromX, way.FromY, way.ToX, way.FromY, way.Way.From, way.Way.To),
                        new Line(way.ToX, way.FromY, way.ToX, way.ToY, way.Way.From, way.Way.To),
                    }
                )
                .Where(line => line.X1 != line.X2 || line.Y1 != line.Y2)
                .ToList();
            foreach (var line in lines)
            {
                Assert.All(lines, other =>
                    Assert.False(line.Crosses(other), $"{where}: the way from {line.From.Id()} crosses the one from {other.From.Id()}")
                );
                foreach (var box in boxes.Where(box => box.What != line.From.Id() && box.What != line.To.Id()))
                    Assert.False(line.Runs(box), $"{where}: the way from {line.From.Id()} runs through {box.What}");
            }
        }
    }

    [Fact]
    public void The_route_is_one_straight_line_from_left_to_right()
    {
        var route = Router
            .Find(
                Sample.Phone(),
                OtherCatalogue.WithAllKeyFamilies.Model("TN63E")!,
                PhoneMode.BootLoop,
                PhoneMode.Download,
                OtherCatalogue.WithAllKeyFamilies
            )
            .Best!;
        var plan = TrackPlan.Of(route, 700);
        var line = plan.Nodes.Where(node => node.OnRoute).OrderBy(node => node.X).ToList();
        Assert.Equal([PhoneMode.BootLoop, PhoneMode.WarningScreen, PhoneMode.Download], line.Select(node => node.Mode));
        Assert.Single(line.Select(node => node.Y).Distinct());
        Assert.Equal(2, plan.Ways.Count(way => way.OnRoute));
        Assert.All(plan.Ways, way => Assert.True(way.ToX > way.FromX));
        Assert.Throws<ArgumentOutOfRangeException>(() => TrackPlan.Of(route, 400));
    }

    [Theory]
    [InlineData(0.05, "5 s"), InlineData(0.5, "30 s"), InlineData(1.04, "1 min"), InlineData(2.46, "2.5 min")]
    public void Short_times_are_said_in_seconds(double minutes, string words) => Assert.Equal(words, TrackPlan.Minutes(minutes));

    [Fact]
    public void Every_score_of_every_model_is_drawn_without_overlap()
    {
        foreach (var model in OtherCatalogue.WithAllKeyFamilies.Models)
        foreach (
            var way in WayCompiler.Of(model, OtherCatalogue.WithAllKeyFamilies, PhoneMode.System).Where(way => way.Score.Bars.Count > 0)
        )
        foreach (var width in new[] { 400.0, 640, 900 })
        {
            var family = OtherCatalogue.WithAllKeyFamilies.KeyFamilyOf(model);
            var layout = KeyScoreLayout.Of(family, way.Score, width);
            Assert.Equal(way.Score.Bars.Select(bar => bar.StaveId).Distinct().Count(), layout.Staves.Count);
            Assert.All(layout.Bars, bar => Assert.InRange(bar.X + bar.Width, layout.Left, width));
            Assert.All(layout.Whiskers, whisker => Assert.InRange(whisker.X + whisker.Width, layout.Left, width));
            var labels = layout
                .Bars.Where(bar => bar is { LabelInside: false, Label.Length: > 0 })
                .Select(bar => (Y: bar.Y, From: bar.X + bar.Width + 8, To: bar.X + bar.Width + 8 + bar.Label.Length * 7.2))
                .ToList();
            Assert.All(labels, label =>
                Assert.DoesNotContain(layout.Bars, bar => bar.Y == label.Y && bar.X < label.To && bar.X + bar.Width > label.From)
            );
            foreach (var row in layout.Marks.GroupBy(mark => mark.LabelY))
            {
                var marks = row.OrderBy(mark => mark.LabelX).ToList();
                for (var i = 1; i < marks.Count; i++)
                    Assert.True(marks[i].LabelX - marks[i - 1].LabelX >= (marks[i].Label.Length + marks[i - 1].Label.Length) * 3.8);
            }
        }
    }

    [Fact]
    public void Two_hands_are_enough_for_every_score_and_a_third_is_named()
    {
        foreach (var model in OtherCatalogue.WithAllKeyFamilies.Models)
        foreach (var way in WayCompiler.Of(model, OtherCatalogue.WithAllKeyFamilies, PhoneMode.System))
            Assert.True(HandCount.Of(OtherCatalogue.WithAllKeyFamilies.KeyFamilyOf(model), way.Score) <= 2, $"{model.Code} {way.Id}");
        var family = OtherCatalogue.WithAllKeyFamilies.KeyFamilyOf(OtherCatalogue.WithAllKeyFamilies.Model("TN41E")!);
        var recipe = family.Recipes.First(recipe => recipe.Id == "off-to-download");
        var many = recipe with { Bars = [.. recipe.Bars, new KeyBar(Stave.Cable, new Moment(null, 1), new Moment(null, 3), "push in")] };
        var third = HandCount.TooMany(family, many)!;
        Assert.Equal((1.0, 3), (third.AtSeconds, third.Hands));
        Assert.Contains("Cable", third.Acts);
        Assert.Null(HandCount.TooMany(family, recipe));
    }

    [Fact]
    public void Keys_lie_where_the_family_has_them_and_names_do_not_overlap()
    {
        foreach (
            var family in OtherCatalogue
                .WithAllKeyFamilies.Models.Select(OtherCatalogue.WithAllKeyFamilies.KeyFamilyOf)
                .DistinctBy(family => family.Id)
        )
        foreach (var left in new[] { true, false })
        {
            var sketch = PhoneSketch.Of(family, left);
            Assert.Equal(family.Staves.Count(stave => stave.Side is not (KeySide.Back or KeySide.None)), sketch.Parts.Count);
            Assert.All(sketch.Parts.Where(part => part.Stave.Side == KeySide.Left), part =>
                Assert.True(part.X + part.Width <= sketch.Body.X + 2)
            );
            Assert.All(sketch.Parts.Where(part => part.Stave.Side == KeySide.Right), part =>
                Assert.True(part.X >= sketch.Body.X + sketch.Body.W - 2)
            );
            foreach (var side in sketch.Parts.GroupBy(part => part.Anchor))
            {
                var names = side.OrderBy(part => part.LabelY).ToList();
                for (var i = 1; i < names.Count; i++)
                    Assert.True(
                        names[i].Stave.Side != names[i - 1].Stave.Side || names[i].LabelY - names[i - 1].LabelY >= 2 * LetterHeight
                    );
            }

            var power = sketch.Parts.First(part => part.Stave.Id == "power");
            Assert.Equal(left ? "right thumb" : "left forefinger", power.Finger);
        }
    }

    private static Box Text(double x, double y, string text)
    {
        var half = text.Length * TrackPlan.LetterWidth / 2;
        return new Box(x - half, y - LetterHeight, x + half, y + 1, text);
    }
}
