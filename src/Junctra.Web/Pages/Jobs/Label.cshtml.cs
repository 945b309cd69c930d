using Junctra.Core.Jobs;
using Junctra.Web.Bench;
using Junctra.Web.Staff;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The label that goes on the phone and on its bag: the ticket for eyes and for a hand scanner.</summary>
public sealed class LabelModel(JobLoader jobs) : JobPage(jobs)
{
    public override Station Station => Station.Intake;

    public override string ActsBy => Policies.CounterOrBench;
}
