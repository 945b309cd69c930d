using System.Globalization;
using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Practice;

namespace Junctra.Web.Practising;

/// <summary>Practice in words.</summary>
public static class PracticeWords
{
    /// <summary>A ladder.</summary>
    public static string Of(Ladder ladder) =>
        ladder switch
        {
            Ladder.Keys => "Keys: with hands, against the clock",
            Ladder.Reading => "Reading: what is this, and what may be done to it",
            Ladder.Jobs => "Whole jobs",
            _ => "Trouble: what goes wrong, and what is then done",
        };

    /// <summary>A class of exercises, as people say it.</summary>
    /// <param name="skill">The class.</param>
    /// <param name="catalogue">Key families and their recipes.</param>
    public static string Of(string skill, ModelCatalogue catalogue)
    {
        if (skill.Split('/') is not [var group, var name])
            return skill;
        if (group == "jobs" && PathList.Find(name) is { } path)
            return path.Title;
        var family = catalogue.Models.Select(catalogue.KeyFamilyOf).FirstOrDefault(family => family.Id == group);
        var recipe = family?.Recipes.FirstOrDefault(recipe => recipe.Id == name);
        return recipe is not null ? $"{family!.Name}: {recipe.Name}" : Plain(name);

        static string Plain(string name) => char.ToUpperInvariant(name[0]) + name[1..].Replace('-', ' ');
    }

    /// <summary>When a class comes again, in a word or two.</summary>
    /// <param name="state">How somebody stands in it; null where they never practised it.</param>
    /// <param name="now">Now.</param>
    public static string Again(SkillState? state, DateTimeOffset now) =>
        state is null ? "new"
        : state.DueAt <= now ? "due"
        : $"again {(state.DueAt - now).TotalDays switch { < 1 => "tomorrow", var days => $"in {Math.Ceiling(days):0} days" }}";

    /// <summary>A station of a job.</summary>
    public static string Of(JobStage stage) =>
        stage switch
        {
            JobStage.Finding => "Find out",
            JobStage.HandBack => "Hand back",
            _ => stage.ToString(),
        };

    /// <summary>For what points are lost.</summary>
    public static string Of(LostFor lost) =>
        lost switch
        {
            LostFor.Safety => "safety",
            LostFor.Aim => "not done",
            LostFor.Order => "order",
            LostFor.Time => "time",
            _ => "hint",
        };

    /// <summary>A moment.</summary>
    public static string At(long milliseconds) => string.Create(CultureInfo.InvariantCulture, $"{milliseconds / 1000.0:0.0} s");
}
