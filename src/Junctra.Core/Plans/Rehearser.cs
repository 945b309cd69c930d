using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>Plays a plan on twins of the phone: to its end, and with every mistake at several points of every step.</summary>
public static class Rehearser
{
    /// <summary>Most twins that are played for one plan.</summary>
    public const int MaxBranches = 64;

    // What decides how a plan ends and is often not known, and for which plans it does.
    private static readonly (FactName Fact, string[] Values, Func<Plan, bool> Matters)[] Open =
    [
        (FactName.DeviceStatus, Words(FactName.DeviceStatus), plan => plan.WritesSystem),
        // An account is asked for by the set-up alone, which follows an erase.
        (FactName.Account, Words(FactName.Account), plan => plan.ErasesData || Touches(plan, PartitionRole.UserData)),
        // Whose recovery it is decides what a write of it replaces, and what its menu does in which words.
        (FactName.Recovery, Words(FactName.Recovery), plan => Touches(plan, PartitionRole.Recovery) || EntersRecovery(plan)),
    ];

    private static bool EntersRecovery(Plan plan) => plan.Steps.Any(step => step.Act is ChooseEntry { IsInRecovery: true });

    private static bool Touches(Plan plan, PartitionRole role) => plan.Steps.Any(step => step.Act.Touches.Any(touch => touch.Role == role));

    private static string[] Words(FactName fact) => [.. fact.Definition.Form.Words.Select(word => word.Value)];

    /// <summary>Rehearses a plan.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="case">What it was compiled for.</param>
    /// <param name="package">Its package, or null.</param>
    public static Rehearsal Rehearse(Plan plan, PathCase @case, Package? package)
    {
        var model = @case.Model!;
        var twin = new PhoneTwin(model, @case.Catalogue);
        // Every branch is a twin of its own; they are played side by side and heard in their order, so that one plan has one rehearsal.
        // Whoever asks plays what nobody else has begun. A parallel query would wait for others to begin it, and pages that are asked for
        // at once would wait for each other.
        var phones = Branches(@case.Phone, plan).ToList();
        var branches = new (string? Why, PlayedBranch? Played, IReadOnlyList<StepRisk> Risks)[phones.Count];
        Parallel.For(0, phones.Count, i =>
            branches[i] = Play(
                new RehearsalBranch(new TwinScene(twin, @case.Catalogue, phones[i]), plan, Start(plan, @case, phones[i], model))
            )
        );
        if (branches.Select(branch => branch.Why).FirstOrDefault(why => why is not null) is { } fails)
            return Rehearsal.Fails(fails);
        var played = Array.ConvertAll(branches, branch => branch.Played!);
        var harms = Array.ConvertAll(branches, branch => Harm(branch.Played!, branch.Risks));
        var risks = new Dictionary<(int Step, string? Partition), StepRisk>();
        foreach (var risk in branches.SelectMany(branch => branch.Risks))
            risks[(risk.Step, risk.Partition)] = risks.TryGetValue((risk.Step, risk.Partition), out var worst)
                ? StepRisk.Worse(worst, risk)
                : risk;

        return new Rehearsal(
            null,
            Fates.Of(plan, @case, played, twin),
            Expectations.Of(plan, @case, played, twin),
            [.. risks.Values.OrderBy(risk => risk.Step).ThenBy(risk => risk.Partition is not null)],
            played.Length
        )
        {
            OpenFacts =
            [
                .. OpenFor(@case.Phone, plan)
                    .Select(one => new OpenFact(one.Fact, Difference(phones.Zip(harms), one.Fact)))
                    .Where(one => one.Difference > 0)
                    .OrderByDescending(one => one.Difference),
            ],
        };
    }

    /// <summary>How much of what may go wrong lies between the values of a fact: the greatest difference of their means.</summary>
    private static double Difference(IEnumerable<(Phone Phone, double Harm)> played, FactName fact)
    {
        var means = played.GroupBy(one => one.Phone[fact].Value, one => one.Harm).Select(value => value.Average()).ToList();
        return means.Max() - means.Min();
    }

