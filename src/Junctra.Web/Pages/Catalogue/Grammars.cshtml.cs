using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Catalogue;

/// <summary>One pasted line and how it reads.</summary>
/// <param name="Text">The line.</param>
/// <param name="Reading">How a grammar reads it, or null.</param>
/// <param name="IsKnownModel">Whether its model is in the catalogue.</param>
/// <param name="Order">How it stands to the build of its model that was pasted before it, in words.</param>
/// <param name="Problem">Why it is not read, or null.</param>
public sealed record GrammarLine(string Text, BuildReading? Reading, bool IsKnownModel, string Order, string? Problem);

/// <summary>Shows a lead how the grammars read build strings.</summary>
[Authorize(Policies.Lead)]
public sealed class GrammarsModel(ModelCatalogue catalogue) : PageModel
{
    /// <summary>Most lines that are read at once.</summary>
    public const int MaxLines = 200;

    [BindProperty]
    public string? Text { get; set; }

    public string? Problem { get; private set; }

    public IReadOnlyList<GrammarLine> Lines { get; private set; } = [];

    public IEnumerable<string> Examples => catalogue.Makers.Select(maker => maker.Example);

    public void OnPost()
    {
        var lines = (Text ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (lines.Length == 0)
            Problem = "Paste one build string at least.";
        if (lines.Length > MaxLines)
            Problem = $"These are {lines.Length} lines; the first {MaxLines} are read.";
        var read = new List<GrammarLine>();
        foreach (var line in lines.Take(MaxLines))
            read.Add(ReadLine(line, read));
        Lines = read;
    }

    private GrammarLine ReadLine(string text, List<GrammarLine> before)
    {
        var readings = catalogue.ReadBuilds(text);
        if (readings.Count != 1)
        {
            var near = CodeReading.Read(text, catalogue);
            var why =
                text.Length > BuildGrammar.MaxCharacters ? $"It is longer than {BuildGrammar.MaxCharacters} characters."
                : readings.Count > 1 ? $"The grammars of {string.Join(" and ", readings.Select(reading => reading.Maker))} both read it."
                : near.Near.Count > 0 ? $"Close to it: {string.Join(", ", near.Near.Select(code => code.Code))}."
                : "No grammar of the catalogue reads it.";
            return new GrammarLine(text, null, false, "", why);
        }

        var reading = readings[0];
        var other = before
            .LastOrDefault(line => line.Reading is { } earlier && earlier.Model == reading.Model && earlier.Maker == reading.Maker)
            ?.Reading;
        var grammar = catalogue.Makers.First(maker => maker.Name == reading.Maker).Grammar;
        var order = other is null
            ? ""
            : grammar.Compare(reading, other) switch
            {
                null => $"Not comparable. {grammar.WhyNotComparable(reading, other)}",
                0 => "the same age",
                > 0 => "newer",
                _ => "older",
            };
        return new GrammarLine(text, reading, catalogue.Model(reading.Model) is not null, order, null);
    }
}
