using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Plans.Paths;
using Junctra.Store.Logbook;
using Junctra.Web.Logbook;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>Every job of the shop, found by anything that stands in its record.</summary>
public sealed class LogbookModel(LogbookSearch search, LogbookKeeper keeper, ShopInsight insight, ModelCatalogue catalogue) : PageModel
{
    /// <summary>Longest question.</summary>
    public const int MaxCharacters = 120;

    private static readonly Dictionary<string, string> Legends = new()
    {
        [LogbookSearch.ModelFilter] = "Model",
        [LogbookSearch.FindingFilter] = "Finding",
        [LogbookSearch.PathFilter] = "Path",
        [LogbookSearch.OutcomeFilter] = "How it went out",
    };

    // Of a shop with hundreds of models the usual ones; the others are found by typing their code.
    private const int MaxChoices = 12;

    public LogbookQuestion Asked { get; private set; } = new("");

    public LogbookPage Found { get; private set; } = null!;

    /// <summary>Whether anything narrows the list.</summary>
    public bool IsNarrowed => Asked with { Before = null } != new LogbookQuestion("");

    /// <summary>The figure whose jobs are shown, as an address names it, or null.</summary>
    public string? Of { get; private set; }

    /// <summary>The same in words; null without one.</summary>
    public string? OfWords { get; private set; }

    /// <summary>Filters with their legends.</summary>
    public IEnumerable<(string Name, string Legend, IReadOnlyList<FilterChoice> Choices)> Filters =>
        LogbookSearch.FilterNames.Select(name => (name, Legends[name], (IReadOnlyList<FilterChoice>)Shown(name)));

    // What is chosen is always shown, also where it leaves nothing: else nobody could take it back.
    private List<FilterChoice> Shown(string name)
    {
        var choices = Found.Filters[name];
        var chosen = Chosen(name) is { } value
            ? choices.FirstOrDefault(choice => choice.Value == value) ?? new FilterChoice(value, 0)
            : null;
        var shown = choices.Take(MaxChoices).ToList();
        if (chosen is not null && !shown.Contains(chosen))
            shown.Add(chosen);
        return shown;
    }

    public async Task OnGetAsync(
        string? q,
        string? model,
        string? finding,
        string? path,
        string? outcome,
        int? before,
        string? of,
        CancellationToken cancel
    )
    {
        var text = (q ?? "").Trim();
        Asked = new LogbookQuestion(
            text.Length > MaxCharacters ? text[..MaxCharacters] : text,
            Read(model),
            Read(finding),
            Read(path),
            EnumNames.Parse<JobOutcome>(outcome),
            before
        );
        await keeper.RefreshAsync(cancel);
        if (of?.Split(':', 2) is [var section, var figure] && await insight.BehindAsync(section, figure, cancel) is { } behind)
        {
            (Of, OfWords) = (of, behind.Title);
            Asked = Asked with { Jobs = behind.Jobs };
        }

        Found = await search.FindAsync(Asked, cancel);
    }

    /// <summary>What is chosen of a filter, or null.</summary>
    public string? Chosen(string filter) =>
        filter switch
        {
            LogbookSearch.ModelFilter => Asked.Model,
            LogbookSearch.FindingFilter => Asked.Finding,
            LogbookSearch.PathFilter => Asked.Path,
            _ => Asked.Outcome is { } outcome ? EnumNames.Of(outcome) : null,
        };

    /// <summary>Address of this list with another choice of one filter; null for none.</summary>
    public string With(string filter, string? choice) => Address(Asked.Question, filter, choice, null);

    /// <summary>Address of this list with another word in the place of one that stands nowhere.</summary>
    public string Instead(string word, string meant) =>
        Address(
            string.Join(' ', Core.Logbook.SearchWords.Asked(Asked.Question).Select(asked => asked == word ? meant : asked)),
            "",
            null,
            null
        );

    /// <summary>Address of the next page.</summary>
    public string Older => Address(Asked.Question, "", null, Found.Jobs[^1].JobId);

    private string Address(string question, string filter, string? choice, int? before)
    {
        var values = LogbookSearch
            .FilterNames.Select(name => (name, Value: name == filter ? choice : Chosen(name)))
            .Where(pair => pair.Value is not null)
            .Select(pair => KeyValuePair.Create(pair.name, pair.Value is "" ? None : pair.Value))
            .Append(KeyValuePair.Create("q", question.Length > 0 ? question : null))
            .Append(KeyValuePair.Create("of", Of))
            .Append(KeyValuePair.Create("before", before?.ToString()))
            .Where(pair => pair.Value is not null);
        return Url.Page("/Logbook") + QueryString.Create(values);
    }

    // An empty field of a form is none; what jobs have that lack something has a sign of its own in addresses.
    private const string None = "-";

    private static string? Read(string? choice) => choice == None ? "" : choice;

    /// <summary>A choice of a filter in words.</summary>
    public string Label(string filter, string value) =>
        (filter, value) switch
        {
            (LogbookSearch.OutcomeFilter, _) => EnumNames.Parse<JobOutcome>(value)!.Value.Label(),
            (LogbookSearch.FindingFilter, "") => "none taken",
            (LogbookSearch.PathFilter, "") => "none",
            (_, "") => "not known",
            (LogbookSearch.FindingFilter, _) => FindingOf(value),
            (LogbookSearch.PathFilter, _) => PathOf(value),
            _ => catalogue.Model(value) is { } model ? $"{model.ProductName} {value}" : value,
        };

    /// <summary>A fault class in words.</summary>
    public string FindingOf(string id) => catalogue.Triage.Class(id)?.Label ?? id;

    /// <summary>A path in words.</summary>
    public static string PathOf(string letter) => PathList.Find(letter)?.Title ?? letter;
}
