using System.CommandLine;
using Junctra.Core.Facts;
using Junctra.Formats.Inspection;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>Spoils good files on purpose and looks into each.</summary>
internal static class MutationCommand
{
    /// <summary>The command.</summary>
    public static Command Mutations()
    {
        var countOption = new Option<int>("--count") { Description = "How many files to spoil", DefaultValueFactory = _ => 100_000 };
        var seedOption = new Option<int>("--seed") { Description = "Gives the same run again", DefaultValueFactory = _ => 20261128 };
        var mutations = new Command(
            "mutations",
            "Spoils good files on purpose and looks into each; ends with 1 when one was called whole, took too long or too much, or threw"
        )
        {
            countOption,
            seedOption,
            Shell.Catalogue,
        };
        mutations.SetAction((result, cancel) => Shell.GuardAsync(result, async () =>
                {
                    var seeds = await MutationSeeds.AllAsync();
                    var catalogue = Shell.CatalogueOf(result);
                    var report = await Junctra.Formats.Inspection.Mutations.RunAsync(
                        seeds,
                        result.GetValue(countOption),
                        result.GetValue(seedOption),
                        catalogue,
                        new Told(done => result.InvocationConfiguration.Error.Write($"\r{done} ")),
                        cancel
                    );
                    result.InvocationConfiguration.Error.WriteLine();
                    foreach (var line in report.Escapes.Concat(report.Slow).Concat(report.Wrong).Take(40))
                        result.InvocationConfiguration.Output.WriteLine(line);
                    result.InvocationConfiguration.Output.WriteLine(
                        $"{report.Files} files of {seeds.Count} kinds: {report.Refused} refused, {report.Escapes.Count} exceptions, {report.Slow.Count} slower than {Junctra.Formats.Inspection.Mutations.MaxTime.TotalSeconds:0} s, {report.Wrong.Count} called whole and changed, {ByteSize.Text(report.PeakBytes)} of memory at most."
                    );
                    return report.IsClean ? 0 : 1;
                }));
        return mutations;
    }

    /// <summary>Tells how far something is, at once and in order.</summary>
    private sealed class Told(Action<int> tell) : IProgress<int>
    {
        public void Report(int value) => tell(value);
    }
}
