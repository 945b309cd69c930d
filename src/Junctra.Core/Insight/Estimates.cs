using Junctra.Core.Catalogue;
using Junctra.Core.Logbook;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Insight;

/// <summary>A stretch of time of the shop's log, beside what the figures say of it.</summary>
/// <param name="Job">The job.</param>
/// <param name="Kind">What took the time.</param>
/// <param name="Model">Model code.</param>
/// <param name="Link">The link, by its mode's name; empty where none.</param>
/// <param name="Cable">Label of the cable; empty where nobody said.</param>
/// <param name="By">Whose hands; empty where nobody's.</param>
/// <param name="Usual">What the figures of the catalogue say, in seconds, more than 0.</param>
/// <param name="Took">What it took, in seconds, more than 0.</param>
public sealed record LoggedTime(int Job, TimeKind Kind, string Model, string Link, string Cable, string By, double Usual, double Took)
{
    /// <summary>What those hands are in the shop, its bench or its counter; empty where nobody's, or not known.</summary>
    public string Role { get; init; } = "";

    /// <summary>A step of a run, as the log keeps it.</summary>
    /// <param name="job">The job.</param>
    /// <param name="plan">The run's plan.</param>
    /// <param name="step">The step.</param>
    /// <param name="cable">Label of the cable; null where nobody said.</param>
    /// <param name="figures">The figures of the catalogue.</param>
    public static LoggedTime Of(int job, Plan plan, MeasuredStep step, string? cable, Figures figures) =>
        new(
            job,
            step.Kind,
            plan.Target.ModelCode,
            step.Acts[0].In is { } mode ? EnumNames.Of(mode) : "",
            cable ?? "",
            step.By ?? "",
            step.Acts.Sum(act => act.Seconds(figures).Typical),
            step.Took
        );
}

/// <summary>What the log has learned of one kind of time: how it stands to the figures.</summary>
/// <param name="Times">Times the figure that half of the jobs take.</param>
/// <param name="SlowTimes">Times the figure that nine of ten jobs beat.</param>
/// <param name="Jobs">Jobs behind it.</param>
public sealed record Estimate(double Times, double SlowTimes, int Jobs);

/// <summary>
/// <para>How long things take in this shop, learned from its own log (specification: section 9.6 of the job).</para>
/// <para>
/// What is learned is how a time stands to the catalogue's figure for the same act, in the logarithm, so that a rate, a first boot and a
/// minute of hands are learned alike, and a large image teaches something of a small one. It is learned step by step, each drawn towards
/// the one before: the kind of time in the whole shop, drawn towards the figure; the same with a model and its link; the same with a cable,
/// or, of hands, with those of a role, and then with a person's.
/// </para>
/// <para>
/// How far a step is believed: the middle of its jobs lies off by <c>d</c>, and <c>v</c> is what the middle of so many jobs strays by
/// itself, squared. It is moved by <c>d · max(0, 1 − v · (1 + 3 / n) / d²)</c> for <c>n</c> jobs. Where jobs stray as much as they lie off,
/// nothing is learned; with many jobs all of it is. Below three jobs nothing is learned at all. One job counts once however many steps of
/// it were measured.
/// </para>
/// <para>
/// The slow time is where nine of ten jobs to come should lie below: the spread is the jobs' own, together with that of the step before,
/// first of all the figure's band, as if four jobs had shown it, and with what the middle itself is not sure of.
/// </para>
/// </summary>
public sealed class Estimates
{
    /// <summary>Jobs below which nothing is learned.</summary>
    public const int LeastJobs = 3;

    // A job that took forty times as long was left over lunch: it is believed to have been slow, and not how slow.
    private const double Furthest = 2;

    private readonly Dictionary<Key, List<double>> byKey;

    private readonly record struct Key(TimeKind Kind, string Model, string Link, string Cable, string Role, string By);

    private Estimates(Dictionary<Key, List<double>> byKey) => this.byKey = byKey;

    /// <summary>Nothing learned yet.</summary>
    public static Estimates None { get; } = Of([]);

    /// <summary>Learns from a log.</summary>
    public static Estimates Of(IEnumerable<LoggedTime> log)
    {
        var byKey = new Dictionary<Key, List<double>>();
        var sound = log.Where(one => one is { Usual: > 0, Took: > 0 }).ToList();
        foreach (var keyed in sound.SelectMany(one => Keys(one).Distinct().Select(key => (key, one))).GroupBy(pair => pair.key))
            byKey[keyed.Key] =
            [
                .. keyed
                    .GroupBy(pair => pair.one.Job)
                    .Select(job => job.Average(pair => Math.Clamp(Math.Log(pair.one.Took / pair.one.Usual), -Furthest, Furthest))),
            ];
        return new Estimates(byKey);
    }

