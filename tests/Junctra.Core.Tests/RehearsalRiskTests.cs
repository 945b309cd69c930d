using Junctra.Core.Plans;
using Junctra.Core.Practice;
using Junctra.Formats.CatalogueFiles;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>
/// A rehearsal judges what breaks by itself once for each place of the twin; its interruptions are played one by one wherever they may
/// happen. Both say the same of every step: no two states are taken for one place that break differently.
/// </summary>
public sealed class RehearsalRiskTests
{
    /// <summary>A job of every path.</summary>
    public static TheoryData<string> Jobs =>
        [
            .. PracticeReader
                .Read(Path.Combine(Repo.Root, "catalogue"), Repo.Catalogue)
                .Where(exercise => exercise.Task is JobTask)
                .Select(exercise => exercise.Id),
        ];

    [Theory]
    [MemberData(nameof(Jobs))]
    public void The_risk_of_a_step_is_that_of_its_worst_interruption(string id)
    {
        var exercise = PracticeReader.Read(Path.Combine(Repo.Root, "catalogue"), Repo.Catalogue).Single(one => one.Id == id);
        var job = new PracticeJob(exercise.Phone, (JobTask)exercise.Task, Repo.Catalogue);
        var played = 0;
        foreach (var step in job.Plan.Steps)
        {
            var interruptions = Rehearser.Interruptions(job.Plan, job.Case, step.Number);
            if (interruptions.Count == 0)
                continue;
            played += interruptions.Count;
            var risk = job.Plan.RiskOf(step);
            Assert.Equal((step.Title, interruptions.Max(one => one.Risk)), (step.Title, risk.Risk));
            Assert.True(risk.DataGone || interruptions.All(one => !one.DataGone), step.Title);
        }

        Assert.True(played > 0);
    }
}
