using System.Reflection;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>
/// What the rules can say: all of it listed, all of it reached, all of it readable; and schools that never make a verdict better by being
/// stricter.
/// </summary>
public partial class SentenceTests
{
    [Fact]
    public void Every_row_of_every_table_is_reached()
    {
        var (random, around, reached) = (new Random(20261126), new Surroundings(Packages, Repo.Catalogue), new HashSet<RuleSentence>());
        // Those that need a catalogue, a library or an earlier write of their own.
        foreach (var (rule, c, says) in HardRows.All())
        {
            var said = rule.Judge(c).Said;
            Assert.Contains(says, said.Text);
            reached.Add(said);
        }

        IReadOnlyList<RuleSentence> all = [.. Matcher.Rules.SelectMany(rule => rule.Sentences), .. Judging.Shared];
        // And until all others were said: some of them are rare.
        for (var i = 0; i < 12_000 && all.Any(said => !reached.Contains(said)); i++)
        {
            var (phone, package, policy) = Case(random);
            var c = new MatchCase(phone, package, Repo.Catalogue, policy, around);
            foreach (var rule in Matcher.Rules)
                reached.Add(rule.Judge(c).Said);
        }

        var missing = Matcher
            .Rules.SelectMany(rule => rule.Sentences.Select(said => (rule.Id, said)))
            .Where(row => !reached.Contains(row.said))
            .Select(row => $"{row.Id} {row.said.Text}");
        Assert.Equal("", string.Join("\n", missing));
        Assert.All(Judging.Shared, said => Assert.Contains(said, reached));
        Assert.True(reached.IsSubsetOf(Matcher.Rules.SelectMany(rule => rule.Sentences).Concat(Judging.Shared)));
    }

    [Fact]
    public void No_rule_keeps_a_sentence_to_itself() =>
        Assert.All(Matcher.Rules, rule =>
            Assert.Equal(
                rule.GetType()
                    .GetFields(BindingFlags.NonPublic | BindingFlags.Static)
                    .Where(field => field.FieldType == typeof(RuleSentence))
                    .Select(field => (RuleSentence)field.GetValue(null)!)
                    .ToHashSet(),
                rule.Sentences.ToHashSet()
            )
        );

    [Fact]
    public void Every_sentence_reads_as_one() => Assert.All(Matcher.Rules.SelectMany(rule => rule.Sentences).Concat(Judging.Shared), said =>
        {
            Assert.Matches("^([A-Z“]|\\{)", said.Text);
            Assert.Matches("[.}]$", said.Text);
            Assert.DoesNotContain("  ", said.Text);
            // Nothing is asked for without a way to it, and care always costs something.
            if (said.Verdict == Verdict.Ask)
                Assert.Matches(
                    @"\{how\}|\{remedies\}|\b(Ask|Read|Add|Put|Try|Find out|Say|Do not write|Look into|Take it|What it shows)\b",
                    said.Text
                );
            if (said.Verdict == Verdict.Care)
                Assert.NotEmpty(said.Costs);
            if (said.Verdict is Verdict.Go or Verdict.Stop)
                Assert.Empty(said.Costs);
        });

    [Fact]
    public void The_page_of_sentences_in_the_docs_is_as_the_rules_are() =>
        Assert.Equal(
            RuleReference.Markdown(),
            File.ReadAllText(Path.Combine(Repo.Root, "docs", "match-rules.md")),
            ignoreLineEndingDifferences: true
        );

    [Fact]
    public void A_stricter_school_never_makes_anything_better_and_touches_its_own_rule_alone()
    {
        var (random, around) = (new Random(7), new Surroundings(Packages, Repo.Catalogue));
        for (var i = 0; i < 1_500; i++)
        {
            var (phone, package, policy) = Case(random);
            var c = new MatchCase(phone, package, Repo.Catalogue, policy, around);
            foreach (var question in Schools.All)
            {
                foreach (var stricter in question.Choices.TakeWhile(choice => choice != question.Of(policy)))
                {
                    var other = c with { Policy = question.Apply(policy, stricter) };
                    foreach (var rule in Matcher.Rules)
                    {
                        if (rule.Id == question.RuleId)
                            Assert.True(rule.Judge(other).Verdict >= rule.Judge(c).Verdict);
                        else
                            Assert.True(rule.Judge(other).IsAs(rule.Judge(c)));
                    }
                }
            }
        }
    }

