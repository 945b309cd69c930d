using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Triage;

namespace Junctra.Core.Practice;

/// <summary>
/// A whole job of practice, worked out by the same rules as a real one: finding, match, ways, plan with its rehearsal, gates. There is no
/// file, no port and no logbook behind it.
/// </summary>
public sealed class PracticeJob
{
    private static readonly string RelockLetter = new Relock().Letter;

    /// <summary>Works a job out.</summary>
    /// <param name="phone">The phone as it comes.</param>
    /// <param name="task">The job.</param>
    /// <param name="catalogue">Models, ways and figures.</param>
    /// <exception cref="ArgumentException">Its model is not in the catalogue, or no plan can be made by its path.</exception>
    public PracticeJob(PracticePhone phone, JobTask task, ModelCatalogue catalogue)
    {
        Task = task;
        Model = catalogue.Model(phone.ModelCode) ?? throw new ArgumentException($"{phone.ModelCode} is no model.");
        Policy = MatchPolicy.Careful with
        {
            DataMayGo = task.ErasesData,
            Goal = task.Goal,
            NeedsBoardRescue = task.NeedsRescue,
            Plans = task.Policy,
        };
        Finding =
            task.Seen.Count == 0
                ? null
                : Diagnoser.Of(
                    catalogue.Triage,
                    new TriageCase(catalogue.MakerOf(Model.Code)?.Name, Model.KeyFamily),
                    Observations.Of(phone.Known(), task.Seen, catalogue.Triage)
                );
        Packages = [.. task.Shelf.Select(one => one.Read(catalogue))];
        // It is read where its first act over a link finds it: there it is matched and planned.
        (PlannedIn, Phone) = (phone.Mode, Known(phone, phone.Mode));
        Work(catalogue);
        if (
            Way?.Outcome.Plan is { NeedsLink: true } plan
            && plan.Steps.First(step => step.Act.By is ActBy.Link or ActBy.Hands).Act is { By: ActBy.Link, In: { } mode }
            && mode != phone.Mode
        )
        {
            (PlannedIn, Phone) = (mode, Known(phone, mode));
            Work(catalogue);
        }

        // Some ways can only be planned once the phone was read in its write mode.
        if (Way?.Outcome.Plan is null && !task.NeedsRescue && phone.Mode != Model.WriteMode && task.Shelf.Count > 0)
        {
            (PlannedIn, Phone) = (Model.WriteMode, Known(phone, Model.WriteMode));
            Work(catalogue);
        }

        Plan = Way?.Outcome.Plan
            ?? throw new ArgumentException(
                $"No plan can be made: {string.Join(" ", Ranked.Take(1).Where(one => !one.Report.MayBePlanned(Policy)).Select(one => one.Report.Headline).Concat(Way?.Outcome.Refusals ?? []).Concat(Offers.Missing.Where(one => one.Path.Letter == task.Path).Select(one => one.Why)))}"
            );
        GateCase = new GateCase(
            Plan,
            Package,
            Phone,
            Report,
            true,
            long.MaxValue,
            Package?.Contents.SizeBytes,
            task.Ports,
            [],
            catalogue.Figures
        )
        {
            Policy = task.Policy,
            Stock = task.IsProvenStock ? new StockProof(true, "It was written whole in this job, and has started once.") : StockProof.None,
        };
        Gates = Plans.Gates.Evaluate(GateCase);
    }

    /// <summary>The job.</summary>
    public JobTask Task { get; }

    /// <summary>The phone's model.</summary>
    public PhoneModel Model { get; }

    /// <summary>The mode in which it is read, matched and planned.</summary>
    public PhoneMode PlannedIn { get; private set; }

    /// <summary>What is known of it there.</summary>
    public Phone Phone { get; private set; }

    /// <summary>What shop and customer have decided.</summary>
    public MatchPolicy Policy { get; }

    /// <summary>What was seen, judged; null where nothing was seen.</summary>
    public Diagnosis? Finding { get; }

    /// <summary>The packages on its shelf.</summary>
    public IReadOnlyList<Package> Packages { get; }

    /// <summary>The packages, judged, the best first.</summary>
    public IReadOnlyList<(MatchReport Report, Package Package)> Ranked { get; private set; } = [];

    /// <summary>The best that may be taken; null where none may, or none lies there.</summary>
    public Package? Package { get; private set; }

    /// <summary>Its match.</summary>
    public MatchReport? Report { get; private set; }

    /// <summary>What is planned for.</summary>
    public PathCase Case { get; private set; } = null!;

    /// <summary>Every way, the best first.</summary>
    public PathOffers Offers { get; private set; } = PathOffers.None;

    /// <summary>The way of this job.</summary>
    public PathOffer? Way { get; private set; }

    /// <summary>Its plan, rehearsed.</summary>
    public Plan Plan { get; }

    /// <summary>What its gates look at.</summary>
    public GateCase GateCase { get; }

    /// <summary>Its gates before anybody has answered.</summary>
    public IReadOnlyList<Gate> Gates { get; }

    private void Work(ModelCatalogue catalogue)
    {
        Ranked = Matcher.Rank(Phone, Packages, catalogue, Policy);
        (Report, Package) = Ranked.FirstOrDefault(one => one.Report.MayBePlanned(Policy));
        Case = PathCase.Of(Phone, Package, Task.ErasesData, catalogue, Policy, Report, OriginalOf(Package)) with
        {
            IsProvenStock = Task.IsProvenStock,
            UsualPaths = Finding?.WayOut?.Paths ?? [],
        };
        Offers = PathOffers.Of(Case);
        // Where only the lock is to be closed, closing it is the way; some packages can be written in one way alone.
        var only =
            Package is { } package ? PathList.OnlyOneFor(package.Kind, Task.NeedsRescue)
            : Task.Goal == JobGoal.Relock ? PathList.Find(RelockLetter)
            : null;
        if (only is not null)
            Offers = Offers with { Offers = [.. Offers.Offers.OrderBy(offer => offer.Path != only)] };
        Way = Offers.Offers.FirstOrDefault(offer => offer.Path.Letter == Task.Path && offer.Outcome.Plan is not null)
            ?? Offers.Offers.FirstOrDefault(offer => offer.Path.Letter == Task.Path);
    }

    // The bundle from which a patched part was made.
    private Package? OriginalOf(Package? package) =>
        package?.Kind != PackageKind.BundlePart
            ? null
            : Packages.FirstOrDefault(one => one.Kind == PackageKind.FourPartBundle && one.Build == package.Build);

    private Phone Known(PracticePhone phone, PhoneMode mode)
    {
        var facts = (phone with { Mode = mode }).Known().All.ToList();
        foreach (var (_, package) in Task.Shelf.Zip(Packages).Where(pair => pair.First.IsOnCard))
        {
            facts.Add(Read(FactName.CardPlace, FactName.CardPlace.Write(CardPlace.Root)));
            facts.Add(Read(FactName.CardFileName, Model.CardUpdate?.FileName ?? ""));
            facts.Add(Read(FactName.CardFileDigest, package.Id));
            facts.Add(Read(FactName.CardFree, $"{2 * M18Card.RoomMegabytes(package)}"));
        }

        return new Phone(facts);

        static Fact Read(FactName name, string value) => new(name, value, FactSource.Link, PracticePhone.Day, "");
    }
}
