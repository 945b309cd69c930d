using System.CommandLine;
using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Triage;
using Junctra.Formats.PhoneFiles;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>What is wrong, from observations.</summary>
internal static class TriageCommand
{
    /// <summary>Says what may be wrong, and which check tells most.</summary>
    public static Command Triage()
    {
        var sawOption = new Option<string[]>("--saw")
        {
            Description = "An observation, CHECK=OUTCOME as triage.yaml has them; as often as wanted",
            AllowMultipleArgumentsPerToken = true,
        };
        var skippedOption = new Option<string[]>("--cannot-tell")
        {
            Description = "A check that nothing can be told from",
            AllowMultipleArgumentsPerToken = true,
        };
        var cellOption = new Option<string>("--cell")
        {
            Description = "State of the cell",
            DefaultValueFactory = _ => EnumNames.Of(CellState.Sound),
        };
        cellOption.AcceptOnlyFromAmong([.. Enum.GetValues<CellState>().Select(EnumNames.Of)]);
        var triage = new Command("triage", "Says what may be wrong, which check tells most, and what to do; ends with 1 while that is open")
        {
            Shell.Phone,
            sawOption,
            skippedOption,
            cellOption,
            Shell.Catalogue,
            Shell.Json,
        };
        triage.SetAction(result => Shell.GuardAsync(result, () =>
            {
                var catalogue = Shell.CatalogueOf(result);
                var phone = PhoneFileReader.Read(result.GetValue(Shell.Phone)!.FullName, catalogue).Phone;
                var tables = catalogue.Triage;
                var saw = (result.GetValue(sawOption) ?? []).Select(text => Saw(text, tables)).ToList();
                var skipped = result.GetValue(skippedOption) ?? [];
                foreach (var id in skipped.Where(id => tables.Check(id) is null))
                    throw new IOException($"{id} is no check. Checks are {string.Join(", ", tables.Checks.Select(one => one.Id))}.");
                var observed = Observations.Of(phone, saw, tables);
                var model = catalogue.Model(phone[FactName.ModelCode].Value);
                var cell = EnumNames.Parse<CellState>(result.GetValue(cellOption))!.Value;
                var report = TriageFile.Of(
                    Diagnoser.Of(tables, new TriageCase(catalogue.MakerOf(model?.Code)?.Name, model?.KeyFamily, cell, skipped), observed),
                    observed,
                    tables
                );
                Shell.Show(result, report, Print.Triage);
                return Task.FromResult(report.IsSettled ? 0 : 1);
            }));
        return triage;
    }

    private static Observation Saw(string text, TriageTables tables)
    {
        if (text.Split('=', 2) is not [var id, var outcome])
            throw new IOException($"{text} is no observation: write CHECK=OUTCOME.");
        var check = tables.Check(id)
            ?? throw new IOException($"{id} is no check. Checks are {string.Join(", ", tables.Checks.Select(one => one.Id))}.");
        return check.Outcome(outcome) is not null
            ? new Observation(id, outcome)
            : throw new IOException(
                $"{outcome} is no outcome of {id}. Outcomes are {string.Join(", ", check.Outcomes.Select(one => one.Id))}."
            );
    }
}
