using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>Plans for the rungs that hands climb with a phone that did not come up after a write.</summary>
public static class LadderPlans
{
    /// <summary>The plan of a rung; begun by a person, or never.</summary>
    /// <param name="rung">One that is planned (<see cref="Rungs.IsPlanned"/>).</param>
    /// <param name="written">The plan after which the phone did not come up.</param>
    /// <param name="case">The phone as it is now.</param>
    public static PlanOutcome Of(Rung rung, Plan written, PathCase @case)
    {
        if (!@case.Mode.IsHung())
            return Refuse("This is for a phone that loops or stands at its maker's picture. Note what it shows.");
        if (@case.Model is not { } model)
            return Refuse("Its model is not known any more.");
        var draft = new PlanDraft(@case);
        if (Add(rung, written, @case, model, draft) is { } none)
            return Refuse(none);
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        var isAgreed = rung == Rung.WipeData && written.IfItLoops.Count > 0;
        var plan = new Plan(
            Plan.Current,
            new PathChoice(
                new WipeOnly().Letter,
                isAgreed ? "Agreed wipe after a loop" : $"{rung.Title()}, after a loop",
                rung == Rung.WipeData
            ),
            written.Target,
            [],
            // What was agreed on stands in the plan that was begun; from here it may need another way.
            isAgreed && @case.Mode == PhoneMode.BootLoop
                ? written.IfItLoops
                : draft.Steps,
            [],
            Rehearsal.None
        )
        {
            Follows = written.Key,
            Rung = rung,
            Watch = written.Watch,
        };
        var rehearsal = Rehearser.Rehearse(plan, @case, null);
        if (rehearsal.WhyNot is { } why)
            return new PlanOutcome(null, [why]) { IsRefusedByRehearsal = true };
        // What the first plan was to bring still is to be there.
        return new PlanOutcome(
            plan with
            {
                Rehearsal = rehearsal with
                {
                    Expectations =
                    [
                        .. rehearsal.Expectations.Where(own => written.Rehearsal.Expectations.All(first => first.Fact != own.Fact)),
                        .. written.Rehearsal.Expectations,
                    ],
                },
            },
            []
        );
    }

    /// <summary>Adds what hands do; null, or why they cannot.</summary>
    private static string? Add(Rung rung, Plan written, PathCase @case, PhoneModel model, PlanDraft draft)
    {
        switch (rung)
        {
            case Rung.Restart:
                if (ForceRestart.WayFrom(@case.Phone, model, @case.Mode, @case.Catalogue) is null)
                    return $"No keys are known that restart it from {@case.Mode.Label()}, and its battery stays in.";
                draft.Add(new ForceRestart(@case.Mode));
                return null;
            case Rung.WipeCache:
                return RecoveryMenu.AddWipe(@case, @case.Phone, model, @case.Mode, draft.Add, RecoveryMenu.WipeCache);
            case Rung.WipeData when written.ErasesData:
                return "The data were erased with the write: nothing is there to be wiped.";
            case Rung.WipeData:
                draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
                return RecoveryMenu.AddWipe(@case, @case.Phone, model, @case.Mode, draft.Add);
            default:
                throw new ArgumentOutOfRangeException(nameof(rung), rung, "Hands climb no such rung.");
        }
    }

    private static PlanOutcome Refuse(string why) => new(null, [why]);
}
