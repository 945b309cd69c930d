using System.Globalization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Routes;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>
/// Makes new exercises of a kind from a seed, so that nobody learns answers by heart: another phone, another mode, another shelf. The same
/// seed makes the same exercise; each is tried out before it is given to anybody.
/// </summary>
public static class ExerciseGenerator
{
    private const int MostTries = 200;

    // Modes in which no phone is left lying for somebody to practise on.
    private static readonly PhoneMode[] NotBegunIn = [PhoneMode.Unknown, PhoneMode.Starting, PhoneMode.UpdateRunning, PhoneMode.Emergency];

    /// <summary>What it can make.</summary>
    public static IReadOnlyList<string> Kinds { get; } = ["keys", "job", .. Enum.GetValues<Asked>().Select(asked => EnumNames.Of(asked))];

    /// <summary>Makes an exercise.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>.</param>
    /// <param name="seed">What it differs by.</param>
    /// <param name="catalogue">Models.</param>
    /// <exception cref="ArgumentException">The kind is none, or the catalogue has no phone with which one can be made.</exception>
    public static Exercise Make(string kind, int seed, ModelCatalogue catalogue)
    {
        if (!Kinds.Contains(kind))
            throw new ArgumentException($"{kind} is no kind of exercise; there are {string.Join(", ", Kinds)}.", nameof(kind));
        var draws = new Draws(seed);
        for (var tries = 0; tries < MostTries; tries++)
            if (Drawn(kind, seed, draws, catalogue) is { } exercise && ExerciseCheck.Of(exercise, catalogue).Problems.Count == 0)
                return exercise;
        throw new ArgumentException($"No exercise of the kind {kind} can be made with the phones of this catalogue.", nameof(kind));
    }

