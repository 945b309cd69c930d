using System.CommandLine;
using Junctra.Core.Practice;
using Junctra.Formats.CatalogueFiles;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>Exercises, tried out before anybody learns by them.</summary>
internal static class PracticeCommands
{
    private sealed record Report(IReadOnlyList<Line> Exercises, IReadOnlyList<Line> Generated);

    private sealed record Line(string Id, string Ladder, string Skill, int Points, IReadOnlyList<string> Problems);

    /// <summary>Plays every exercise with perfect hands, and with the wrong ones that it warns of.</summary>
    public static Command Practice()
    {
        var generate = new Option<int>("--generate") { Description = "Make so many new exercises of each kind as well, and try them" };
        var seed = new Option<int>("--seed") { Description = "Seed of the first of them", DefaultValueFactory = _ => 1 };
        var check = new Command("check", "Proves of every exercise that it can be solved, and failed by what it warns of")
        {
            Shell.Catalogue,
            Shell.Json,
            generate,
            seed,
        };
        check.SetAction(result => Shell.GuardAsync(result, () =>
            {
                var catalogue = Shell.CatalogueOf(result);
                var folder = result.GetValue(Shell.Catalogue)!.FullName;
                var exercises = PracticeReader.Read(folder, catalogue);
                var first = result.GetValue(seed);
                var made = ExerciseGenerator.Kinds.SelectMany(kind =>
                    Enumerable.Range(first, result.GetValue(generate)).Select(at => ExerciseGenerator.Make(kind, at, catalogue))
                );
                var report = new Report([.. exercises.Select(Tried)], [.. made.Select(Tried)]);
                Shell.Show(result, report, ForPeople);
                return Task.FromResult(report.Exercises.Concat(report.Generated).Any(line => line.Problems.Count > 0) ? 1 : 0);

                Line Tried(Exercise exercise)
                {
                    var tried = ExerciseCheck.Of(exercise, catalogue);
                    return new Line(exercise.Id, Junctra.Core.EnumNames.Of(exercise.Ladder), exercise.Skill, tried.Points, tried.Problems);
                }
            }));
        return new Command("practice", "Exercises of the catalogue") { check };
    }

    private static void ForPeople(Report report, TextWriter to)
    {
        foreach (var line in report.Exercises.Concat(report.Generated).Where(line => line.Problems.Count > 0))
        foreach (var problem in line.Problems)
            to.WriteLine($"{line.Id}: {problem}");
        foreach (var ladder in report.Exercises.GroupBy(line => line.Ladder))
            to.WriteLine($"{ladder.Key}: {ladder.Count()} exercises of {ladder.Select(line => line.Skill).Distinct().Count()} classes");
        if (report.Generated.Count > 0)
            to.WriteLine($"{report.Generated.Count} made anew");
        var wrong = report.Exercises.Concat(report.Generated).Count(line => line.Problems.Count > 0);
        to.WriteLine(wrong == 0 ? "All can be solved, and failed." : $"{wrong} with problems.");
    }
}
