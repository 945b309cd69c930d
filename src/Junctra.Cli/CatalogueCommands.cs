using Junctra.Core.Matching;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>What is asked of a catalogue alone.</summary>
internal static class CatalogueCommands
{
    /// <summary>Checks the files of a catalogue.</summary>
    public static Command Check()
    {
        var check = new Command("catalogue", "Checks the files of a catalogue; every mistake with its file and line") { Shell.Catalogue };
        check.SetAction(result => Shell.GuardAsync(result, () =>
            {
                var catalogue = Shell.CatalogueOf(result);
                result.InvocationConfiguration.Output.WriteLine(
                    $"{catalogue.Makers.Count} makers, {catalogue.Models.Count()} models, {catalogue.Regions.Count} regions: all in order."
                );
                return Task.FromResult(0);
            }));
        return check;
    }

    /// <summary>Prints what the rules of the match can say.</summary>
    public static Command Rules()
    {
        var rules = new Command("rules", "Prints every sentence that the rules of the match can say, as docs/match-rules.md has it");
        rules.SetAction(result => Shell.GuardAsync(result, () =>
            {
                result.InvocationConfiguration.Output.Write(RuleReference.Markdown());
                return Task.FromResult(0);
            }));
        return rules;
    }
}
