using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Core.Packages;

/// <summary>What a package says of itself in its requirement lines, each statement with its place.</summary>
internal static class PackageStatements
{
    private static readonly Dictionary<string, FactName> Lines = new(StringComparer.Ordinal)
    {
        ["board"] = FactName.ModelCode,
        ["chip"] = FactName.ChipFamily,
        ["region"] = FactName.Region,
        ["version-bootloader"] = FactName.BootloaderRevision,
        ["version-baseband"] = FactName.RadioBuild,
        ["storage-gb"] = FactName.StorageSize,
        ["os-version"] = FactName.OsVersion,
        ["security-patch"] = FactName.SecurityPatch,
        ["post-security-patch-level"] = FactName.SecurityPatch,
        ["model"] = FactName.ModelCode,
        ["pre-device"] = FactName.ModelCode,
        ["backup-model"] = FactName.ModelCode,
    };

    // Lines that hold the build a package brings.
    private static readonly string[] BuildLines = ["build", "post-build"];

    public static List<PackageStatement> Read(PackageContents contents, ModelCatalogue catalogue, List<PackageFinding> findings, out BuildReading? build)
    {
        var statements = new List<PackageStatement>();
        build = null;
        foreach (var line in contents.Requirements)
        {
            foreach (var value in line.Values)
            {
                var part = line.Within is { } within ? $" of {within.Split('/')[^1]}" : "";
                if (Lines.TryGetValue(line.Name, out var fact)) Add(fact, value, $"requirement line {line.Name}{part}");
                if (!BuildLines.Contains(line.Name)) continue;
                if (catalogue.ReadBuild(value) is not { } reading)
                {
                    findings.Add(new PackageFinding(FindingWeight.Note, $"No maker's grammar reads the build string {value}."));
                    continue;
                }

                build ??= reading;
                Add(FactName.Build, reading.Build, $"build line{part}");
                foreach (var (name, text) in reading.Facts) Add(name, text, $"build string{part}");
            }
        }

        foreach (var member in contents.Members)
        {
            // A recovery may be of another day than the system beside it, and says so for itself only.
            if (member.Image?.Inside?.Boot is not { } boot || member.Name.Contains("recovery", StringComparison.OrdinalIgnoreCase)) continue;
            if (boot.OsVersion is { } os) Add(FactName.OsVersion, os, $"boot header of {member.Name.Split('/')[^1]}");
            if (boot.SecurityPatch is { } patch) Add(FactName.SecurityPatch, patch, $"boot header of {member.Name.Split('/')[^1]}");
        }

        FindContradictions(statements, findings);
        return statements;

        void Add(FactName name, string value, string where)
        {
            if (FactValues.Normalise(name, value) is { } normal) statements.Add(new PackageStatement(name, normal, where));
            else findings.Add(new PackageFinding(FindingWeight.Note, $"The {where} says {value}, which is no {name.Label.ToLowerInvariant()}."));
        }
    }

    private static bool Says(string more, string less) =>
        more.Length > less.Length && more.StartsWith(less, StringComparison.OrdinalIgnoreCase) && more[less.Length] is '-' or '.' && more.Length > less.Length;

    // Several boards in one requirement line are normal (one package for several variants); several builds or revisions are not.
    private static void FindContradictions(List<PackageStatement> statements, List<PackageFinding> findings)
    {
        foreach (var name in new[] { FactName.Build, FactName.BootloaderRevision, FactName.RadioBuild, FactName.OsVersion, FactName.SecurityPatch })
        {
            var values = statements.Where(s => s.Fact == name).DistinctBy(s => s.Value, StringComparer.OrdinalIgnoreCase).ToList();
            // Places differ in how much they say: a month and a day of it, 15 and 15.0, are no contradiction.
            values.RemoveAll(value => values.Any(other => other != value && Says(other.Value, value.Value)));
            if (values.Count > 1)
            {
                findings.Add(new PackageFinding(FindingWeight.Note,
                    $"The package contradicts itself on its {name.Label.ToLowerInvariant()}: {string.Join(", ", values.Select(v => $"{v.Value} ({v.Where})"))}."));
            }
        }

        var boards = statements.Where(s => s.Fact == FactName.ModelCode && s.Where.StartsWith("requirement", StringComparison.Ordinal)).Select(s => s.Value).ToHashSet();
        foreach (var built in statements.Where(s => s.Fact == FactName.ModelCode && s.Where.StartsWith("build", StringComparison.Ordinal)))
        {
            if (boards.Count > 0 && !boards.Contains(built.Value))
                findings.Add(new PackageFinding(FindingWeight.Fatal, $"The requirement lines are for {string.Join(", ", boards)}, the build string is of {built.Value}."));
        }
    }
}