    /// <summary>What each mistake would do in one step of a plan: the worst of it on any twin, the worst mistake first.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="case">What it was compiled for.</param>
    /// <param name="number">Number of the step.</param>
    public static IReadOnlyList<Interruption> Interruptions(Plan plan, PathCase @case, int number)
    {
        if (@case.Model is not { } model || plan.Steps.FirstOrDefault(step => step.Number == number) is not { } asked)
            return [];
        var twin = new PhoneTwin(model, @case.Catalogue);
        return
        [
            .. Branches(@case.Phone, plan)
                .Select(phone => new RehearsalBranch(new TwinScene(twin, @case.Catalogue, phone), plan, Start(plan, @case, phone, model)))
                .Where(branch => branch.Play() is null)
                .SelectMany(branch => branch.Interruptions(asked))
                .GroupBy(one => one.What)
                .Select(group => group.MaxBy(one => (one.Risk, one.DataGone, one.WayBackMinutes ?? 0))!)
                .OrderByDescending(one => (one.Risk, one.DataGone)),
        ];
    }

    /// <summary>What may go wrong on one twin, as a figure that is only good for comparing it with another of the same plan.</summary>
    private static double Harm(PlayedBranch played, IReadOnlyList<StepRisk> risks) =>
        risks.Sum(risk => (int)risk.Risk + (risk.DataGone ? 1 : 0))
        + (played.End.Mode == PhoneMode.BootLoop ? Loops : 0)
        + (played.End.AsksForAccount is null ? 0 : AsksForAccount);

    // What an end weighs beside the steps that may break: a loop most, an account that is asked for least.
    private const double Loops = 5,
        AsksForAccount = 2;

    private static (string? Why, PlayedBranch? Played, IReadOnlyList<StepRisk> Risks) Play(RehearsalBranch branch) =>
        branch.Play() is { } why ? (why, null, []) : (null, new PlayedBranch(branch.Start, branch.End, branch.Seen), [.. branch.Risks()]);

    /// <summary>What is not known of a phone and matters for a plan, with the values that it may have.</summary>
    private static IEnumerable<(FactName Fact, string[] Values)> OpenFor(Phone phone, Plan plan) =>
        Open.Where(one => phone[one.Fact].State != FactState.Known && one.Matters(plan))
            // A closed lock starts no recovery but its maker's.
            .Where(one => one.Fact != FactName.Recovery || !phone.Of(FactName.LockState).Is(LockState.Locked))
            .Select(one => (one.Fact, one.Values));

    /// <summary>The phones that this one may be: every combination of what is not known and matters.</summary>
    private static IEnumerable<Phone> Branches(Phone phone, Plan plan)
    {
        IEnumerable<IReadOnlyList<Fact>> branches =
        [
            [],
        ];
        foreach (var (fact, values) in OpenFor(phone, plan))
            branches = branches.SelectMany(
                _ => values,
                (known, value) => (IReadOnlyList<Fact>)[.. known, new Fact(fact, value, FactSource.Customer, default, "rehearsal")]
            );
        return branches
            .Take(MaxBranches)
            .Select(more => new Phone(phone.All.Where(fact => more.All(one => one.Name != fact.Name)).Concat(more)));
    }

    /// <summary>The twin of a phone as it is when a plan begins.</summary>
    internal static TwinState Start(Plan plan, PathCase @case, Phone phone, PhoneModel model)
    {
        // Hands lead from where it is; else a link's first act finds it in its mode: the route brings it there before the plan begins.
        var mode = plan
            .Steps.Select(step =>
                step.Act is BringInto bring ? bring.From
                : step.Act.By == ActBy.Link ? step.Act.In
                : null
            )
            .FirstOrDefault(one => one is not null);
        var state = TwinFactory.Of(phone, model, mode ?? @case.Mode, TwinScene.Computer);
        return plan.NeedsLink ? state with { Cable = CableTo.Computer, Computer = TwinScene.Computer } : state;
    }
}
