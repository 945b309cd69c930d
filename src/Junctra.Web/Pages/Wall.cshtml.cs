using Junctra.Web.Bench.Days;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>
/// The bench day for a screen at the wall, without a sign-in, where the lead switched it on: tickets and what is done, nothing that a
/// customer said, and nothing that can be changed or followed from it.
/// </summary>
[AllowAnonymous]
public sealed class WallModel(DayService days, TimeProvider time) : PageModel
{
    /// <summary>Seconds after which the screen fetches it anew.</summary>
    public const int AnewSeconds = 60;

    /// <summary>So many phones have a line of their own.</summary>
    public const int MaxJobs = 16;

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    /// <summary>The timetable that people know; null before the first.</summary>
    public MadeDay? Made { get; private set; }

    /// <summary>When it was made.</summary>
    public DateTimeOffset MadeAt { get; private set; }

    public async Task<IActionResult> OnGetAsync(CancellationToken cancel)
    {
        // Where it is off there is nothing here, for whoever asks.
        if (!(await days.HoursAsync(cancel)).IsOnWall)
            return NotFound();
        Response.Headers.CacheControl = "no-store";
        if (await days.KnownAsync(cancel) is { } known)
            (Made, MadeAt) = known;
        return Page();
    }
}
