using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>
/// Phones by a seed: some facts known, some left out, some true otherwise than most phones are. Whatever is planned for them keeps what
/// plans promise, and a break somewhere in it never leaves less than its rehearsal said.
/// </summary>
public class SeededPhonesTests
{
    private static readonly IReadOnlyList<int> Phones = [.. Sampled.Seeds(2000, 400)];

    private static readonly FactName[] Modified = [FactName.DeviceStatus, FactName.Recovery, FactName.Root, FactName.RootManager];

    private sealed record Case(int Seed, PathCase Known, Phone Truth, Plan Plan);

    private static T Any<T>(Random random, params T[] of) => of[random.Next(of.Length)];

    private static Case? Of(int seed, Action<string> refusedByRehearsal)
    {
        var random = new Random(seed);
        var model = Any(random, [.. Repo.Catalogue.Models]);
        var mode = Any(
            random,
            model.WriteMode,
            model.WriteMode,
            PhoneMode.System,
            PhoneMode.BootLoop,
            PhoneMode.StockRecovery,
            PhoneMode.Off
        );
        var floor = random.Next(2, 5);
        List<(FactName Name, string? Value)> truth =
        [
            (FactName.LockState, Any(random, "locked", "unlocked", "unlocked")),
            (FactName.DeviceStatus, Any(random, "official", "custom")),
            (FactName.Recovery, Any(random, "stock", "custom")),
            (FactName.Account, Any(random, "none", "signed-in")),
            (FactName.RollbackFloor, floor.ToString()),
            (FactName.BootloaderRevision, floor.ToString()),
            (FactName.Root, Any(random, "none", "present")),
            (FactName.UsbDebugging, Any(random, "off", "authorised")),
            (FactName.Card, Any(random, "none", "present")),
        ];
        // A closed lock starts nothing that is not its maker's.
        if (truth.Contains((FactName.LockState, "locked")))
            truth =
            [
                .. truth.Where(one => !Modified.Contains(one.Name)),
                (FactName.DeviceStatus, "official"),
                (FactName.Recovery, "stock"),
                (FactName.Root, "none"),
            ];
        // What rehearsals play both ways may be left out.
        FactName[] mayBeUnknown = [FactName.DeviceStatus, FactName.Recovery, FactName.Account, FactName.RootManager, FactName.Card];
        var known = truth.Select(one => mayBeUnknown.Contains(one.Name) && random.Next(3) == 0 ? (one.Name, null) : one).ToArray();
        var erase = random.Next(2) == 0;
        var package = random.Next(6) switch
        {
            0 => null,
            1 => WholePackage.Backup(model, "SN" + model.Code, hasData: random.Next(2) == 0),
            2 when model.CardUpdate is not null => WholePackage.CardUpdate(model),
            3 when model.Partitions.Any(spec => spec.Role == PartitionRole.Recovery) => WholePackage.Recovery(model),
            4 => WholePackage.Of(model, floor + random.Next(2), hasCleanPack: random.Next(2) == 0, loose: random.Next(2) == 0),
            _ => WholePackage.Of(model, floor, model.Partitions.Select(spec => new TableEntry(spec.Name, spec.SizeBytes))),
        };
        var goal = Any(random, JobGoal.Stock, JobGoal.Stock, JobGoal.Update, JobGoal.Recovery);
        var @case = PathWorld.Case(PathWorld.Phone(model.Code, mode, known), package, erase, goal);
        var suits = PathList.For(@case);
        if (suits.Count == 0)
            return null;
        var path = suits[random.Next(suits.Count)];
        var outcome = path.Compile(@case);
        if (outcome.IsRefusedByRehearsal)
            refusedByRehearsal($"seed {seed}, {model.Code}, {mode.Id()}, {path.Letter}: {string.Join(" ", outcome.Refusals)}");
        return outcome.Plan is { } plan ? new Case(seed, @case, PathWorld.Phone(model.Code, mode, [.. truth]), plan) : null;
    }

    [Fact]
    public void Plans_for_seeded_phones_keep_what_plans_promise_and_end_no_worse_than_rehearsed()
    {
        var planned = 0;
        var paths = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        var wrong = new System.Collections.Concurrent.ConcurrentQueue<string>();
        Parallel.ForEach(Phones, seed =>
        {
            if (Of(seed, wrong.Enqueue) is not { } one)
                return;
            Interlocked.Increment(ref planned);
            paths.AddOrUpdate(one.Plan.Choice.Path, 1, (_, count) => count + 1);
            KeepsItsPromises(one);
            EndsAsSaid(one);
            EndsNoWorse(one);
        });
        Assert.True(wrong.IsEmpty, string.Join("\n", wrong.Order()));
        Assert.True(planned > Phones.Count / 4, $"only {planned} of {Phones.Count} had a plan");
        Assert.True(paths.Count >= 9, $"only {string.Join(", ", paths.Keys.Order())}");
    }

