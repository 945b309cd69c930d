using System.CommandLine;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Cli;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Routes;
using Junctra.Core.Triage;
using Junctra.Core.Twin;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Inspection;
using Junctra.Formats.MatchFiles;
using Junctra.Formats.PhoneFiles;
using Command = System.CommandLine.Command;

// What a shell needs of the core: check a catalogue that was edited, look into a package file, judge a folder of them for a phone, find its
// way into a mode, replay what happened to a twin.
// Ends with 0 when all is well, 1 when the answer is no, 2 when the question could not be understood.
var catalogueOption = new Option<DirectoryInfo>("--catalogue")
{
    Description = "Folder of the catalogue",
    DefaultValueFactory = _ => new DirectoryInfo("catalogue"),
};
var jsonOption = new Option<bool>("--json") { Description = "Print JSON, as docs/formats.md describes it" };
var json = new JsonSerializerOptions(JsonSerializerDefaults.Web)
{
    WriteIndented = true,
    Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    DefaultIgnoreCondition = JsonIgnoreCondition.Never,
};

var check = new Command("catalogue", "Checks the files of a catalogue; every mistake with its file and line") { catalogueOption };
check.SetAction(result =>
    Guard(() =>
    {
        var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
        Console.WriteLine(
            $"{catalogue.Makers.Count} makers, {catalogue.Models.Count()} models, {catalogue.Regions.Count} regions: all in order."
        );
        return Task.FromResult(0);
    })
);

var trustOption = new Option<FileInfo?>("--trust")
{
    Description = "Checksum list that you answer for: what agrees with it counts as its publisher's",
};
IReadOnlyDictionary<string, string> Trusted(ParseResult result) =>
    result.GetValue(trustOption) is { } list ? FolderInspection.ReadTrusted(list.FullName) : new Dictionary<string, string>();
var fileArgument = new Argument<FileInfo>("file") { Description = "Package file" };
var inspect = new Command("inspect", "Looks into a package file; ends with 1 when it must not be written")
{
    fileArgument,
    trustOption,
    catalogueOption,
    jsonOption,
};
inspect.SetAction(
    (result, cancel) =>
        Guard(async () =>
        {
            var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
            var file = result.GetValue(fileArgument)!;
            if (!file.Exists)
                throw new FileNotFoundException($"There is no file {file.FullName}.");
            var contents = await FolderInspection.InspectAsync(file, LibraryFolder.Read(file.DirectoryName!), Trusted(result), cancel);
            var report = PackageReport.Of(PackageReader.Read(file.Name, contents, catalogue));
            if (result.GetValue(jsonOption))
                Console.WriteLine(JsonSerializer.Serialize(report, json));
            else
                Print.Package(report, Console.Out);
            return report.IsIntact ? 0 : 1;
        })
);

var phoneOption = new Option<FileInfo>("--phone")
{
    Description = "File with the phone's facts, as docs/formats.md describes it",
    Required = true,
};
var libraryOption = new Option<DirectoryInfo>("--library") { Description = "Folder of package files", Required = true };
var policyOption = new Option<FileInfo?>("--policy")
{
    Description = "File with schools, goal and wish; they go before those of the phone's file",
};
var match = new Command("match", "Judges every package of a folder for a phone; ends with 1 when none may be written")
{
    phoneOption,
    libraryOption,
    policyOption,
    trustOption,
    catalogueOption,
    jsonOption,
};
match.SetAction(
    (result, cancel) =>
        Guard(async () =>
        {
            var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
            var phone = PhoneFileReader.Read(result.GetValue(phoneOption)!.FullName, catalogue);
            var policy = result.GetValue(policyOption) is { } policyFile
                ? PhoneFileReader.ReadPolicy(policyFile.FullName, phone.Policy)
                : phone.Policy;
            var library = LibraryFolder.Read(result.GetValue(libraryOption)!.FullName);
            var trusted = Trusted(result);
            var packages = new List<Package>();
            foreach (var file in library.Packages)
            {
                packages.Add(PackageReader.Read(file.Name, await FolderInspection.InspectAsync(file, library, trusted, cancel), catalogue));
            }

            var ranked = Matcher.Rank(phone.Phone, packages, catalogue, policy);
            var report = MatchReportFile.Of(phone.Phone, policy, catalogue, ranked, library.Arriving.Select(file => file.Name));
            if (result.GetValue(jsonOption))
                Console.WriteLine(JsonSerializer.Serialize(report, json));
            else
                Print.Match(report, Console.Out);
            return report.Candidates.Any(candidate => candidate.MayBeChosen) ? 0 : 1;
        })
);

