using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>What the places of a package say against each other.</summary>
internal sealed partial class PackageStatements
{
    /// <summary>What a package can only say in one way.</summary>
    private void FindSingles(PackageContents contents)
    {
        foreach (var name in Single)
        {
            var values = contents
                .Requirements.Where(line => Plain(line.Name) == name)
                .SelectMany(line => line.Values.Select(value => (Value: value, line.Within)))
                .DistinctBy(said => said.Value, StringComparer.OrdinalIgnoreCase)
                .ToList();
            if (values.Count > 1)
                Contradiction(
                    $"It says two things in its lines {name}: {string.Join(" and ", values.Select(said => said.Value + Of(said.Within)))}."
                );
        }

        foreach (var part in contents.Requirements.Where(line => Plain(line.Name) == "data").GroupBy(line => line.Within))
        {
            if (part.SelectMany(line => line.Values).Distinct(StringComparer.OrdinalIgnoreCase).Count() > 1)
                Contradiction($"{part.Key ?? "It"} says both that it keeps the data and that it erases them.");
        }
    }

    private void FindContradictions()
    {
        foreach (var said in statements.GroupBy(one => one.Fact))
        {
            // Places that say the same count once, and of a package that says everything no more than this is worth a sentence.
            var places = said.GroupBy(one => one.Place)
                .Select(group => group.ToList())
                .DistinctBy(place =>
                    (IsLine(place[0]), string.Join('|', place.Select(one => one.Value.ToUpperInvariant()).Order(StringComparer.Ordinal)))
                )
                .Take(MaxPlaces)
                .ToList();
            Compare(said.Key, places);
        }

        var models = Values(FactName.ModelCode).Select(code => catalogue.Model(code)).OfType<PhoneModel>().ToList();
        foreach (
            var chip in Distinct(FactName.ChipFamily)
                .Where(one =>
                    models.Count > 0 && models.All(model => !model.ChipFamily.Equals(one.Value, StringComparison.OrdinalIgnoreCase))
                )
        )
            Contradiction($"The {chip.Where} says {chip.Value}; {models[0].Code} has {models[0].ChipFamily}.");
        foreach (var region in Distinct(FactName.Region))
        {
            foreach (var group in Distinct(FactName.RegionGroup).Where(one => one.Place != region.Place))
            {
                if (!group.Value.Equals(catalogue.Region(region.Value)?.Group ?? group.Value, StringComparison.OrdinalIgnoreCase))
                    Contradiction($"The {region.Where} says {region.Value}, which is not of the group {group.Value} ({group.Where}).");
            }
        }

        foreach (var radio in Distinct(FactName.RadioBuild))
        {
            var reading = models
                .Select(model => catalogue.MakerOf(model.Code)?.Radio?.Grammar.Read(radio.Value))
                .FirstOrDefault(read => read is not null);
            if (
                reading?.Fields.GetValueOrDefault("model") is { } code
                && models.All(model => !model.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
            )
                Contradiction(
                    $"The {radio.Where} says {radio.Value}, which is of {code}; the package is for {string.Join(", ", models.Select(model => model.Code))}."
                );
        }
    }

    private IEnumerable<PackageStatement> Distinct(FactName fact) =>
        statements.Where(one => one.Fact == fact).DistinctBy(one => one.Value, StringComparer.OrdinalIgnoreCase).Take(MaxPlaces);

    private IEnumerable<string> Values(FactName fact) =>
        statements.Where(one => one.Fact == fact).Select(one => one.Value).Distinct(StringComparer.OrdinalIgnoreCase);

    /// <summary>
    /// Holds the places of one fact against each other. Several values in one line are a choice (one package for several variants), and a
    /// build string may name one of them; two lines that name other choices, or a value that no choice has, are a contradiction.
    /// </summary>
    private void Compare(FactName fact, List<List<PackageStatement>> places)
    {
        for (var i = 0; i < places.Count; i++)
        {
            for (var k = i + 1; k < places.Count; k++)
            {
                var (a, b) = (places[i], places[k]);
                var isSoft = fact == FactName.OsVersion || fact == FactName.SecurityPatch;
                var agree =
                    a.All(one => b.Any(other => Same(one.Value, other.Value, isSoft)))
                    || b.All(one => a.Any(other => Same(one.Value, other.Value, isSoft)));
                var areLines = IsLine(a[0]) && IsLine(b[0]);
                if (agree && (!areLines || a.Count == b.Count))
                    continue;
                var text = $"The package contradicts itself on its {fact.LabelInText}: {Words(a)}, {Words(b)}.";
                // A version that is told in two ways is cleared up with its source; on what a package is for there is nothing to clear up.
                if (findings.All(finding => finding.Text != text))
                    findings.Add(new PackageFinding(isSoft ? FindingWeight.Doubt : FindingWeight.Contradiction, text));
            }
        }
    }

    private static bool IsLine(PackageStatement said) =>
        said.Where.StartsWith("requirement line", StringComparison.Ordinal) || said.Where.StartsWith("line", StringComparison.Ordinal);

    /// <summary>Places differ in how much they say: a month and a day of it, 15 and 15.0, are no contradiction.</summary>
    private static bool Same(string a, string b, bool isSoft) =>
        a.Equals(b, StringComparison.OrdinalIgnoreCase) || isSoft && (Says(a, b) || Says(b, a) || VersionOrder.Compare(a, b) == 0);

    private static bool Says(string more, string less) =>
        more.Length > less.Length
        && more.StartsWith(less, StringComparison.OrdinalIgnoreCase)
        && more[less.Length] is '-' or '.'
        && more.Length > less.Length;

    private static string Words(List<PackageStatement> said) => $"{string.Join(" or ", said.Select(one => one.Value))} ({said[0].Where})";

    /// <summary>
    /// Names inside the package that carry a model's code, a region's, or a build string of another phone; each is held against the lines,
    /// and against the other names.
    /// The name of the package's own file is anybody's, and is only told.
    /// </summary>
    private void FindNames(PackageContents contents)
    {
        var models = Values(FactName.ModelCode).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var regions = Values(FactName.Region).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var groups = Values(FactName.RegionGroup).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var build = Build?.Build;
        // Where no line says it, the first name that does is what the others are held against.
        var (modelBy, regionBy, buildBy) = ("the package is", "the package is", "the package says");
        foreach (var member in contents.Members.Where(member => member.Kind is MemberKind.Image or MemberKind.Archive))
        {
            foreach (var name in member.Name.Split('/').Select(catalogue.ReadName).Where(name => !name.SaysNothing))
            {
                if (models.Count == 0 && name.Models.Count > 0)
                    (models, modelBy) = (name.Models.ToHashSet(StringComparer.OrdinalIgnoreCase), $"{member.Name} is named as");
                if (name.Models.FirstOrDefault(code => !models.Contains(code)) is { } other)
                    Contradiction($"{member.Name} is named after {other}; {modelBy} for {string.Join(", ", models)}.");

                if (name.Build is { } read)
                {
                    if (build is null)
                        (build, buildBy) = (read.Build, $"{member.Name} says");
                    if (!read.Build.Equals(build, StringComparison.OrdinalIgnoreCase))
                        Contradiction($"{member.Name} is named after the build {read.Build}; {buildBy} {build}.");
                }

                if (name.Regions.Count == 0)
                    continue;
                if (regions.Count == 0 && groups.Count == 0)
                    (regions, regionBy) = (
                        name.Regions.Select(region => region.Code).ToHashSet(StringComparer.OrdinalIgnoreCase),
                        $"{member.Name} is named as"
                    );
                if (
                    regions.Count > 0 && !name.Regions.Any(region => regions.Contains(region.Code))
                    || regions.Count == 0 && !name.Regions.Any(region => groups.Contains(region.Group))
                )
                    Contradiction(
                        $"{member.Name} is named after the region {name.Regions[0].Code}; {regionBy} for {string.Join(", ", regions.Count > 0 ? regions : groups)}."
                    );
            }
        }
    }

    /// <summary>
    /// Lines of a name that is not known here, and of a value that is: what they mean by another phone's model, chip, region or build is
    /// asked before anything is written.
    /// </summary>
    private void FindStrange()
    {
        var models = Values(FactName.ModelCode).ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (models.Count == 0)
            return;
        var regions = Values(FactName.Region).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var chips = Values(FactName.ChipFamily)
            .Concat(models.Select(catalogue.Model).OfType<PhoneModel>().Select(model => model.ChipFamily))
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var line in strange)
        {
            if (line.Values.FirstOrDefault(IsOfAnother) is not { } value)
                continue;
            var text = $"The line {line.Name}{Of(line.Within)} names {value}, and the package is for {string.Join(", ", models)}.";
            if (findings.All(finding => finding.Text != text))
                findings.Add(new PackageFinding(FindingWeight.Doubt, text));
        }

        bool IsOfAnother(string value) =>
            catalogue.Model(value) is { } model && !models.Contains(model.Code)
            || catalogue.ReadBuild(value) is { Model: { } of } && !models.Contains(of)
            || regions.Count > 0 && catalogue.Region(value) is { } region && !regions.Contains(region.Code)
            || chips.Count > 0
                && !chips.Contains(value)
                && catalogue.Models.Any(one => one.ChipFamily.Equals(value, StringComparison.OrdinalIgnoreCase));
    }

    private void Contradiction(string text)
    {
        if (findings.All(finding => finding.Text != text))
            findings.Add(new PackageFinding(FindingWeight.Contradiction, text));
    }
}
