using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Days;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages;

/// <summary>The bench: every open job, and what is next for the hands.</summary>
public sealed class IndexModel(JobLoader jobs, DayService days, UserManager<StaffRow> staff, TimeProvider time) : PageModel
{
    public IReadOnlyList<JobView> Jobs { get; private set; } = [];

    public DateTimeOffset Now { get; } = time.GetUtcNow();

    /// <summary>The timetable that people know; null before the first.</summary>
    public MadeDay? Made { get; private set; }

    /// <summary>When it was made.</summary>
    public DateTimeOffset MadeAt { get; private set; }

    public string Summary
    {
        get
        {
            var late = Jobs.Where(job => job.Row.PromisedAt < Now).Select(job => job.Row.Ticket).ToList();
            var count = Jobs.Count == 1 ? "1 phone" : $"{Jobs.Count} phones";
            return late.Count == 0 ? count : $"{count} · late: {string.Join(", ", late)}";
        }
    }

    /// <summary>Whether whoever looks is here for the first time, or wants to see the line again.</summary>
    public bool IsFirstVisit { get; private set; }

    /// <summary>The line is put away, or brought out again.</summary>
    public async Task<IActionResult> OnPostLineAsync(bool seen)
    {
        if (await staff.GetUserAsync(User) is { } me && me.HasSeenTheLine != seen)
        {
            me.HasSeenTheLine = seen;
            await staff.UpdateAsync(me);
        }

        return Redirect("/");
    }

    public async Task OnGetAsync(CancellationToken cancel)
    {
        IsFirstVisit = await staff.GetUserAsync(User) is { HasSeenTheLine: false };
        Jobs = await jobs.OpenAsync(cancel);
        if (await days.KnownAsync(cancel) is { } known)
            (Made, MadeAt) = known;
    }
}