var countOption = new Option<int>("--count") { Description = "How many files to spoil", DefaultValueFactory = _ => 100_000 };
var seedOption = new Option<int>("--seed") { Description = "Gives the same run again", DefaultValueFactory = _ => 20261128 };
var mutations = new Command(
    "mutations",
    "Spoils good files on purpose and looks into each; ends with 1 when one was called whole, took too long or too much, or threw"
)
{
    countOption,
    seedOption,
    catalogueOption,
};
mutations.SetAction(
    (result, cancel) =>
        Guard(async () =>
        {
            var seeds = await MutationSeeds.AllAsync();
            var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
            var report = await Mutations.RunAsync(
                seeds,
                result.GetValue(countOption),
                result.GetValue(seedOption),
                catalogue,
                new Told(done => Console.Error.Write($"\r{done} ")),
                cancel
            );
            Console.Error.WriteLine();
            foreach (var line in report.Escapes.Concat(report.Slow).Concat(report.Wrong).Take(40))
                Console.WriteLine(line);
            Console.WriteLine(
                $"{report.Files} files of {seeds.Count} kinds: {report.Refused} refused, {report.Escapes.Count} exceptions, {report.Slow.Count} slower than {Mutations.MaxTime.TotalSeconds:0} s, {report.Wrong.Count} called whole and changed, {ByteSize.Text(report.PeakBytes)} of memory at most."
            );
            return report.IsClean ? 0 : 1;
        })
);

var rules = new Command("rules", "Prints every sentence that the rules of the match can say, as docs/match-rules.md has it");
rules.SetAction(_ =>
    Guard(() =>
    {
        Console.Write(RuleReference.Markdown());
        return Task.FromResult(0);
    })
);

var fromOption = new Option<string?>("--from") { Description = "Mode in which the phone is; what its facts say where it is left out" };
var toOption = new Option<string?>("--to") { Description = "Mode in which it is wanted; its model's write mode where it is left out" };
var route = new Command("route", "Finds the way of a phone into a mode; ends with 1 when there is none")
{
    phoneOption,
    fromOption,
    toOption,
    catalogueOption,
    jsonOption,
};
route.SetAction(result =>
    Guard(() =>
    {
        var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
        var phone = PhoneFileReader.Read(result.GetValue(phoneOption)!.FullName, catalogue);
        var model = catalogue.Model(phone.Phone[FactName.ModelCode].Value)
            ?? throw new IOException("The phone's model code is not known, or not in the catalogue: no way can be told.");
        var from = Mode(result.GetValue(fromOption) ?? phone.Phone[FactName.Mode].Value ?? PhoneMode.Unknown.Id());
        var to = result.GetValue(toOption) is { } wanted ? Mode(wanted) : model.WriteMode;
        var report = RouteFile.Of(Router.Find(phone.Phone, model, from, to, catalogue, phone.Policy.Routes), from, to);
        if (result.GetValue(jsonOption))
            Console.WriteLine(JsonSerializer.Serialize(report, json));
        else
            Print.Route(report, Console.Out);
        return Task.FromResult(report.Minutes is null ? 1 : 0);
    })
);

