using System.Globalization;
using Junctra.Core;
using Junctra.Schedule;
using Junctra.Web.Bench.Days;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.People;

/// <summary>When the shop works, and whose hands are at its bench until when. Everybody may look; the lead changes it.</summary>
public sealed class HoursModel(DayService days, IAuthorizationService authorization) : PageModel
{
    private static readonly string[] Times = ["H:mm", "HH:mm", "H.mm", "%H"];

    public BenchHours Hours { get; private set; } = BenchHours.Usual;

    public bool MayAct { get; private set; }

    public string? Problem { get; private set; }

    /// <summary>The people as they were typed, where they were refused.</summary>
    public string? Typed { get; private set; }

    [TempData]
    public string? Done { get; set; }

    public Task OnGetAsync(CancellationToken cancel) => LoadAsync(cancel);

    public async Task<IActionResult> OnPostAsync(
        string? opens,
        string? closes,
        string? breakFrom,
        string? breakTo,
        string[] on,
        string? people,
        int chargers,
        bool wall,
        CancellationToken cancel
    )
    {
        await LoadAsync(cancel);
        if (!MayAct)
            return new StatusCodeResult(StatusCodes.Status403Forbidden);
        Typed = people;
        if (Read(opens) is not { } from || Read(closes) is not { } to)
            return Refuse("Say when the shop opens and closes, as 9:00.");
        var hands = new List<BenchPerson>();
        foreach (var line in (people ?? "").Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
            if (Person(line, from, to) is { } person)
                hands.Add(person);
            else
                return Refuse($"“{ShownText.Of(line, 60)}” is no pair of hands: a name, and from when until when, as bench 9:00-18:00.");
        var rest = (Read(breakFrom), Read(breakTo));
        if (!string.IsNullOrWhiteSpace(breakFrom) && rest.Item1 is null || !string.IsNullOrWhiteSpace(breakTo) && rest.Item2 is null)
            return Refuse("Say when the break begins and ends, as 13:00, or leave both out.");
        var wanted = new BenchHours(
            from,
            to,
            [.. on.Select(day => EnumNames.Parse<DayOfWeek>(day)).OfType<DayOfWeek>().Distinct()],
            hands,
            chargers
        )
        {
            BreakFrom = rest.Item1,
            BreakTo = rest.Item2,
            IsOnWall = wall,
        };
        if (await days.ChangeHoursAsync(wanted, User.Identity!.Name!, cancel) is { } why)
            return Refuse(why);
        Done = "The hours were changed. The timetable follows in a few seconds.";
        return Redirect("/bench-hours");
    }

    /// <summary>The people, one a line.</summary>
    public string People => Typed ?? string.Join('\n', Hours.People.Select(one => $"{one.Name} {Text(one.From)}-{Text(one.To)}"));

    /// <summary>A time as it is typed.</summary>
    public static string Text(TimeOnly? time) => time?.ToString("H:mm", CultureInfo.InvariantCulture) ?? "";

    private static TimeOnly? Read(string? text) =>
        TimeOnly.TryParseExact(text?.Trim(), Times, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time) ? time
        : text?.Trim() is "24:00" ? TimeOnly.MinValue
        : null;

    // A name, and hours where they are not the shop's.
    private static BenchPerson? Person(string line, TimeOnly opens, TimeOnly closes)
    {
        var at = line.LastIndexOf(' ');
        var hours = at < 0 ? [] : line[(at + 1)..].Split('-', '–');
        if (hours.Length != 2)
            return line.Any(char.IsDigit) && line.Contains('-') ? null : new BenchPerson(ShownText.Of(line, 41), opens, closes);
        return Read(hours[0]) is { } from && Read(hours[1]) is { } to
            ? new BenchPerson(ShownText.Of(line[..at].Trim(), 41), from, to)
            : null;
    }

    private PageResult Refuse(string problem)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private async Task LoadAsync(CancellationToken cancel)
    {
        Hours = await days.HoursAsync(cancel);
        MayAct = (await authorization.AuthorizeAsync(User, Policies.Lead)).Succeeded;
    }
}
