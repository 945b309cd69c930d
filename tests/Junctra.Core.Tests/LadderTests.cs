using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>The ladder of a model's builds, where a phone stands on it, and how it is laid out; the match from a package's side.</summary>
public class LadderTests
{
    private static readonly Package[] Library =
    [
        Factory("HX204/15.26w30-2.r4"),
        Factory("HX204/14.25w40-3.r2"),
        Factory("HX204/15.26w10-7.r3"),
        Factory("HX204C/15.26w10-4.r3"),
    ];

    private static Package Factory(string build) => Sample.Package(board: build.Split('/')[0], revision: null, build: build);

    [Fact]
    public void Builds_stand_by_age_and_tell_what_they_do_to_the_floor()
    {
        var ladder = BuildLadder.Of(Repo.Catalogue.Model("HX204")!, Library, Sample.Cairn(), Repo.Catalogue);
        Assert.Equal(
            [
                ("HX204/14.25w30-1.r2", LadderStep.Refused, true),
                ("HX204/14.25w40-3.r2", LadderStep.Refused, false),
                ("HX204/15.26w10-7.r3", LadderStep.Stays, false),
                ("HX204/15.26w30-2.r4", LadderStep.OneWay, false),
            ],
            ladder.Builds.Select(build => (build.Title, build.Step, build.IsOnPhone))
        );
        Assert.Equal((3, true), (ladder.Floor, ladder.IsFloorRead));
        Assert.Empty(ladder.Builds[0].PackageIds);
        Assert.Contains("The phone has HX204/14.25w30-1.r2. Its floor is 3.", ladder.Words);
        Assert.Contains("One-way: HX204/15.26w30-2.r4.", ladder.Words);
    }

    [Fact]
    public void A_bound_of_the_floor_is_said_to_be_one()
    {
        var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204"), Sample.Fact(FactName.RollbackFloor, "3", FactSource.Logbook));
        var ladder = BuildLadder.Of(Repo.Catalogue.Model("HX204")!, Library, phone, Repo.Catalogue);
        Assert.Equal((3, false), (ladder.Floor, ladder.IsFloorRead));
        Assert.Contains("at least 3, and was not read", ladder.Words);
    }

    [Fact]
    public void Makers_without_fuses_have_no_floor()
    {
        var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, "OB17"), Sample.Fact(FactName.BootloaderRevision, "4"));
        var ladder = BuildLadder.Of(
            Repo.Catalogue.Model("OB17")!,
            [Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM")],
            phone,
            Repo.Catalogue
        );
        Assert.Null(ladder.Floor);
        Assert.All(ladder.Builds, build => Assert.Equal(LadderStep.Unknown, build.Step));
        Assert.Empty(BuildLadder.Of(Repo.Catalogue.Model("OB17")!, [], null, Repo.Catalogue).Builds);
    }

    [Fact]
    public void No_two_labels_lie_over_each_other_and_none_leaves_the_drawing() =>
        Gen.Select(Gen.Int[1, 24], Gen.Int[1, 5], Gen.Int[500, 1200], Gen.Int[0, 1000])
            .Sample(
                (count, revisions, width, seed) =>
                {
                    var random = new Random(seed);
                    var builds = Enumerable
                        .Range(0, count)
                        .Select(i =>
                            Factory($"HX204/15.{20 + i / 50}w{i % 50 + 1:00}-{random.Next(1, 999)}.r{random.Next(1, revisions + 1)}")
                        )
                        .ToList();
                    var ladder = BuildLadder.Of(Repo.Catalogue.Model("HX204")!, builds, Sample.Cairn(), Repo.Catalogue);
                    var layout = LadderLayout.Of(ladder, width);
                    Assert.Equal(ladder.Builds.Count, layout.Points.Count);
                    var labels = layout
                        .Points.Select(point => (Span: LadderLayout.LabelSpan(point.X, point.Build.Title, width), point.LabelY))
                        .ToList();
                    for (var i = 0; i < labels.Count; i++)
                    {
                        Assert.True(
                            labels[i].Span.From >= 0
                                && labels[i].Span.To <= width
                                && labels[i].LabelY > 0
                                && labels[i].LabelY < layout.Height
                        );
                        for (var j = 0; j < i; j++)
                        {
                            var apart =
                                labels[i].Span.From >= labels[j].Span.To
                                || labels[j].Span.From >= labels[i].Span.To
                                || Math.Abs(labels[i].LabelY - labels[j].LabelY) >= LadderLayout.LineHeight - 0.01;
                            Assert.True(apart, $"{layout.Points[i].Build.Title} and {layout.Points[j].Build.Title}");
                        }
                    }

                    // Higher revisions are further up; later builds further right.
                    Assert.Equal(
                        layout.Rows.OrderByDescending(row => row.Revision).Select(row => row.Y),
                        layout.Rows.Select(row => row.Y).Order()
                    );
                    Assert.Equal(layout.Points.Select(point => point.X).Order(), layout.Points.Select(point => point.X));
                },
                iter: 200
            );

    [Fact]
    public void A_package_fits_its_model_and_not_the_one_that_is_taken_for_it()
    {
        var fits = PackageFit.Models(Library[2], Repo.Catalogue);
        Assert.Equal([("HX204", Verdict.Go), ("HX204C", Verdict.Stop)], fits.Select(fit => (fit.Model.Code, fit.Verdict)));
        Assert.Contains("one character", fits[1].Sentence);
        var tern = PackageFit.Models(Sample.Set("TN41E", "TN41E.2.2610.WHM1"), Repo.Catalogue);
        Assert.Equal(["TN41E", "TN41K", "TN41S"], tern.Select(fit => fit.Model.Code));
        Assert.All(tern.Skip(1), fit => Assert.Equal(Verdict.Stop, fit.Verdict));
    }

    [Fact]
    public void An_update_job_has_the_newest_first_and_a_revival_the_same_revision()
    {
        var phone = Sample.Cairn();
        Assert.Equal("HX204/15.26w10-7.r3", Matcher.Rank(phone, Library, Repo.Catalogue)[0].Package.Title);
        // One way is care, and go comes before it whatever is wanted; between two that go, the newest.
        Package[] two = [Factory("HX204/15.26w10-7.r3"), Factory("HX204/15.26w12-1.r3")];
        Assert.Equal(
            "HX204/15.26w12-1.r3",
            Matcher.Rank(phone, two, Repo.Catalogue, new MatchPolicy { Goal = JobGoal.Update })[0].Package.Title
        );
        Package[] steps = [Factory("HX204/15.26w30-2.r4"), Factory("HX204/15.26w34-1.r5")];
        Assert.Equal("HX204/15.26w30-2.r4", Matcher.Rank(phone, steps, Repo.Catalogue)[0].Package.Title);
        Assert.Equal(
            "HX204/15.26w34-1.r5",
            Matcher.Rank(phone, steps, Repo.Catalogue, new MatchPolicy { Revision = RevisionSchool.Newest })[0].Package.Title
        );
    }
}
