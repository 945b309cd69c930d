using Junctra.Store;
using Junctra.Store.Logbook;
using Junctra.Web.Logbook;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages;

/// <summary>The record as a whole: written out, taken in, and how long customers' words are kept.</summary>
[RequestSizeLimit(MaxBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = MaxBytes)]
public sealed class RecordsModel(JunctraDb db, LogbookTakeIn takeIn, CustomerWords words, IAuthorizationService authorization) : PageModel
{
    /// <summary>Largest file that is taken in.</summary>
    public const long MaxBytes = 1L << 30;

    /// <summary>Whether whoever is signed in may act here.</summary>
    public bool MayAct { get; private set; }

    public int Jobs { get; private set; }

    /// <summary>Days for which customers' words are kept.</summary>
    public int Days { get; private set; }

    /// <summary>Of how many jobs they are due to be removed.</summary>
    public int Due { get; private set; }

    public IReadOnlyList<KeepRuleRow> History { get; private set; } = [];

    /// <summary>The file that is taken in, or was last; null where none was since the program began.</summary>
    public TakingIn? TakingIn => takeIn.Latest;

    public string? Problem { get; private set; }

    [TempData]
    public string? Done { get; set; }

    public Task OnGetAsync(CancellationToken cancel) => LoadAsync(cancel);

    /// <summary>How far the file is, for the page that shows it.</summary>
    public IActionResult OnGetTakingIn() => Partial("_TakingIn", TakingIn);

    /// <summary>Takes a file in, beside the pages.</summary>
    public async Task<IActionResult> OnPostTakeInAsync(IFormFile? file, CancellationToken cancel)
    {
        if (!await MayActAsync())
            return StatusCode(StatusCodes.Status403Forbidden);
        if (file is not { Length: > 0 })
            return await RefusedAsync("Choose a file that was written out here or at another bench.", cancel);
        await using var stream = file.OpenReadStream();
        if (!await takeIn.BeginAsync(stream, file.FileName, User.Identity!.Name!, cancel))
            return await RefusedAsync("Another file is taken in just now. Wait until that is done.", cancel);
        return RedirectToPage();
    }

    /// <summary>Decides for how long customers' words are kept.</summary>
    public async Task<IActionResult> OnPostKeepAsync(int days, string? reason, CancellationToken cancel)
    {
        if (!await MayActAsync())
            return StatusCode(StatusCodes.Status403Forbidden);
        if (await words.DecideAsync(days, reason, User.Identity!.Name!, cancel) is { } why)
            return await RefusedAsync(why, cancel);
        Done = $"Customers' words are kept for {days} days after the hand-back. What is older goes with the next round, at night.";
        return RedirectToPage();
    }

    /// <summary>Removes what is due now.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(CancellationToken cancel)
    {
        if (!await MayActAsync())
            return StatusCode(StatusCodes.Status403Forbidden);
        var due = await words.DueAsync(cancel);
        await words.RemoveDueAsync();
        Done = $"The customers' words of {due} {(due == 1 ? "job" : "jobs")} were removed.";
        return RedirectToPage();
    }

    private async Task<bool> MayActAsync() => MayAct = (await authorization.AuthorizeAsync(User, Policies.Lead)).Succeeded;

    private async Task<IActionResult> RefusedAsync(string why, CancellationToken cancel)
    {
        Problem = why;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        await LoadAsync(cancel);
        return Page();
    }

    private async Task LoadAsync(CancellationToken cancel)
    {
        await MayActAsync();
        Jobs = await db.Jobs.CountAsync(cancel);
        Days = await words.DaysAsync(cancel);
        Due = await words.DueAsync(cancel);
        History = await words.HistoryAsync(cancel);
    }
}
