using System.Text;

namespace Junctra.Core.Matching;

/// <summary>All that the rules can say, as a page of the documentation.</summary>
public static class RuleReference
{
    /// <summary>The page, in Markdown; made by <c>junctra-cli rules</c>.</summary>
    public static string Markdown()
    {
        var page = new StringBuilder();
        page.Append(
            "# What the rules of the match can say\n\nMade by `junctra-cli rules`; do not edit it by hand. Names in braces are filled in with what was judged.\n"
        );
        page.Append(
            "The verdict of a package is the worst of its rules, in the order go, care, ask, stop. Care always names what somebody accepts.\n"
        );
        foreach (var rule in Matcher.Rules)
        {
            page.Append($"\n## {rule.Id} {rule.Title}\n\n");
            page.Append(
                rule.Needs.Count == 0
                    ? "Looks at the package alone.\n\n"
                    : $"Looks at: {string.Join(", ", rule.Needs.Select(name => name.Label.ToLowerInvariant()))}.\n\n"
            );
            if (Schools.All.FirstOrDefault(question => question.RuleId == rule.Id) is { } question)
                page.Append(
                    $"By school, the strictest first: {string.Join("; ", question.Choices.Select(choice => $"**{choice.Label}**{(choice.Id == question.Usual ? " (usual)" : "")}: {choice.Why.TrimEnd('.')}"))}.\n\n"
                );
            page.Append("| verdict | sentence |\n|---|---|\n");
            foreach (var said in rule.Sentences.OrderBy(said => said.Verdict))
                page.Append(
                    $"| {said.Verdict.ToString().ToLowerInvariant()} | {said.Text}{string.Concat(said.Costs.Select(cost => $"<br>*accepted: {cost.Text}*"))} |\n"
                );
            if (rule is not M18Card)
                continue;
            page.Append("\nThe remedies that M18 puts together:\n\n");
            foreach (var remedy in M18Card.Remedies)
                page.Append($"- {remedy}\n");
        }

        page.Append(
            "\n## Every rule\n\nWhere sources of a fact disagree, every claimed value is judged, the worst counts, and at least this is said:\n\n"
        );
        foreach (var said in Judging.Shared)
            page.Append($"- {said.Verdict.ToString().ToLowerInvariant()}: {said.Text}\n");
        return page.ToString();
    }
}
