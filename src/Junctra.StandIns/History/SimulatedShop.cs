using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Insight;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;
using Junctra.Store.Logbook;

namespace Junctra.StandIns.History;

/// <summary>A cable of the simulated bench: how much slower it is than a good one, and how often it lets go in a long write.</summary>
internal sealed record SimulatedCable(string Label, double Slower, double LetsGo, double Used);

/// <summary>A pair of hands: how quick, and how far they miss a moment, in seconds.</summary>
internal sealed record SimulatedHands(string Name, double Slower, double Misses, double Works);

/// <summary>
/// Ten weeks of the demo shop, played by a seed: what is wrong with a phone, what its owner says, what somebody sees, how fast a cable is
/// and when it lets go are chance; everything that Junctra says of it the real core says: triage, match, plan, rehearsal, twin, estimates
/// from what was logged until then. The shop has ways of its own which its log shows: a hub that slows every write, one frayed cable, a new
/// pair of hands.
/// </summary>
internal sealed class SimulatedShop(ModelCatalogue catalogue, IReadOnlyList<Package> library, int seed = SimulatedShop.Seed)
{
    /// <summary>Jobs that are played; their tickets end where those of the demo bench begin.</summary>
    public const int Jobs = 160;

    private const int FirstTicket = 255,
        Seed = 20260907,
        Open = 9,
        Close = 18;
    private const double ComesBack = 0.06;

    // The bench takes the phones in a row: this many minutes apart on the whole.
    private const double MinutesApart = 215;
    private static readonly DateTimeOffset Monday = new(2026, 9, 7, Open, 0, 0, TimeSpan.Zero);

    /// <summary>The cables, the frayed one among them.</summary>
    public static IReadOnlyList<SimulatedCable> Cables { get; } =
    [new("red, short", 1, 0.02, 5), new("grey, 1 m", 1.12, 0.05, 4), new("white, frayed", 1.55, 0.28, 2)];

    /// <summary>Who works at the bench.</summary>
    public static IReadOnlyList<SimulatedHands> People { get; } = [new("bench", 1.1, 0.35, 6), new("lead", 0.8, 0.15, 3)];

    /// <summary>By what this shop is slower than the figures.</summary>
    public static double Slower(TimeKind kind, string model) =>
        kind switch
        {
            TimeKind.Write or TimeKind.Copy => model.StartsWith("TN", StringComparison.Ordinal) ? 1.35 : 1.15,
            TimeKind.Verify or TimeKind.Unpack => 0.7,
            TimeKind.FirstBoot => model.StartsWith("HX", StringComparison.Ordinal) ? 0.85 : 1.2,
            _ => 1,
        };

    private readonly List<LoggedTime> log = [];
    private readonly List<(PhoneModel Model, string Serial, DateTimeOffset At)> gone = [];

    public ModelCatalogue Catalogue => catalogue;

    public Dice Dice { get; } = new(seed);

    /// <summary>What the shop had learned until now.</summary>
    public Estimates Estimates { get; private set; } = Estimates.None;

    /// <summary>The packages that name a model.</summary>
    public IReadOnlyList<Package> For(PhoneModel model) =>
        [.. library.Where(package => package.Says(FactName.ModelCode).Contains(model.Code, StringComparer.OrdinalIgnoreCase))];

    /// <summary>Every package, for rules that look at what lies beside one.</summary>
    public IReadOnlyList<Package> Library => library;

    /// <summary>Plays all of it, in the order in which the phones came.</summary>
    public IEnumerable<JobRecord> Play() => PlayJobs().Select(played => played.Record);

    /// <summary>The same, with the work that each job took.</summary>
    public IEnumerable<(JobRecord Record, IReadOnlyList<DoneWork> Work)> PlayJobs()
    {
        var models = catalogue.Models.Where(model => For(model).Count > 0).OrderBy(model => model.Code, StringComparer.Ordinal).ToList();
        var at = Monday;
        for (var i = 0; i < Jobs; i++)
        {
            at = Working(at.AddMinutes(MinutesApart * Dice.Strays(0.6)));
            var again = gone.Where(one => at - one.At < TimeSpan.FromDays(20) && at > one.At).ToList();
            var (model, serial) =
                again.Count > 0 && Dice.Chance(ComesBack)
                    ? Dice.Pick(again) is var back
                        ? (back.Model, back.Serial)
                        : default
                    : (Dice.Pick(models, one => For(one).Count), $"SIM{i:000}{Dice.Below(100_000):00000}");
            var ticket = (FirstTicket + i).ToString("0000");
            var job = new SimulatedJob(this, model, serial, at, ticket, KeyOf(ticket));
            var record = job.Play();
            Learn(record);
            if (record.Job.HandedBackAt is { } left)
                gone.Add((model, serial, left));
            yield return (record, job.Work);
        }
    }

    /// <summary>The next moment at which the shop is open.</summary>
    public static DateTimeOffset Working(DateTimeOffset at)
    {
        while (at.DayOfWeek == DayOfWeek.Sunday || at.Hour < Open || at.Hour >= Close)
            at = new DateTimeOffset(at.Date, TimeSpan.Zero)
                .AddDays(at.Hour < Open && at.DayOfWeek != DayOfWeek.Sunday ? 0 : 1)
                .AddHours(Open);
        return at;
    }

    private static Guid KeyOf(string ticket) => new(SHA256.HashData(Encoding.UTF8.GetBytes($"{Seed} {ticket}")).AsSpan(0, 16));

    private void Learn(JobRecord record)
    {
        foreach (var run in record.Job.Runs)
        {
            var facts = record.Job.Facts.Where(fact => fact.At >= run.EndedAt).Select(fact => fact.ToFact());
            var cable = record.Tries.LastOrDefault(one => one.Row.At <= run.BegunAt && one.Cable is not null)?.Cable;
            log.AddRange(
                Core.Logbook.MeasuredStep.Of(run.Plan, record.Journal[run.Id], facts)
                    .Select(step => LoggedTime.Of(record.Job.Runs[0].Id, run.Plan, step, cable, catalogue.Figures))
            );
        }

        Estimates = Estimates.Of(log);
    }
}
