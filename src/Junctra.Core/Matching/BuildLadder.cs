using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>A build of a model on its ladder.</summary>
/// <param name="Title">The build string.</param>
/// <param name="Revision">Its bootloader revision.</param>
/// <param name="Region">Its regions, or nothing.</param>
/// <param name="PackageIds">Packages of the library that bring it; none where only the phone has it.</param>
/// <param name="IsOnPhone">Whether it is what the phone has now.</param>
/// <param name="Step">What writing it would do to the floor.</param>
public sealed record LadderBuild(
    string Title,
    Revision Revision,
    string Region,
    IReadOnlyList<string> PackageIds,
    bool IsOnPhone,
    LadderStep Step
);

/// <summary>What writing a build does to a phone's rollback floor.</summary>
public enum LadderStep
{
    /// <summary>Nothing is known of the floor.</summary>
    Unknown,

    /// <summary>It is refused.</summary>
    Refused,

    /// <summary>The floor stays.</summary>
    Stays,

    /// <summary>The floor rises for ever.</summary>
    OneWay,
}

/// <summary>
/// The builds of one model, the oldest first, with their bootloader revisions, and where a phone stands between them. Builds that the
/// maker's grammar cannot put in order stand by their string.
/// </summary>
/// <param name="Model">The model.</param>
/// <param name="Builds">Its builds.</param>
/// <param name="Floor">The phone's rollback floor, or its lower bound; null where there is none, or nothing is known.</param>
/// <param name="IsFloorRead">Whether the floor was read from the bootloader since the last write.</param>
public sealed record BuildLadder(PhoneModel Model, IReadOnlyList<LadderBuild> Builds, Revision? Floor, bool IsFloorRead)
{
    /// <summary>The ladder of a model.</summary>
    /// <param name="model">The model.</param>
    /// <param name="packages">Packages; those for other models, and parts and backups, are passed over.</param>
    /// <param name="phone">The phone that stands on it, or null.</param>
    /// <param name="catalogue">Grammars.</param>
    public static BuildLadder Of(PhoneModel model, IEnumerable<Package> packages, Phone? phone, ModelCatalogue catalogue)
    {
        var maker = catalogue.MakerOf(model.Code);
        var floor = phone is not null && maker is { HasRollbackFuses: true } ? RollbackFloor.Of(phone, catalogue) : null;
        var lowest = floor?.Highest;
        var ours = phone?[FactName.Build].Value is { } text ? catalogue.ReadBuild(text) : null;
        var known = packages
            .Where(package =>
                package.Kind is not (PackageKind.BackupSet or PackageKind.BundlePart or PackageKind.Unknown)
                && package.Build?.Model == model.Code
                && package.Revisions.Count == 1
            )
            .Select(package =>
                (
                    Reading: package.Build!,
                    package.Id,
                    Revision: package.Revisions[0],
                    Region: string.Join(
                        ", ",
                        package.Says(FactName.Region).DefaultIfEmpty(string.Join(", ", package.Says(FactName.RegionGroup)))
                    )
                )
            )
            .ToList();
        if (ours is { Revision: { } revision } && ours.Model == model.Code && known.All(build => build.Reading.Build != ours.Build))
            known.Add((ours, "", revision, ours.Region ?? ""));
        var builds = known
            .GroupBy(build => build.Reading.Build, StringComparer.OrdinalIgnoreCase)
            .OrderBy(
                group => group.First().Reading,
                Comparer<BuildReading>.Create(
                    (a, b) => maker?.Grammar.Compare(a, b) is { } order and not 0 ? order : string.CompareOrdinal(a.Build, b.Build)
                )
            )
            .Select(group => new LadderBuild(
                group.First().Reading.Build,
                group.First().Revision,
                group.First().Region,
                [.. group.Select(build => build.Id).Where(id => id.Length > 0)],
                group.Key.Equals(ours?.Build, StringComparison.OrdinalIgnoreCase),
                StepOf(group.First().Revision, lowest)
            ))
            .ToList();
        return new BuildLadder(model, builds, lowest, floor is { Exact.Count: 1, IsConflicting: false });
    }

    private static LadderStep StepOf(Revision revision, Revision? floor) =>
        floor is null ? LadderStep.Unknown
        : revision < floor ? LadderStep.Refused
        : revision == floor ? LadderStep.Stays
        : LadderStep.OneWay;

    /// <summary>The ladder in words, for those who do not see the drawing.</summary>
    public string Words
    {
        get
        {
            if (Builds.Count == 0)
                return $"No build of {Model.Code} is known here.";
            var stands = Builds.FirstOrDefault(build => build.IsOnPhone) is { } now ? $" The phone has {now.Title}." : "";
            var floor =
                Floor is null ? ""
                : IsFloorRead ? $" Its floor is {Floor}."
                : $" Its floor is at least {Floor}, and was not read.";
            string List(LadderStep step, string what) =>
                Builds.Where(build => build.Step == step).Select(build => build.Title).ToList() is { Count: > 0 } titles
                    ? $" {what}: {string.Join(", ", titles)}."
                    : "";
            return $"{Builds.Count} build{(Builds.Count == 1 ? "" : "s")} of {Model.Code}, revision {Builds.Min(build => build.Revision)} to {Builds.Max(build => build.Revision)}.{stands}{floor}"
                + List(LadderStep.Refused, "Refused")
                + List(LadderStep.OneWay, "One-way");
        }
    }
}