    [Fact]
    public void A_rule_looks_at_no_fact_that_it_does_not_name()
    {
        var (random, around) = (new Random(11), new Surroundings(Packages, Repo.Catalogue));
        for (var i = 0; i < 1_500; i++)
        {
            var (phone, package, policy) = Case(random);
            var c = new MatchCase(phone, package, Repo.Catalogue, policy, around);
            foreach (var rule in Matcher.Rules)
            {
                var named = new Phone(
                    phone.All.Where(fact => rule.Needs.Contains(fact.Name) || fact.Name.IsPartitionSize && rule is M10Fits)
                );
                Assert.Equal(rule.Judge(c).Verdict, rule.Judge(c with { Phone = named }).Verdict);
            }
        }
    }

    [Fact]
    public void A_fact_less_never_turns_a_stop_into_a_go()
    {
        var (random, around) = (new Random(13), new Surroundings(Packages, Repo.Catalogue));
        for (var i = 0; i < Sampled.Of(500, 150); i++)
        {
            var (phone, package, policy) = Case(random);
            if (Matcher.Match(phone, package, Repo.Catalogue, policy, around).Verdict != Verdict.Stop)
                continue;
            foreach (var name in phone.Names.ToList())
                Assert.NotEqual(
                    Verdict.Go,
                    Matcher.Match(new Phone(phone.All.Where(fact => fact.Name != name)), package, Repo.Catalogue, policy, around).Verdict
                );
        }
    }

    [Fact]
    public void Where_the_floor_is_known_by_a_bound_alone_nothing_is_ever_go()
    {
        var random = new Random(17);
        for (var i = 0; i < 4_000; i++)
        {
            var (phone, package, policy) = Case(random);
            if (
                phone[FactName.ModelCode].Values.Select(Repo.Catalogue.MakerOf).ToList() is var makers
                && makers.Count > 0
                && makers.All(maker => maker is { HasRollbackFuses: false })
            )
                continue;
            var bound = new Phone(
                phone
                    .All.Where(fact => fact.Name != FactName.RollbackFloor)
                    .Append(Sample.Fact(FactName.RollbackFloor, "3", FactSource.Label))
            );
            Assert.True(Matcher.Match(bound, package, Repo.Catalogue, policy).Verdict >= Verdict.Ask);
        }
    }

    [Theory]
    [InlineData("revision", "TN63E.6.2630.WHM1", true, "M04")]
    [InlineData("origin", "TN63E.5.2608.WHM2", false, "M08")]
    [InlineData("digests", "TN63E.5.2608.WHM2", false, "M07")]
    [InlineData("region", "TN63E.5.2609.SRV1", true, "M06")]
    public void Every_verdict_that_depends_on_a_school_names_it_and_what_the_others_say(
        string id,
        string build,
        bool published,
        string rule
    )
    {
        var question = Schools.Find(id)!;
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "TN63E"),
            Sample.Fact(FactName.Region, "WHM"),
            Sample.Fact(FactName.RollbackFloor, "5")
        );
        var strict = Matcher
            .Match(
                phone,
                Sample.Set("TN63E", build, published: published),
                Repo.Catalogue,
                question.Apply(MatchPolicy.Careful, question.Choices[0])
            )
            .Results.Single(result => result.RuleId == rule);
        Assert.Equal(Verdict.Stop, strict.Verdict);
        Assert.Contains($"Stopped by shop rule: {question.Choices[0].Label}", strict.Sentence);
        Assert.Contains(strict.OtherSchools!, other => other.Verdict == Verdict.Care && other.Question == question.Title);
        var mild = Matcher
            .Match(
                phone,
                Sample.Set("TN63E", build, published: published),
                Repo.Catalogue,
                question.Apply(MatchPolicy.Careful, question.Choices[^1])
            )
            .Results.Single(result => result.RuleId == rule);
        Assert.Equal(Verdict.Care, mild.Verdict);
        Assert.Equal(question.Choices[^1].Label, mild.School);
        Assert.NotEmpty(mild.Consequences!);
        Assert.Contains(mild.OtherSchools!, other => other.Verdict == Verdict.Stop);
    }

    [Fact]
    public void A_sentence_takes_a_value_for_each_of_its_names_and_no_more()
    {
        var said = RuleSentence
            .Care("From {floor} to {revision}, and {floor} never again.")
            .Costing(ConsequenceKind.OneWayRevision, "To {revision}.");
        Assert.Equal("From 5 to 6, and 5 never again.", said.With(5, 6).Sentence);
        Assert.Equal("To 6.", said.With(5, 6).Consequences.Single().Text);
        Assert.Throws<ArgumentException>(() => said.With(5));
        Assert.Throws<ArgumentException>(() => said.With(5, 6, 7));
        Assert.Throws<ArgumentException>(() => RuleSentence.Go("Nothing.").Costing(ConsequenceKind.Network, "Of {what}."));
    }
}
