using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Logbook;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
using Junctra.Web.Logbook;

namespace Junctra.Web.Pages.Jobs;

/// <summary>A job's whole story on one page, its runs to be seen once more.</summary>
public sealed class StoryModel(JobLoader jobs, JunctraDb db, ModelCatalogue catalogue) : JobPage(jobs)
{
    private const double StripWidth = 720;

    public override Station Station => Job.Standing.At;

    public JobStory Story { get; private set; } = null!;

    /// <summary>The keys of its phone, for the drawing; null where its model is not known.</summary>
    public KeyFamily? Family => Job.Model is { } model ? catalogue.KeyFamilyOf(model) : null;

    /// <summary>The lines of each station in a row: a job that went back is told as it went.</summary>
    public IEnumerable<IReadOnlyList<StoryLine>> Chapters
    {
        get
        {
            var chapter = new List<StoryLine>();
            foreach (var line in Story.Lines)
            {
                if (chapter.Count > 0 && chapter[^1].Station != line.Station)
                {
                    yield return chapter;
                    chapter = [];
                }

                chapter.Add(line);
            }

            if (chapter.Count > 0)
                yield return chapter;
        }
    }

    /// <summary>The partitions of a run as they were before it; null where its model is not in the catalogue any more.</summary>
    public PartitionStrip? StripOf(StoryRun told) =>
        catalogue.Model(told.Run.Plan.Target.ModelCode) is { } model
            ? PartitionStrip.Of(model, partition => (told.State.UseOf(partition.Name), 0, partition.Name), StripWidth)
            : null;

    /// <summary>What came of a run, in a sentence.</summary>
    public static string CameOf(StoryRun told)
    {
        var after = told.Took is { } took ? $" After {Say.Length(took)}." : "";
        return told.State.Status.EndedEarly() ? $"{told.State.WhatHappened}{after}"
            : told.State.Status == RunStatus.Finished ? $"Carried out to its end.{after}"
            : "Goes on.";
    }

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        ViewData["Title"] = $"{Job.Row.Ticket} whole story";
        Story = JobStory.Of((await JobRecords.LoadAsync(db, [Job.Row.Id], cancel))[0], catalogue);
    }
}