    private static Exercise? Drawn(string kind, int seed, Draws draws, ModelCatalogue catalogue)
    {
        var model = draws.Pick([.. catalogue.Models]);
        var ways = WayCompiler.Of(model, catalogue, PhoneMode.System);
        var modes = ways.SelectMany(way => new[] { way.From, way.To }).Distinct().Where(CanLie).Order().ToList();
        var mode = draws.Pick(modes);
        var facts = new Dictionary<FactName, string>
        {
            [FactName.BatteryPercent] = (20 + draws.Below(76)).ToString(CultureInfo.InvariantCulture),
            [FactName.LockState] = FactName.LockState.Write(draws.Below(4) == 0 ? LockState.Unlocked : LockState.Locked),
        };
        var phone = new PracticePhone(model.Code, mode, facts);
        return kind switch
        {
            "keys" => Keys(),
            "job" => DrawnJobs.Make(draws, catalogue, draws.Below(2) == 0) is var (comes, job)
                ? new Exercise(
                    $"job-{seed}",
                    Ladder.Jobs,
                    $"{catalogue.Model(comes.ModelCode)!.ProductName}: {(job.ErasesData ? "the data may go" : "the data are wanted")}",
                    $"jobs/{job.Path}",
                    job.ErasesData ? "“It only has to work again; nothing on it matters.”" : "“My pictures are on it.”",
                    comes,
                    job
                )
                : null,
            _ when EnumNames.Parse<Asked>(kind) is { } asked => Question(asked),
            _ => null,
        };

        Exercise Made(Ladder ladder, string title, string skill, PracticeTask task) =>
            new($"{kind}-{seed}", ladder, title, skill, "It lies there like this.", phone, task);

        Exercise? Keys()
        {
            var aims = modes.Where(aim => aim != mode && aim.WhyNoGoal() is null && aim != PhoneMode.LockChange).ToList();
            if (aims.Count == 0)
                return null;
            var aim = draws.Pick(aims);
            return
                Router.Best(phone.Known(), model, mode, aim, catalogue, KeyPractice.Policy) is { Legs.Count: > 0 } route
                && route.Legs.All(leg => leg.Kind is WayKind.Keys or WayKind.Menu)
                ? Made(
                    Ladder.Keys,
                    $"From {mode.Label()} into {aim.Label()}",
                    $"{model.KeyFamily}/{route.Legs[0].Score.Id}",
                    new KeyTask(aim)
                )
                : null;
        }

        Exercise? Question(Asked asked)
        {
            var skill = $"reading/{kind}";
            switch (asked)
            {
                case Asked.WhichScreen:
                    return Made(Ladder.Reading, "Which screen is this", skill, new QuestionTask(asked));
                case Asked.MayUnplug:
                    phone = phone with { Mode = draws.Below(3) == 0 ? PhoneMode.UpdateRunning : mode };
                    return Made(Ladder.Reading, "May it be unplugged", skill, new QuestionTask(asked));
                case Asked.WhatIsLost:
                    var entries = new PhoneTwin(model, catalogue).EntriesOf(phone.Start(model));
                    return entries.Count == 0
                        ? null
                        : Made(Ladder.Reading, "What is lost by it", skill, new QuestionTask(asked) { Entry = draws.Pick(entries).Id });
                case Asked.WhichRecipe:
                    var keys = ways.Where(way => way.Kind == WayKind.Keys && way.From == mode && way.Risk is null).ToList();
                    return keys.Count < 2
                        ? null
                        : Made(Ladder.Reading, "Which keys lead there", skill, new QuestionTask(asked) { Aim = draws.Pick(keys).To });
                case Asked.WhichPackage:
                    return Shelf(asked, skill);
                case Asked.WhichRemedy:
                    var sign = draws.Pick([.. catalogue.Links.Signs.Where(one => !one.IsWell)]);
                    var remedies = LinkDoctor.Order(catalogue.Links, sign.Id, [], []);
                    return Made(
                        Ladder.Trouble,
                        "What is tried next at the port",
                        "trouble/silent-port",
                        new QuestionTask(asked)
                        {
                            Sign = sign.Id,
                            Tried = [.. remedies.Take(draws.Below(Math.Max(1, remedies.Count - 2))).Select(one => one.Remedy.Id)],
                        }
                    );
                default:
                    return OfJob(asked);
            }
        }

        // What may go wrong with a job whose phone stands in its write mode.
        Exercise? OfJob(Asked asked)
        {
            if (DrawnJobs.Make(draws, catalogue, true, asked == Asked.WhatFollows ? PhoneMode.Download : null) is not var (comes, job))
                return null;
            phone = comes;
            var last = catalogue.Model(comes.ModelCode)!;
            return asked switch
            {
                Asked.MayBegin => Made(
                    Ladder.Trouble,
                    "May the write begin",
                    "trouble/may-begin",
                    new QuestionTask(asked)
                    {
                        Job = job with
                        {
                            Ports = draws.Below(3) switch
                            {
                                0 => ["port 1", "port 2"],
                                1 => [],
                                _ => ["port 1"],
                            },
                        },
                    }
                ),
                Asked.AfterABreak => Made(
                    Ladder.Trouble,
                    "The cable comes out",
                    "trouble/cable-out",
                    new QuestionTask(asked) { Job = job, BrokeIn = draws.Pick([.. last.Partitions.Where(spec => spec.IsStock)]).Name }
                ),
                Asked.WhatFollows => Made(
                    Ladder.Trouble,
                    "The run waits",
                    "trouble/held-restart",
                    new QuestionTask(asked)
                    {
                        Job = job with { Path = "D", ErasesData = true, Policy = PlanPolicy.Usual with { Wipe = WipeSchool.Held } },
                    }
                ),
                _ => Made(
                    Ladder.Trouble,
                    "It loops after the write",
                    "trouble/rung",
                    new QuestionTask(asked)
                    {
                        Job = job,
                        Tried = draws.Below(3) switch
                        {
                            0 => [],
                            1 => [EnumNames.Of(Rung.Restart)],
                            _ => [EnumNames.Of(Rung.Restart), EnumNames.Of(Rung.WipeCache)],
                        },
                    }
                ),
            };
        }

        // One that fits, and some that only seem to: of a sister model, of a revision that is refused, not whole, of unknown origin.
        Exercise? Shelf(Asked asked, string skill)
        {
            if (DrawnPackages.Make(draws, catalogue, model) is not { Shelf.Count: > 1 } drawn)
                return null;
            foreach (var (name, value) in drawn.Known)
                facts[name] = value;
            return Made(Ladder.Reading, "Which package may be written", skill, new QuestionTask(asked) { Shelf = drawn.Shelf });
        }
    }

    private static bool CanLie(PhoneMode mode) => !NotBegunIn.Contains(mode) && (mode.Standing() is not null || mode == PhoneMode.BootLoop);
}