    private static void KeepsItsPromises(Case one)
    {
        var plan = one.Plan;
        var gates = Gates
            .Evaluate(new GateCase(plan, one.Known.Package, one.Known.Phone, null, false, 0, null, [], [], Repo.Catalogue.Figures))
            .Select(gate => gate.Id)
            .ToHashSet();
        // Nothing irreversible without the gate that it needs.
        void Needs(bool when, params GateId[] ids) =>
            Assert.True(!when || ids.Any(gates.Contains), $"seed {one.Seed}, {plan.Choice.Path}: {ids[0]}");
        Needs(plan.ErasesData, GateId.DataLoss, GateId.OwnBackup);
        Needs(plan.ErasesData || plan.WritesSystem, GateId.Accounts);
        Needs(plan.RaisesFloor, GateId.OneWay);
        Needs(plan.ClosesLock, GateId.ProvenStock);
        Needs(plan.NeedsLink, GateId.Target);
        Needs(plan.Changes, GateId.Backup);
        // The boot chain is never split: from its first image to the phone's start nothing may be stopped.
        var chain = plan.Steps.Where(step => step.Act.Touches.Any(touch => touch.Role == PartitionRole.BootChain)).ToList();
        if (chain.Count > 1)
            Assert.All(chain.Skip(1), step => Assert.False(step.MayStopBefore, $"seed {one.Seed}"));
        // Whoever wants the data kept is asked before a wipe may follow.
        Needs(!plan.ErasesData && plan.IfItLoops.Count > 0, GateId.DataLoss);
    }

    // What a person or a computer does next is decided by what is known; what becomes of it, by how the phone is in truth.
    private static (PhoneTwin Twin, TwinScene Scene, TwinState State) Begin(Case one)
    {
        var twin = new PhoneTwin(one.Known.Model!, Repo.Catalogue);
        var scene = new TwinScene(twin, Repo.Catalogue, one.Known.Phone);
        var state = TwinFactory.Of(one.Truth, one.Known.Model!, FirstMode(one.Plan) ?? one.Known.Mode, TwinScene.Computer);
        return (twin, scene, one.Plan.NeedsLink ? state with { Cable = CableTo.Computer, Computer = TwinScene.Computer } : state);
    }

    private static PhoneMode? FirstMode(Plan plan) =>
        plan
            .Steps.Select(step =>
                step.Act is BringInto bring ? bring.From
                : step.Act.By == ActBy.Link ? step.Act.In
                : null
            )
            .FirstOrDefault(mode => mode is not null);

    /// <summary>Undisturbed it runs, or loops where that was foreseen; data are gone only where that was said.</summary>
    private static void EndsAsSaid(Case one)
    {
        // A lock is closed over what is proved to be its maker's, or the gate stays closed.
        if (one.Plan.ClosesLock && one.Truth.Of(FactName.Recovery).Is(RecoveryKind.Custom))
            return;
        var (twin, scene, state) = Begin(one);
        var before = state.Data;
        foreach (var step in one.Plan.Steps)
        {
            foreach (var happening in step.Act.OnTwin(scene, state))
                state = twin.Next(state, happening);
        }

        state = Rested(twin, state);
        var name = $"seed {one.Seed}, {one.Known.Model!.Code}, {one.Plan.Choice.Path}";
        var data = one.Plan.Rehearsal.Fates[0].Kind;
        if (one.Plan.Changes)
            Assert.True(
                state.Mode is PhoneMode.System or PhoneMode.SetupWizard || state.Mode == PhoneMode.BootLoop && !one.Plan.ErasesData,
                $"{name}: ends with {state.Mode.Label()}"
            );
        Assert.True(data != FateKind.Kept || state.Data?.Apps == before?.Apps, $"{name}: data were said to be kept");
        Assert.True(data != FateKind.Lost || state.Data is null or { Apps: 0 }, $"{name}: data were said to be lost");
    }

    private static void EndsNoWorse(Case one)
    {
        var (plan, random) = (one.Plan, new Random(~one.Seed));
        var (twin, scene, state) = Begin(one);
        var run = plan.Steps.Where(step => !step.Act.FollowsTheRun).ToList();
        var breaksIn = run[random.Next(run.Count)];
        foreach (var step in run)
        {
            var before = state;
            foreach (var happening in step.Act.OnTwin(scene, state))
            {
                if (step == breaksIn && happening is TimePasses { Milliseconds: > 1000 } time && random.Next(3) == 0)
                {
                    Judge(step, twin.Next(state, new TimePasses((long)(time.Milliseconds * random.NextDouble()))));
                    return;
                }

                state = twin.Next(state, happening);
            }

            if (step != breaksIn)
                continue;
            Judge(step, before);
            return;
        }

        void Judge(PlanStep step, TwinState at)
        {
            TwinEvent mistake = random.Next(3) switch
            {
                0 => new CableOut(),
                1 => new PowerGone(),
                _ => new ForcedRestart(),
            };
            var after = twin.Next(at, mistake);
            foreach (var time in Hands.UntilRest(twin, after))
                after = twin.Next(after, time);
            if (after.Mode != PhoneMode.Emergency && plan.Steps[0].Act.In != PhoneMode.Emergency)
                after = Rested(twin, twin.Next(after with { Charge = Math.Max(after.Charge, 60_000_000) }, new ForcedRestart()));
            var isEmergency = after.Mode == PhoneMode.Emergency;
            Assert.True(
                !isEmergency || plan.RiskOf(step).Risk >= RiskKind.OnlyEmergency || FirstMode(plan) == PhoneMode.Emergency,
                $"seed {one.Seed}, {plan.Choice.Path}: step {step.Number} was said to be {plan.RiskOf(step).Risk}"
            );
        }
    }

    private static TwinState Rested(PhoneTwin twin, TwinState state)
    {
        foreach (var time in Hands.UntilRest(twin, state))
            state = twin.Next(state, time);
        return state;
    }
}
