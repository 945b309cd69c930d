using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Web.Bench;
using Junctra.Web.Staff;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The slip that is printed when a phone is taken in: what came, what was agreed, in the words that were kept.</summary>
public sealed class SlipModel(JobLoader jobs, ModelCatalogue catalogue, IOptions<JunctraOptions> options) : JobPage(jobs)
{
    public override Station Station => Station.Intake;

    public override string ActsBy => Policies.CounterOrBench;

    public string Shop => options.Value.Shop;

    /// <summary>What was answered at the counter.</summary>
    public IEnumerable<(TriageCheck Check, CheckOutcome Outcome)> Said =>
        from answer in Job.Row.TriageAnswers
        where answer.WithdrawnAt is null
        let check = catalogue.Triage.Check(answer.CheckId)
        where check is { AtIntake: true } && check.Outcome(answer.OutcomeId) is not null
        select (check, check.Outcome(answer.OutcomeId)!);
}