var packageOption = new Option<FileInfo?>("--package") { Description = "Package file; left out for a path that takes none" };
var dataOption = new Option<string?>("--data") { Description = "keep or erase; as the phone's file has it where it is left out" };
dataOption.AcceptOnlyFromAmong("keep", "erase");
var pathOption = new Option<string?>("--path") { Description = "Letter of the path; the first that suits where it is left out" };
async Task<(PlanOutcome Outcome, MatchReport? Match)> PlanAsync(ParseResult result, CancellationToken cancel)
{
    var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
    var phone = PhoneFileReader.Read(result.GetValue(phoneOption)!.FullName, catalogue);
    if (result.GetValue(pathOption) is { } letter && PathList.Find(letter) is null)
        throw new IOException(
            $"{letter} is no path. Paths are {string.Join(", ", PathList.All.Select(path => $"{path.Letter} ({path.Title})"))}."
        );
    Package? package = null;
    if (result.GetValue(packageOption) is { } file)
    {
        if (!file.Exists)
            throw new FileNotFoundException($"There is no file {file.FullName}.");
        package = PackageReader.Read(
            file.Name,
            await FolderInspection.InspectAsync(file, LibraryFolder.Read(file.DirectoryName!), Trusted(result), cancel),
            catalogue
        );
    }

    var match = package is null ? null : Matcher.Match(phone.Phone, package, catalogue, phone.Policy);
    var erase = result.GetValue(dataOption) is { } data ? data == "erase" : package is null || phone.Policy.DataMayGo;
    return (
        PathList.Compile(
            new PathCase(phone.Phone, package, erase, catalogue, match?.NeedsCleanWrite ?? false),
            result.GetValue(pathOption)
        ),
        match
    );
}

var plan = new Command("plan", "Plans a job: the steps in the only safe order; ends with 1 when there is no plan")
{
    phoneOption,
    packageOption,
    dataOption,
    pathOption,
    trustOption,
    catalogueOption,
    jsonOption,
};
plan.SetAction(
    (result, cancel) =>
        Guard(async () =>
        {
            var (outcome, match) = await PlanAsync(result, cancel);
            var report = PlanFile.Of(outcome, match);
            if (result.GetValue(jsonOption))
                Console.WriteLine(JsonSerializer.Serialize(report, json));
            else
                Print.Plan(report, Console.Out);
            return outcome.Plan is null ? 1 : 0;
        })
);

var rehearse = new Command(
    "rehearse",
    "Plays a plan on twins of the phone, with a break before and within every step; ends with 1 when there is no plan"
)
{
    phoneOption,
    packageOption,
    dataOption,
    pathOption,
    trustOption,
    catalogueOption,
    jsonOption,
};
rehearse.SetAction(
    (result, cancel) =>
        Guard(async () =>
        {
            var (outcome, _) = await PlanAsync(result, cancel);
            var report = RehearsalFile.Of(outcome);
            if (result.GetValue(jsonOption))
                Console.WriteLine(JsonSerializer.Serialize(report, json));
            else
                Print.Rehearsal(report, Console.Out);
            return outcome.Plan is null ? 1 : 0;
        })
);

