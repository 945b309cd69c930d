using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Practice;
using Junctra.Core.Triage;
using Junctra.Core.Twin;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>Reads <c>practice/*.yaml</c>: exercises. Whether they can be solved, and failed, says <see cref="ExerciseCheck"/>.</summary>
public static class PracticeReader
{
    private static readonly string Ladders = string.Join(", ", Enum.GetValues<Ladder>().Select(ladder => EnumNames.Of(ladder)));
    private static readonly string Questions = string.Join(", ", Enum.GetValues<Asked>().Select(asked => EnumNames.Of(asked)));

    /// <summary>Reads the exercises of a catalogue's folder; none where it has no folder of practice.</summary>
    /// <param name="folder">The catalogue's folder.</param>
    /// <param name="catalogue">The catalogue that was read from it.</param>
    /// <exception cref="CatalogueException">A file is wrong.</exception>
    public static IReadOnlyList<Exercise> Read(string folder, ModelCatalogue catalogue)
    {
        if (!Directory.Exists(Path.Combine(folder, "practice")))
            return [];
        var problems = new List<CatalogueProblem>();
        var exercises = CatalogueReader.Files(folder, "practice", problems).SelectMany(file => ReadFile(file, catalogue)).ToList();
        foreach (var twice in exercises.GroupBy(exercise => exercise.Id).Where(group => group.Count() > 1))
            problems.Add(new CatalogueProblem("practice", 1, $"The exercise {twice.Key} stands there {twice.Count()} times."));
        return problems.Count > 0 ? throw new CatalogueException(problems) : exercises;
    }

    private static List<Exercise> ReadFile(CatalogueNode root, ModelCatalogue catalogue)
    {
        var ladder = root.Word("ladder", EnumNames.Parse<Ladder>, Ladders);
        var exercises = root.Children("exercises").Select(node => ReadExercise(node, ladder, catalogue)).OfType<Exercise>().ToList();
        root.RejectUnknownKeys();
        return exercises;
    }

    private static Exercise? ReadExercise(CatalogueNode node, Ladder ladder, ModelCatalogue catalogue)
    {
        var phone = ReadPhone(node.Child("phone"), catalogue);
        PracticeTask task =
            node.Has("asks") ? ReadQuestion(node, phone?.ModelCode ?? "")
            : node.Has("job") ? ReadJob(node.Child("job"), phone?.ModelCode ?? "")
            : new KeyTask(Mode(node, "aim"));
        var exercise = phone is null
            ? null
            : new Exercise(node.Text("id"), ladder, node.Text("title"), node.Text("skill"), node.Text("told"), phone, task)
            {
                Forbids = node.Has("forbids") ? [.. node.Texts("forbids").Select(text => Forbidden(node, text)).OfType<PhoneMode>()] : [],
                Warns = node.Has("warns") ? [.. node.Children("warns").Select(ReadWarning)] : [],
            };
        node.RejectUnknownKeys();
        return exercise;
    }

    private static QuestionTask ReadQuestion(CatalogueNode node, string model) =>
        new(node.Word("asks", EnumNames.Parse<Asked>, Questions))
        {
            Entry = node.OptionalText("entry"),
            Aim = node.Has("aim") ? Mode(node, "aim") : null,
            Shelf = ReadShelf(node, model),
            Job = node.Has("job") ? ReadJob(node.Child("job"), model) : null,
            BrokeIn = node.OptionalText("broke-in"),
            Sign = node.OptionalText("sign"),
            Tried = node.Has("tried") ? [.. node.Texts("tried")] : [],
        };

    private static JobTask ReadJob(CatalogueNode node, string model)
    {
        var usual = PlanPolicy.Usual;
        var job = new JobTask(node.Text("path"), node.Flag("erases", false))
        {
            Goal = node.Has("goal") ? node.Word("goal", EnumNames.Parse<JobGoal>, Words<JobGoal>()) : JobGoal.Stock,
            NeedsRescue = node.Flag("rescue", false),
            IsProvenStock = node.Flag("proven-stock", false),
            Policy = usual with
            {
                Wipe = node.Has("wipe") ? node.Word("wipe", EnumNames.Parse<WipeSchool>, Words<WipeSchool>()) : usual.Wipe,
                Layout = node.Has("layout") ? node.Word("layout", EnumNames.Parse<LayoutSchool>, Words<LayoutSchool>()) : usual.Layout,
            },
            Shelf = ReadShelf(node, model),
            Seen = node.Has("seen")
                ? [.. node.Child("seen").Entries().Select(seen => new Observation(seen.Key, seen.Value.Scalar ?? ""))]
                : [],
            Said = node.Has("said") ? node.Children("said").Select(ReadSaid).ToDictionary(said => said.Gate, said => said.Said) : new(),
            ReadAfter = node.Has("read-after") ? ReadFacts(node.Child("read-after")) : [],
            Ports = node.Has("ports") ? [.. node.Texts("ports")] : ["port 1"],
        };
        node.RejectUnknownKeys();
        return job;
    }

    private static (GateId Gate, SaidAtGate Said) ReadSaid(CatalogueNode node)
    {
        var said = (new GateId(node.Text("gate")), new SaidAtGate(node.Text("words"), node.OptionalText("means")));
        node.RejectUnknownKeys();
        return said;
    }

    private static string Words<T>()
        where T : struct, Enum => string.Join(", ", Enum.GetValues<T>().Select(one => EnumNames.Of(one)));

    private static IReadOnlyList<ShelfPackage> ReadShelf(CatalogueNode node, string model) =>
        node.Has("shelf") ? [.. node.Children("shelf").Select(shelf => ReadPackage(shelf, model))] : [];

    private static ShelfPackage ReadPackage(CatalogueNode node, string model)
    {
        var package = new ShelfPackage(node.OptionalText("for") ?? model, node.Text("build"))
        {
            Kind = node.Has("kind") ? node.Word("kind", EnumNames.Parse<ShelfKind>, Words<ShelfKind>()) : ShelfKind.Full,
            Says = node.Has("says")
                ? node.Child("says").Entries().ToDictionary(says => says.Key, says => says.Value.Scalar ?? "")
                : new Dictionary<string, string>(),
            IsOnCard = node.Flag("on-card", false),
            Serial = node.OptionalText("serial"),
            PatchedBy = node.OptionalText("patched-by"),
            IsProven = node.Flag("proven", true),
            Without = node.Has("without") ? [.. node.Texts("without")] : [],
        };
        node.RejectUnknownKeys();
        return package;
    }

    private static PracticePhone? ReadPhone(CatalogueNode node, ModelCatalogue catalogue)
    {
        var model = node.Text("model");
        if (catalogue.Model(model) is null)
            node.Problem($"{model} is no model of the catalogue.", "model");
        var mode = Mode(node, "mode");
        var facts = node.Has("facts") ? ReadFacts(node.Child("facts")) : [];
        var faults = node.Has("faults") ? [.. node.Texts("faults")] : Array.Empty<string>();
        if (faults.FirstOrDefault(fault => fault is not (BadSocket or DeadBoard)) is { } unknown)
            node.Problem($"{unknown} is no fault; there are {BadSocket}, {DeadBoard}.", "faults");
        node.RejectUnknownKeys();
        return catalogue.Model(model) is { } known
            ? new PracticePhone(known.Code, mode, facts)
            {
                Faults = new TwinFaults { BadSocket = faults.Contains(BadSocket), DeadBoard = faults.Contains(DeadBoard) },
            }
            : null;
    }

    private const string BadSocket = "bad-socket",
        DeadBoard = "dead-board";

    private static PhoneMode? Forbidden(CatalogueNode node, string text)
    {
        if (PhoneModes.Parse(text) is { } mode)
            return mode;
        node.Problem($"{text} is no mode.", "forbids");
        return null;
    }

    private static Dictionary<FactName, string> ReadFacts(CatalogueNode node)
    {
        var facts = new Dictionary<FactName, string>();
        foreach (var (key, value) in node.Entries())
            if (FactName.Parse(key) is not { } name)
                value.Problem($"{key} is no fact.");
            else
                facts[name] = value.Scalar ?? "";
        return facts;
    }

    private static WrongHands ReadWarning(CatalogueNode node)
    {
        var wrong = new WrongHands(
            node.OptionalText("recipe"),
            node.OptionalText("stave"),
            node.Has("press") ? node.Number("press", -60, 60) : 0,
            node.Has("release") ? node.Number("release", -60, 60) : 0
        );
        node.RejectUnknownKeys();
        return wrong;
    }

    private static PhoneMode Mode(CatalogueNode node, string key) => node.Word(key, text => PhoneModes.Parse(text), CatalogueWords.Modes);
}
