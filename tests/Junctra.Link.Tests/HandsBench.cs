using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Link.Running;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>
/// What tests share in which links and hands take turns: the writer lets go for hands, the hands of the tests do what the act amounts to
/// on a twin, and the writer goes on.
/// </summary>
public abstract partial class HandsBench(PhoneBench bench) : WriteBench(bench)
{
    private readonly string kept = Directory.CreateTempSubdirectory("junctra-kept-").FullName;

    /// <summary>Files that were taken into the library.</summary>
    protected List<string> TakenIn { get; } = [];

    /// <summary>What hands type off the phone's label where they are asked for it; null where it is not compared.</summary>
    protected string? LabelSays { get; set; }

    /// <summary>Where what was fetched is kept.</summary>
    protected string Kept => kept;

    protected TwinState StateOf(string name) =>
        TwinState.FromJson(File.ReadAllText(Path.Combine(Phones.Data, name.ToLowerInvariant(), "state.json")));

    protected static async Task<PackageFile> PackageAsync(string file) =>
        new(await DemoLibrary.ReadAnyAsync(file), Path.Combine(await DemoLibrary.AllFolderAsync(), file));

    /// <summary>A phone of which this is known.</summary>
    protected static Phone Known(string model, string mode, params (FactName Name, string Value)[] more) =>
        new([
            Sample.Fact(FactName.ModelCode, model),
            Sample.Fact(FactName.Mode, mode),
            .. more.Select(fact => Sample.Fact(fact.Name, fact.Value)),
        ]);

    /// <summary>A plan by a path, which is not refused.</summary>
    protected static Plan Compile(Phone phone, Package? package, string path, Func<PathCase, PathCase>? with = null, bool erases = true)
    {
        var @case = new PathCase(phone, package, erases, Repo.Catalogue);
        var outcome = PathList.Compile(with?.Invoke(@case) ?? @case, path);
        Assert.Empty(outcome.Refusals);
        return outcome.Plan!;
    }

    /// <summary>The phone has come to rest.</summary>
    protected Task RestAsync(string name) =>
        Until.TrueAsync(
            async () => await Phones.ModeAsync(name) is not "starting" && StateOf(name) is { Task: null, Mode: not PhoneMode.Starting },
            $"phone {name} has come to rest"
        );

    /// <summary>Carries a plan out, whoever's turn it is, up to its end or its failure.</summary>
    /// <param name="name">The stand-in.</param>
    /// <param name="plan">The plan.</param>
    /// <param name="files">Its packages.</param>
    /// <param name="known">What is known of the phone.</param>
    /// <param name="atHands">Told of each step for hands before it is done.</param>
    /// <param name="at">Another address than the phone's own, for a broken wire.</param>
    /// <param name="atEvent">Told of each entry once it was written down; what it throws is the writer's death.</param>
    protected async Task<RunState> CarryOutAsync(
        string name,
        Plan plan,
        IReadOnlyList<PackageFile> files,
        Phone known,
        Func<PlanStep, Task>? atHands = null,
        LinkAddress? at = null,
        Func<Task>? atEvent = null
    )
    {
        Journal.Clear();
        var model = Repo.Catalogue.Model(plan.Target.ModelCode)!;
        var scene = new TwinScene(new PhoneTwin(model, Repo.Catalogue), Repo.Catalogue, known);
        while (true)
        {
            await new PlanWriter(
                Repo.Catalogue,
                Clocks,
                async what =>
                {
                    Journal.Add(what);
                    if (atEvent is not null)
                        await atEvent();
                },
                TimeProvider.System
            ).RunAsync(
                new WriteOrder(plan, files, plan.NeedsLink ? at ?? Phones[name] : null)
                {
                    Before = Entries(),
                    KeepFolder = kept,
                    SavedFolder = _ => kept,
                    LoaderFolder = await DemoLibrary.LoaderFolderAsync(),
                    TakeIn = (path, called, _) =>
                    {
                        var library = Path.Combine(kept, called);
                        File.Copy(path, library, overwrite: true);
                        TakenIn.Add(library);
                        return Task.CompletedTask;
                    },
                }
            );
            var state = RunState.Of(plan, Entries());
            if (state is not { Status: RunStatus.Waiting, Step: { } step })
                return state;
            var order = HandsOrder.Of(state, known, model, Repo.Catalogue);
            Assert.NotNull(order);
            Assert.DoesNotContain(order.Words, line => line.Contains("no way into"));
            if (atHands is not null)
                await atHands(step);
            await DoAsync(name, step, scene);
            await RestAsync(name);
            var shows = step.Act is ConfirmTarget or CopyToCard ? order.Choices[0].Shows : StateOf(name).Mode;
            Journal.Add(new HandsSaid(step.Number, "bench", shows.Id(), true) { Typed = order.Types is null ? null : LabelSays });
        }
    }

    protected IReadOnlyList<JournalEntry> Entries() => [.. Journal.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what))];

    /// <summary>What hands do: on the phone itself where the stand-in has hands for it, else what the act amounts to on a twin.</summary>
    private async Task DoAsync(string name, PlanStep step, TwinScene scene)
    {
        switch (step.Act)
        {
            case CopyToCard copy:
                await Phones.CopyToCardAsync(name, CardSource, copy.FileName);
                break;
            case PatchOnPhone:
                await Phones.PatchAsync(name, Journal.OfType<FileCopied>().Last().Name);
                break;
            case OpenToEmergency:
                await Phones.DoAsync(name, "needle");
                break;
            // Hands look at the phone as it is at that moment: it may be about to restart, or loop.
            case BringInto bring:
                await Until.TrueAsync(
                    async () => await Phones.DoAsync(name, $"into/{bring.To.Id()}") == System.Net.HttpStatusCode.OK,
                    $"hands have brought phone {name} into {bring.To.Label()}"
                );
                break;
            default:
                await Phones.EventsAsync(name, [.. step.Act.OnTwin(scene, StateOf(name))]);
                break;
        }
    }

    /// <summary>What is copied to the card.</summary>
    protected string CardSource { get; set; } = "";
}