var sawOption = new Option<string[]>("--saw")
{
    Description = "An observation, CHECK=OUTCOME as triage.yaml has them; as often as wanted",
    AllowMultipleArgumentsPerToken = true,
};
var skippedOption = new Option<string[]>("--cannot-tell")
{
    Description = "A check that nothing can be told from",
    AllowMultipleArgumentsPerToken = true,
};
var cellOption = new Option<string>("--cell")
{
    Description = "State of the cell",
    DefaultValueFactory = _ => FileWords.Of(CellState.Sound),
};
cellOption.AcceptOnlyFromAmong([.. Enum.GetValues<CellState>().Select(cell => FileWords.Of(cell))]);
var triage = new Command("triage", "Says what may be wrong, which check tells most, and what to do; ends with 1 while that is open")
{
    phoneOption,
    sawOption,
    skippedOption,
    cellOption,
    catalogueOption,
    jsonOption,
};
triage.SetAction(result =>
    Guard(() =>
    {
        var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
        var phone = PhoneFileReader.Read(result.GetValue(phoneOption)!.FullName, catalogue).Phone;
        var tables = catalogue.Triage;
        var saw = (result.GetValue(sawOption) ?? []).Select(text => Saw(text, tables)).ToList();
        var skipped = result.GetValue(skippedOption) ?? [];
        foreach (var id in skipped.Where(id => tables.Check(id) is null))
            throw new IOException($"{id} is no check. Checks are {string.Join(", ", tables.Checks.Select(one => one.Id))}.");
        var observed = Observations.Of(phone, saw, tables);
        var model = catalogue.Model(phone[FactName.ModelCode].Value);
        var cell = Enum.GetValues<CellState>().First(state => FileWords.Of(state) == result.GetValue(cellOption));
        var report = TriageFile.Of(
            Diagnoser.Of(tables, new TriageCase(catalogue.MakerOf(model?.Code)?.Name, model?.KeyFamily, cell, skipped), observed),
            observed,
            tables
        );
        if (result.GetValue(jsonOption))
            Console.WriteLine(JsonSerializer.Serialize(report, json));
        else
            Print.Triage(report, Console.Out);
        return Task.FromResult(report.IsSettled ? 0 : 1);
    })
);

var modelArgument = new Argument<string>("model") { Description = "Model code" };
var eventsArgument = new Argument<FileInfo>("events") { Description = "File with the events, as docs/protocols.md describes them" };
var replay = new Command("replay", "Lets events happen to a phone's twin and prints what it does")
{
    modelArgument,
    eventsArgument,
    fromOption,
    catalogueOption,
};
replay.SetAction(result =>
    Guard(() =>
    {
        var catalogue = CatalogueReader.Read(result.GetValue(catalogueOption)!.FullName);
        var code = result.GetValue(modelArgument)!;
        var model = catalogue.Model(code) ?? throw new IOException($"There is no model {code} in the catalogue.");
        try
        {
            var events = TwinEvent.FromJson(File.ReadAllText(result.GetValue(eventsArgument)!.FullName));
            Console.Write(
                TwinPrint.Run(
                    new PhoneTwin(model, catalogue),
                    TwinFactory.In(model, Mode(result.GetValue(fromOption) ?? PhoneMode.Off.Id()), new TwinNature()),
                    events
                )
            );
        }
        catch (JsonException error)
        {
            throw new IOException($"The events cannot be read: {error.Message}", error);
        }

        return Task.FromResult(0);
    })
);

return await new RootCommand("Junctra at the command line")
{
    check,
    inspect,
    match,
    triage,
    route,
    plan,
    rehearse,
    rules,
    replay,
    mutations,
}
    .Parse(args)
    .InvokeAsync();

static PhoneMode Mode(string id) =>
    PhoneModes.Parse(id)
    ?? throw new IOException($"{id} is no mode. Modes are {string.Join(", ", Enum.GetValues<PhoneMode>().Select(mode => mode.Id()))}.");

static Observation Saw(string text, TriageTables tables)
{
    if (text.Split('=', 2) is not [var id, var outcome])
        throw new IOException($"{text} is no observation: write CHECK=OUTCOME.");
    var check = tables.Check(id)
        ?? throw new IOException($"{id} is no check. Checks are {string.Join(", ", tables.Checks.Select(one => one.Id))}.");
    return check.Outcome(outcome) is not null
        ? new Observation(id, outcome)
        : throw new IOException(
            $"{outcome} is no outcome of {id}. Outcomes are {string.Join(", ", check.Outcomes.Select(one => one.Id))}."
        );
}

static async Task<int> Guard(Func<Task<int>> act)
{
    try
    {
        return await act();
    }
    catch (Exception error) when (error is CatalogueException or IOException or UnauthorizedAccessException)
    {
        Console.Error.WriteLine(error.Message);
        return 2;
    }
}

/// <summary>Tells how far something is, at once and in order.</summary>
internal sealed class Told(Action<int> tell) : IProgress<int>
{
    public void Report(int value) => tell(value);
}
