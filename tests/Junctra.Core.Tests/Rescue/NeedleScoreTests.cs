using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rescue;

/// <summary>Cable, needle, computer: their order, and with how many hands.</summary>
public sealed class NeedleScoreTests
{
    private static readonly KeyRecipe Score = NeedleScore.Recipe;

    private static KeyBar Bar(string stave) => Score.Bars.Single(bar => bar.StaveId == stave);

    [Fact]
    public void The_cable_goes_into_the_phone_first_and_into_the_computer_only_while_the_needle_is_held()
    {
        Assert.True(Score.Usual(Bar(Stave.Cable).From) < Score.Usual(Bar("Needle").From));
        Assert.True(Score.Usual(Bar("Needle").From) < Score.Usual(Bar(Stave.Computer).From));
        Assert.True(Score.Usual(Bar("Needle").To) > Score.Marks.Single().AtSeconds);
    }

    [Fact]
    public void It_takes_two_hands_and_is_drawn_with_all_of_its_staves()
    {
        foreach (var family in Repo.Catalogue.Models.Select(Repo.Catalogue.KeyFamilyOf).Distinct())
        {
            Assert.Equal(2, HandCount.Of(family, Score));
            Assert.Null(HandCount.TooMany(family, Score));
            Assert.Equal(3, KeyScoreLayout.Of(family, Score, 460).Staves.Count);
        }
    }

    [Fact]
    public void Opening_takes_what_its_steps_take_where_they_are_known()
    {
        Assert.Equal(45 * 60, new OpenToEmergency().Seconds(Repo.Catalogue.Figures).Typical);
        var guide = Repo.Catalogue.BoardOf("TN63W")!;
        Assert.Equal(32, guide.Of(RescuePhase.Open).Sum(step => step.Minutes.Typical));
    }
}
