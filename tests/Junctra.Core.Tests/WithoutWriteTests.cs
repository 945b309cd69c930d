using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Triage;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Why a phone goes back without having been written.</summary>
public class WithoutWriteTests
{
    private const string NotWorth = "Not worth opening: the loader supports revisions up to 6, and the phone had 7.";

    [Theory]
    [InlineData(CellState.Wet)]
    [InlineData(CellState.Swollen)]
    [InlineData(CellState.Hot)]
    [InlineData(CellState.Crushed)]
    public void A_cell_that_is_no_good_goes_before_any_finding(CellState cell)
    {
        foreach (var finding in Repo.Catalogue.Triage.Classes.Append(null))
            Assert.Equal(
                $"Its cell is {cell.ToString().ToLowerInvariant()}: it was set apart, not charged and not worked on.",
                WithoutWrite.Why(cell, finding, NotWorth)
            );
    }

    [Fact]
    public void Each_finding_says_why_nothing_was_written_or_that_it_asks_for_a_write()
    {
        foreach (var finding in Repo.Catalogue.Triage.Classes)
        {
            var why = WithoutWrite.Why(CellState.Sound, finding, NotWorth);
            if (finding.WayOut.Toll >= Toll.EmergencyMode)
                Assert.Equal($"It was not opened. {NotWorth}", why);
            else if (finding.WayOut.Paths.Count == 0)
                Assert.StartsWith(finding.WayOut.Title + ": ", why);
            else
                Assert.Null(why);
        }

        Assert.Null(WithoutWrite.Why(CellState.Sound, null, NotWorth));
        // What is worth opening and was not opened has no reason but that nobody did.
        var rescue = Repo.Catalogue.Triage.Classes.First(fault => fault.WayOut is { Toll: >= Toll.EmergencyMode, Paths.Count: > 0 });
        Assert.Null(WithoutWrite.Why(CellState.Sound, rescue, null));
    }
}
