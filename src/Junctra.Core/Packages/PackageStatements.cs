using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>
/// What a package says of itself, each statement with its place: requirement lines, metadata, build strings, boot headers and names, of the
/// whole and of every part.
/// </summary>
internal sealed partial class PackageStatements
{
    /// <summary>Facts of which every place of a package must allow a value, or it is not for that phone.</summary>
    public static IReadOnlySet<FactName> HoldTogether { get; } =
        new HashSet<FactName> { FactName.ModelCode, FactName.ChipFamily, FactName.Region, FactName.RegionGroup, FactName.StorageSize };

    private static readonly Dictionary<string, FactName> Lines = new(StringComparer.Ordinal)
    {
        ["board"] = FactName.ModelCode,
        ["model"] = FactName.ModelCode,
        ["device"] = FactName.ModelCode,
        ["pre-device"] = FactName.ModelCode,
        ["post-device"] = FactName.ModelCode,
        ["backup-model"] = FactName.ModelCode,
        ["chip"] = FactName.ChipFamily,
        ["region"] = FactName.Region,
        ["version-bootloader"] = FactName.BootloaderRevision,
        ["version-baseband"] = FactName.RadioBuild,
        ["storage-gb"] = FactName.StorageSize,
        ["os-version"] = FactName.OsVersion,
        ["security-patch"] = FactName.SecurityPatch,
        ["post-security-patch-level"] = FactName.SecurityPatch,
    };

    // Lines that hold the build a package brings.
    private static readonly string[] BuildLines = ["build", "post-build"];

    // Lines that are known and ask nothing of a phone that is not asked elsewhere.
    private static readonly string[] Known =
    [
        "part",
        "data",
        "erase",
        "pre-build",
        "taken",
        "system",
        "backup-serial",
        "channel",
        "patched-by",
    ];

    // Lines of which a package has one value, wherever it says it.
    private static readonly string[] Single = ["pre-build", "backup-serial", "taken", "system", "patched-by"];

    private const int MaxValues = 4_000;
    private const int MaxPlaces = 40;

    private readonly ModelCatalogue catalogue;
    private readonly List<PackageFinding> findings;
    private readonly List<PackageStatement> statements = [];
    private readonly List<string> unmet = [];
    private readonly List<RequirementLine> strange = [];
    private int place;

    private PackageStatements(ModelCatalogue catalogue, List<PackageFinding> findings) =>
        (this.catalogue, this.findings) = (catalogue, findings);

    /// <summary>The statements in the order of the file.</summary>
    public IReadOnlyList<PackageStatement> All => statements;

    /// <summary>Requirements that are not known, or hold no value: nobody has met them.</summary>
    public IReadOnlyList<string> Unmet => unmet;

    /// <summary>The build, as its maker's grammar reads it, or null.</summary>
    public BuildReading? Build { get; private set; }

    /// <summary>The name of a line as it is known: <c>Version_Bootloader</c> is <c>version-bootloader</c>.</summary>
    public static string Plain(string line) => line.ToLowerInvariant().Replace('_', '-');

    /// <summary>Reads the statements; what contradicts each other goes to the findings.</summary>
    public static PackageStatements Read(PackageContents contents, ModelCatalogue catalogue, List<PackageFinding> findings)
    {
        var read = new PackageStatements(catalogue, findings);
        var values = 0;
        foreach (var line in contents.Requirements.TakeWhile(line => (values += line.Values.Count) <= MaxValues))
            read.ReadLine(line);
        if (values > MaxValues)
            read.Contradiction($"It says more than {MaxValues} things of itself: no publisher does.");
        foreach (var member in contents.Members)
            read.ReadHeader(member);
        read.FindSingles(contents);
        read.FindContradictions();
        read.FindNames(contents);
        read.FindStrange();
        return read;
    }

    /// <summary>How a sentence names what lies in an archive.</summary>
    private static string Of(string? within) => within is null ? "" : $" of {LastPart(within)}";

    private static string LastPart(string path) => path[(path.LastIndexOf('/') + 1)..];

    private void ReadLine(RequirementLine line)
    {
        var name = Plain(line.Name);
        place++;
        if (BuildLines.Contains(name))
        {
            foreach (var value in line.Values)
                ReadBuild(value, line);
        }
        else if (name == "pre-build")
        {
            // What an update goes from is older, and of the same phone.
            foreach (
                var (held, text) in line
                    .Values.Select(catalogue.ReadBuild)
                    .OfType<BuildReading>()
                    .SelectMany(reading => reading.Facts)
                    .Where(told => HoldTogether.Contains(told.Name))
            )
                Add(held, text, $"base build{Of(line.Within)}");
        }
        else if (Lines.TryGetValue(name, out var fact))
        {
            foreach (var value in line.Values)
            {
                if (!Add(fact, value, $"{(line.IsRequired ? "requirement line" : "line")} {name}{Of(line.Within)}"))
                    unmet.Add($"{line.Name}={value}{Of(line.Within)}");
            }
        }
        else if (!Known.Contains(name))
        {
            if (line.IsRequired)
                unmet.Add($"{line.Name}={string.Join('|', line.Values)}{Of(line.Within)}");
            strange.Add(line);
        }
    }

    private void ReadBuild(string value, RequirementLine line)
    {
        if (catalogue.ReadBuild(value) is not { } reading)
        {
            findings.Add(new PackageFinding(FindingWeight.Note, $"No maker's grammar reads the build string {value}."));
            Add(FactName.Build, value, $"build line{Of(line.Within)}");
            return;
        }

        Build ??= reading;
        Add(FactName.Build, reading.Build, $"build line{Of(line.Within)}");
        foreach (var (name, text) in reading.Facts)
            Add(name, text, $"build string{Of(line.Within)}");
    }

    private void ReadHeader(PackageMember member)
    {
        if (member.Image?.Inside?.Boot is not { } boot)
            return;
        place++;
        var where = $"boot header of {LastPart(member.Name)}";
        // A board's name there is free text; only what is a model of the catalogue says something.
        if (boot.Board is { } board && catalogue.Model(board) is { } model)
            Add(FactName.ModelCode, model.Code, where);
        // A recovery may be of another day than the system beside it, and says so for itself only.
        if (LastPart(member.Name).StartsWith("recovery", StringComparison.OrdinalIgnoreCase))
            return;
        if (boot.OsVersion is { } os)
            Add(FactName.OsVersion, os, where);
        if (boot.SecurityPatch is { } patch)
            Add(FactName.SecurityPatch, patch, where);
    }

    private bool Add(FactName name, string value, string where)
    {
        if (name.Normalise(value) is { } normal)
        {
            statements.Add(new PackageStatement(name, normal, where, place));
            return true;
        }

        findings.Add(new PackageFinding(FindingWeight.Note, $"The {where} says {value}, which is no {name.LabelInText}."));
        return false;
    }
}
