using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Formats.CatalogueFiles;

namespace Junctra.Formats.PhoneFiles;

/// <summary>A phone out of a file, and what was decided for it there.</summary>
/// <param name="Phone">The phone.</param>
/// <param name="Policy">The job's policy: the shop's where the file says nothing.</param>
public sealed record PhoneFile(Phone Phone, MatchPolicy Policy);

/// <summary>
/// Reads a phone's facts from a YAML file (JSON is YAML too). Its schema stands in <c>docs/formats.md</c>: a group <c>facts</c>
/// whose keys are names of facts; a value, or a list of claims with <c>value</c>, <c>source</c>, <c>at</c> and <c>by</c>; likewise
/// <c>before-last-write</c>; and <c>wishes</c> with what was decided for the job.
/// </summary>
public static class PhoneFileReader
{
    /// <summary>Reads a phone.</summary>
    /// <param name="path">Path of the file.</param>
    /// <param name="catalogue">Grammars by which build strings are read, and the shop's schools.</param>
    /// <exception cref="CatalogueException">The file is wrong; every mistake with its line.</exception>
    public static PhoneFile Read(string path, ModelCatalogue catalogue)
    {
        var problems = new List<CatalogueProblem>();
        var root = CatalogueReader.Open(Path.GetDirectoryName(Path.GetFullPath(path))!, Path.GetFileName(path), problems);
        PhoneFile? phone = null;
        // What the file does not date was known when it was written.
        var written = new DateTimeOffset(File.GetLastWriteTimeUtc(path));
        if (root is not null)
        {
            var source = root.Has("source") ? Source(root) : (FactSource?)null;
            var facts = ReadFacts(root.Child("facts"), source, written, catalogue).ToList();
            var earlier = root.Has("before-last-write")
                ? ReadFacts(root.Child("before-last-write"), source, written, catalogue).ToList()
                : [];
            var policy = root.Has("wishes") ? ReadWishes(root.Child("wishes"), Schools.PolicyOf(catalogue)) : Schools.PolicyOf(catalogue);
            root.RejectUnknownKeys();
            phone = new PhoneFile(new Phone(facts, earlier), policy);
        }

        return problems.Count > 0 ? throw new CatalogueException(problems) : phone!;
    }

    /// <summary>Reads a policy from a file of its own: the same as the group <c>wishes</c> of a phone's file.</summary>
    /// <param name="path">Path of the file.</param>
    /// <param name="policy">What holds where it says nothing.</param>
    /// <exception cref="CatalogueException">The file is wrong; every mistake with its line.</exception>
    public static MatchPolicy ReadPolicy(string path, MatchPolicy policy)
    {
        var problems = new List<CatalogueProblem>();
        if (CatalogueReader.Open(Path.GetDirectoryName(Path.GetFullPath(path))!, Path.GetFileName(path), problems) is { } root)
            policy = ReadWishes(root, policy);
        return problems.Count > 0 ? throw new CatalogueException(problems) : policy;
    }

    /// <summary>Reads what was decided for a job, on top of a policy.</summary>
    private static MatchPolicy ReadWishes(CatalogueNode wishes, MatchPolicy policy)
    {
        policy = CatalogueReader.ReadSchools(wishes).Aggregate(policy, (decided, answer) => answer.Question.Apply(decided, answer.Choice));
        if (wishes.Has("data"))
            policy = policy with
            {
                DataMayGo = wishes.Word(
                    "data",
                    text =>
                        text switch
                        {
                            "may-go" => true,
                            "keep" => false,
                            _ => (bool?)null,
                        },
                    "keep, may-go"
                ),
            };
        if (wishes.Has("goal"))
            policy = policy with { Goal = wishes.Word("goal", GoalWords.ParseGoal, CatalogueWords.Goals) };
        if (wishes.Has("version"))
            policy = policy with { Wish = ReadVersion(wishes) };
        if (wishes.Has("board-rescue"))
            policy = policy with { NeedsBoardRescue = wishes.Flag("board-rescue") };
        wishes.RejectUnknownKeys();
        return policy;
    }

    private static VersionWish ReadVersion(CatalogueNode wishes)
    {
        if (GoalWords.ReadWish(wishes.Text("version")) is { } wish)
            return wish;
        wishes.Problem("version must be none, newest, same-revision, exactly with a version, or not-above with a version.", "version");
        return VersionWish.None;
    }

    private static IEnumerable<Fact> ReadFacts(CatalogueNode group, FactSource? source, DateTimeOffset written, ModelCatalogue catalogue)
    {
        foreach (var (key, node) in group.Entries())
        {
            if (FactName.Parse(key) is not { } name)
            {
                node.Problem($"{key} is no fact; known are {string.Join(", ", FactName.All)} and partition-size: with a partition's name.");
                continue;
            }

            IReadOnlyList<CatalogueNode> claims =
                node.Scalar is not null ? [node]
                : node.IsList ? node.Items()
                : [node];
            foreach (var claim in claims)
            {
                foreach (var fact in ReadClaim(name, claim, source, written, catalogue))
                    yield return fact;
            }
        }
    }

    private static IEnumerable<Fact> ReadClaim(
        FactName name,
        CatalogueNode claim,
        FactSource? source,
        DateTimeOffset at,
        ModelCatalogue catalogue
    )
    {
        if (claim.IsNull)
        {
            claim.Problem($"{name} says nothing. What is not known is left out.");
            yield break;
        }

        var text = claim.Scalar;
        var by = "file";
        if (text is null)
        {
            text = claim.Text("value");
            if (claim.Has("source"))
                source = Source(claim);
            if (
                claim.Has("at")
                && !DateTimeOffset.TryParse(
                    claim.Text("at"),
                    System.Globalization.CultureInfo.InvariantCulture,
                    System.Globalization.DateTimeStyles.AssumeUniversal,
                    out at
                )
            )
                claim.Problem("at must be a time such as 2026-09-03T12:00:00Z.");
            by = claim.OptionalText("by") ?? by;
            claim.RejectUnknownKeys();
        }

        if (source is null)
        {
            claim.Problem(
                $"Where {name} was read is not said. Give the claim a source, or the file a source for all of them: {CatalogueWords.Sources}."
            );
            yield break;
        }

        if (name.Normalise(text) is not { } value)
        {
            claim.Problem($"{text} is no value of {name}. {name.Definition.Form.Hint}");
            yield break;
        }

        foreach (var told in BuildFacts.With(new Fact(name, value, source.Value, at, by), catalogue))
            yield return told;
    }

    private static FactSource Source(CatalogueNode node) => node.Word("source", CatalogueWords.Source, CatalogueWords.Sources);
}
