using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Plans.Paths;

/// <summary>What paths have in common: they read their target, gather refusals, number their steps, and have the plan rehearsed.</summary>
internal sealed class PlanDraft(PathCase @case)
{
    private readonly List<Act> acts = [];
    private readonly List<Act> fallback = [];
    private readonly List<string> refusals = [];

    public IReadOnlyList<string> Refusals => refusals;

    public Figures Figures => @case.Figures;

    /// <summary>What was added so far, as steps.</summary>
    public IReadOnlyList<PlanStep> Steps => Number(acts);

    public void Refuse(string why) => refusals.Add(why);

    public void Add(Act act) => acts.Add(act);

    /// <summary>Whether a phone is held back in its write mode after a write.</summary>
    public bool HoldsRestart => @case.Policy.HoldsRestart;

    public void AddIfItLoops(Act act) => fallback.Add(act);

    /// <summary>A refusal where the lock is closed: in fastboot mode a phone then takes no write at all.</summary>
    public void RefuseIfLocked()
    {
        if (@case.Phone.Of(FactName.LockState).MayBe(LockState.Locked))
            Refuse("Its lock is closed, and in fastboot mode it then takes no write.");
    }

    /// <summary>A refusal where nobody knows where the phone is: hands then cannot be led.</summary>
    public void RefuseIfLost()
    {
        if (@case.Mode == PhoneMode.Unknown)
            Refuse("Where the phone is now is not known. Look at it, and note what it shows.");
    }

    /// <summary>A refusal where its recovery is not, or not known to be, a custom one.</summary>
    /// <param name="stockCannot">What the maker's cannot do, as it follows “its maker's,”.</param>
    public void RefuseUnlessCustomRecovery(string stockCannot)
    {
        var recovery = @case.Phone.Of(FactName.Recovery);
        if (recovery.Is(RecoveryKind.Custom))
            return;
        Refuse(
            recovery.MayBe(RecoveryKind.Stock)
                ? $"Its recovery is its maker's, {stockCannot}."
                : "Whether it has a custom recovery is not known: open its recovery once, and note whose it is."
        );
    }

    /// <summary>Hands bring the phone from one mode into another; a refusal where no way leads there, nothing where it is there.</summary>
    public void Bring(PhoneModel model, PhoneMode from, PhoneMode to)
    {
        if (Router.Best(@case.Phone, model, from, to, @case.Catalogue) is not { } route)
            Refuse(
                $"From {PhoneScreens.Place(from)} no way leads into {PhoneScreens.Place(to)}. {Router.Find(@case.Phone, model, from, to, @case.Catalogue).WhyNone}".TrimEnd()
            );
        else if (route.Legs.Count > 0)
            Add(new BringInto(from, to, route.Minutes));
    }

    /// <summary>The model, or a refusal.</summary>
    public PhoneModel? Model()
    {
        if (@case.Model is { } model)
            return model;
        Refuse("The model code is not known, or not in the catalogue. Read it from the phone.");
        return null;
    }

    /// <summary>
    /// The phone that the write is held against. What comes over a link is read there; from a label or a memory it is not enough. One
    /// sentence for all that was not read.
    /// </summary>
    public PlanTarget? TargetFromLink(PhoneMode mode)
    {
        var missing = new List<FactName>();
        var hasFuses = @case.Catalogue.MakerOf(@case.Phone[FactName.ModelCode].Value)?.HasRollbackFuses ?? true;
        var (serial, model) = (Read(FactName.Serial, out var number) ? number : null, Read(FactName.ModelCode, out var code) ? code : null);
        LockState? lockState = Read(FactName.LockState, out var state) ? state : null;
        Revision? floor = hasFuses && Read(FactName.RollbackFloor, out var revision) ? revision : null;
        if (missing.Count == 0)
            return new PlanTarget(serial, model!, floor, lockState) { From = Sources() };
        var names = missing.Select(name => name.LabelInText).ToList();
        Refuse(
            $"{Capital(Join(names))} {(names.Count == 1 ? "was" : "were")} not read over the link since the last write. Bring the phone into {mode.Label()} and read it."
        );
        return null;

        bool Read<T>(FactOf<T> fact, out T value)
        {
            if (
                @case.Phone[fact].Claims.FirstOrDefault(claim => claim.Source == FactSource.Link) is { } read
                && fact.TryRead(read.Value, out value)
            )
                return true;
            missing.Add(fact);
            value = default!;
            return false;
        }
    }

    /// <summary>The phone as the best source tells it, for paths that no link takes part in.</summary>
    public PlanTarget TargetAsKnown(PhoneModel model) =>
        new(
            @case.Phone[FactName.Serial].Value,
            model.Code,
            @case.Phone.Of(FactName.RollbackFloor).Best(),
            @case.Phone.Of(FactName.LockState).Best()
        )
        {
            From = Sources(),
        };

    /// <summary>The plan, rehearsed; or why there is none.</summary>
    /// <param name="choice">The path.</param>
    /// <param name="target">The phone, or null where it was refused.</param>
    /// <param name="package">The package that was chosen, or null.</param>
    /// <param name="rest">The bundle that it is written with, or null.</param>
    public PlanOutcome Finish(PathChoice choice, PlanTarget? target, Package? package, Package? rest = null)
    {
        if (refusals.Count > 0 || target is null)
            return new PlanOutcome(null, refusals);
        IReadOnlyList<PackageUse> packages =
        [
            .. new[] { package, rest }
                .OfType<Package>()
                .Select(used => new PackageUse(used.Id, used.Title, used.Revisions.Count == 1 ? used.Revisions[0] : null)),
        ];
        var plan = new Plan(Plan.Current, choice, target, packages, Number(acts), Number(fallback), Rehearsal.None)
        {
            Watch = WatchRules.Of(@case.Policy),
        };
        var rehearsal = Rehearser.Rehearse(plan, @case, package);
        return rehearsal.WhyNot is { } why
            ? new PlanOutcome(null, [why]) { IsRefusedByRehearsal = true }
            : new PlanOutcome(plan with { Rehearsal = rehearsal }, []);
    }

    private List<PlanStep> Number(IEnumerable<Act> list)
    {
        var steps = new List<PlanStep>();
        var chainIsOpen = false;
        foreach (var act in list)
        {
            var writes = act.Touches.Count > 0;
            var learned = @case.Times?.Of(act);
            steps.Add(
                new PlanStep(steps.Count + 1, act, learned?.Seconds ?? act.Seconds(Figures), writes && !chainIsOpen)
                {
                    JobsBehind = learned?.Jobs ?? 0,
                }
            );
            // A boot chain, all of it, and its restart belong together.
            if (act.StartsThePhone)
                chainIsOpen = false;
            else if (writes)
                chainIsOpen = act.Touches[^1].Role == PartitionRole.BootChain;
        }

        return steps;
    }

    private TargetSources Sources() =>
        new(
            @case.Phone[FactName.Serial].Best?.Source,
            @case.Phone[FactName.ModelCode].Best?.Source,
            @case.Phone[FactName.RollbackFloor].Best?.Source,
            @case.Phone[FactName.LockState].Best?.Source
        );

    private static string Join(List<string> names) =>
        names.Count == 1 ? names[0] : $"{string.Join(", ", names.Take(names.Count - 1))} and {names[^1]}";

    private static string Capital(string text) => char.ToUpperInvariant(text[0]) + text[1..];
}
