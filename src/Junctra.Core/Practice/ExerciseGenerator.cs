using System.Globalization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
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
    public static IReadOnlyList<string> Kinds { get; } = ["keys", .. Enum.GetValues<Asked>().Select(asked => EnumNames.Of(asked))];

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
                ? Made(Ladder.Keys, $"From {mode.Label()} into {aim.Label()}", $"{model.KeyFamily}/{route.Legs[0].Score.Id}", new KeyTask(aim))
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
                default:
                    return Shelf(asked, skill);
            }
        }

        // One that fits, and some that only seem to: of a sister model, of a revision that is refused, not whole, of unknown origin.
        Exercise? Shelf(Asked asked, string skill)
        {
            if (catalogue.MakerOf(model.Code) is not { Grammar.Template: not null } maker)
                return null;
            var floor = 2 + draws.Below(3);
            var known = BuildOf(maker, model, floor);
            if (known is null)
                return null;
            facts[FactName.BootloaderRevision] = facts[FactName.RollbackFloor] = floor.ToString(CultureInfo.InvariantCulture);
            facts[FactName.Build] = known;
            if (maker.Grammar.Read(known)?.Region is { } region)
                facts[FactName.Region] = region;
            var shelf = new List<ShelfPackage>();
            void Add(PhoneModel of, int revision, Func<ShelfPackage, ShelfPackage>? but = null)
            {
                if (BuildOf(maker, of, revision) is { } build)
                    shelf.Add((but ?? (one => one))(new ShelfPackage(of.Code, build)));
            }

            if (draws.Below(5) > 0)
                Add(model, floor);
            Add(model, floor - 1);
            foreach (var sister in maker.Models.Where(other => other != model && other.PackageKind == model.PackageKind).Take(1))
                Add(sister, floor);
            var stock = model
                .Partitions.Where(spec => spec is { IsStock: true, Role: PartitionRole.System or PartitionRole.Boot })
                .ToList();
            if (stock.Count > 0)
                Add(model, floor, one => one with { Without = [draws.Pick(stock).Name], IsProven = false });
            return shelf.Count < 2
                ? null
                : Made(Ladder.Reading, "Which package may be written", skill, new QuestionTask(asked) { Shelf = shelf });
        }
    }

    private static bool CanLie(PhoneMode mode) => !NotBegunIn.Contains(mode) && (mode.Standing() is not null || mode == PhoneMode.BootLoop);

    // Like the maker's example, for another model and revision; null where that is no build of it.
    private static string? BuildOf(Maker maker, PhoneModel model, int revision)
    {
        if (maker.Grammar.Read(maker.Example) is not { } example)
            return null;
        var fields = example.Fields.ToDictionary(StringComparer.Ordinal);
        foreach (var field in maker.Grammar.Fields.Where(field => fields.ContainsKey(field.Name)))
            if (field.Tells == FactName.ModelCode)
                fields[field.Name] = model.Code;
            else if (field.Tells == FactName.BootloaderRevision)
                fields[field.Name] = revision.ToString(CultureInfo.InvariantCulture).PadLeft(fields[field.Name].Length, '0');
        try
        {
            return maker.Grammar.Format(fields);
        }
        catch (ArgumentException)
        {
            return null;
        }
    }

    // Drawn from a seed alone, the same on every machine and with every runtime (SplitMix64).
    private sealed class Draws(int seed)
    {
        private ulong state = (ulong)seed;

        public int Below(int end)
        {
            state += 0x9E3779B97F4A7C15;
            var mixed = (state ^ state >> 30) * 0xBF58476D1CE4E5B9;
            mixed = (mixed ^ mixed >> 27) * 0x94D049BB133111EB;
            return (int)((mixed ^ mixed >> 31) % (ulong)end);
        }

        public T Pick<T>(IReadOnlyList<T> of) => of[Below(of.Count)];
    }
}