/// <summary>A build where it is drawn.</summary>
/// <param name="Build">The build.</param>
/// <param name="X">Middle, in drawing units.</param>
/// <param name="Y">Middle, in drawing units; a higher revision is further up.</param>
/// <param name="LabelY">Base line of its label, which never lies over another one.</param>
public sealed record LadderPoint(LadderBuild Build, double X, double Y, double LabelY);

/// <summary>A ladder laid out: revision as height, builds as points from the oldest at the left, the floor as a line.</summary>
/// <param name="Points">The builds.</param>
/// <param name="Rows">Each revision that is there, and the height of its row.</param>
/// <param name="FloorY">Height of the floor, or null.</param>
/// <param name="Width">Width of the drawing.</param>
/// <param name="Height">Height of the drawing.</param>
public sealed record LadderLayout(
    IReadOnlyList<LadderPoint> Points,
    IReadOnlyList<(Revision Revision, double Y)> Rows,
    double? FloorY,
    double Width,
    double Height
)
{
    /// <summary>Room for the revisions' numbers at the left.</summary>
    public const double Margin = 96;

    private const double RowHeight = 54;
    private const double FloorHeight = 22;
    private const double Top = 34;

    /// <summary>Width of one character of a label, in drawing units; labels are set in a fixed pitch.</summary>
    public const double CharacterWidth = 6.7;

    /// <summary>Height of a line of labels.</summary>
    public const double LineHeight = 13;

    /// <summary>Lays a ladder out.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="width">Width that there is.</param>
    public static LadderLayout Of(BuildLadder ladder, double width)
    {
        var revisions = ladder
            .Builds.Select(build => build.Revision)
            .Concat(ladder.Floor is { } floor ? [floor] : [])
            .Distinct()
            .OrderDescending()
            .ToList();
        var tall = revisions.ToDictionary(revision => revision, revision => Lanes(ladder, revision, width));
        var rows = new List<(Revision Revision, double Y)>();
        var y = Top;
        foreach (var revision in revisions)
        {
            y += tall[revision] * LineHeight;
            rows.Add((revision, y));
            // The floor's line and words take room of their own beneath its row.
            y += RowHeight - LineHeight + (revision == ladder.Floor ? FloorHeight : 0);
        }

        var at = rows.ToDictionary(row => row.Revision, row => row.Y);
        var used = new Dictionary<Revision, List<double>>();
        var points = ladder
            .Builds.Select(
                (build, i) =>
                {
                    var x = X(ladder, i, width);
                    var lane = LaneOf(
                        used.TryGetValue(build.Revision, out var lanes) ? lanes : used[build.Revision] = [],
                        x,
                        build.Title,
                        width
                    );
                    return new LadderPoint(build, x, at[build.Revision], at[build.Revision] - 11 - lane * LineHeight);
                }
            )
            .ToList();
        return new LadderLayout(points, rows, ladder.Floor is { } line ? at[line] : null, width, Math.Max(y, Top + RowHeight) - 14);
    }

    /// <summary>Where a label begins and ends.</summary>
    public static (double From, double To) LabelSpan(double x, string title, double width)
    {
        var half = title.Length * CharacterWidth / 2;
        var middle = Math.Clamp(x, Math.Min(Margin + half, width / 2), Math.Max(width - half - 4, width / 2));
        return (middle - half, middle + half);
    }

    private static double X(BuildLadder ladder, int at, double width)
    {
        var room = width - Margin - 70;
        return ladder.Builds.Count == 1 ? Margin + 40 + room / 2 : Margin + 40 + room * at / (ladder.Builds.Count - 1);
    }

    private static int Lanes(BuildLadder ladder, Revision revision, double width)
    {
        var lanes = new List<double>();
        for (var i = 0; i < ladder.Builds.Count; i++)
            if (ladder.Builds[i].Revision == revision)
                LaneOf(lanes, X(ladder, i, width), ladder.Builds[i].Title, width);
        return Math.Max(1, lanes.Count);
    }

    private static int LaneOf(List<double> lanes, double x, string title, double width)
    {
        var (from, to) = LabelSpan(x, title, width);
        for (var lane = 0; lane < lanes.Count; lane++)
        {
            if (lanes[lane] + CharacterWidth > from)
                continue;
            lanes[lane] = to;
            return lane;
        }

        lanes.Add(to);
        return lanes.Count - 1;
    }
}