    private static IEnumerable<Key> Keys(LoggedTime one)
    {
        var shop = new Key(one.Kind, "", "", "", "", "");
        yield return shop;
        var model = shop with { Model = one.Model, Link = one.Link };
        if (one.Model.Length > 0)
            yield return model;
        if (one.Cable.Length > 0 && IsOfTheCable(one.Kind))
            yield return model with
            {
                Cable = one.Cable,
            };
        if (one.Role.Length > 0 && IsOfAPerson(one.Kind))
            yield return model with
            {
                Role = one.Role,
            };
        if (one.By.Length > 0 && IsOfAPerson(one.Kind))
            yield return model with
            {
                By = one.By,
            };
    }

    private static bool IsOfTheCable(TimeKind kind) => kind is TimeKind.Write or TimeKind.Copy;

    private static bool IsOfAPerson(TimeKind kind) => kind is TimeKind.Hands or TimeKind.Check;

    /// <summary>What is known of a kind of time; null below <see cref="LeastJobs"/> jobs of it in the whole shop.</summary>
    /// <param name="kind">What takes the time.</param>
    /// <param name="band">The figure's band for the act.</param>
    /// <param name="model">Model code, or empty for any.</param>
    /// <param name="link">The link, or empty.</param>
    /// <param name="cable">The cable, or empty where nobody knows.</param>
    /// <param name="by">Whose hands it will be, or empty.</param>
    /// <param name="role">What they are in the shop, or empty.</param>
    public Estimate? Find(
        TimeKind kind,
        Band band,
        string model = "",
        string link = "",
        string cable = "",
        string by = "",
        string role = ""
    )
    {
        if (band.Typical <= 0)
            return null;
        var figureSpread = Learning.SpreadOf(band);
        Learning? learned = null;
        foreach (var key in Keys(new LoggedTime(0, kind, model, link, cable, by, 1, 1) { Role = role }).Distinct())
            if (byKey.GetValueOrDefault(key) is { Count: >= LeastJobs } jobs)
                learned = Learning.Of(jobs, learned?.Middle ?? 0, learned?.Spread ?? figureSpread);
            else if (learned is null)
                return null;

        return new Estimate(Math.Exp(learned!.Middle), Math.Exp(learned.Middle + Learning.NineOfTen * learned.Strays), learned.Count);
    }

    /// <summary>What a shop has learned of every kind of time, most jobs first.</summary>
    /// <param name="band">The figure's band of a kind, typical 1.</param>
    public IReadOnlyList<(TimeKind Kind, string Model, string Link, Estimate Estimate)> All(Func<TimeKind, Band> band) =>
        [
            .. byKey
                .Where(pair => pair.Key is { Cable: "", By: "", Role: "" } && pair.Value.Count >= LeastJobs)
                .Select(pair =>
                    (pair.Key.Kind, pair.Key.Model, pair.Key.Link, Find(pair.Key.Kind, band(pair.Key.Kind), pair.Key.Model, pair.Key.Link)!)
                )
                .OrderBy(line => line.Kind)
                .ThenBy(line => line.Model, StringComparer.Ordinal)
                .ThenBy(line => line.Link, StringComparer.Ordinal),
        ];
}

/// <summary>How long the acts of one job take, by the shop's log.</summary>
/// <param name="estimates">What the shop has learned.</param>
/// <param name="figures">The figures of the catalogue, to which it was learned how times stand.</param>
/// <param name="model">The job's model code.</param>
/// <param name="cable">The cable in use, or empty.</param>
/// <param name="by">Whose hands it will be, or empty.</param>
/// <param name="role">What they are in the shop, or empty.</param>
public sealed class JobTimes(Estimates estimates, Figures figures, string model, string cable, string by, string role = "") : IActTimes
{
    /// <inheritdoc/>
    public ActTime? Of(Act act)
    {
        var usual = act.Seconds(figures);
        var link = act.In is { } mode ? EnumNames.Of(mode) : "";
        return estimates.Find(act.Timed, usual, model, link, cable, by, role) is { } known
            ? new ActTime(new Band(usual.Typical * known.Times, usual.Typical * known.SlowTimes), known.Jobs)
            : null;
    }
}
