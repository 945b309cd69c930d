using Junctra.Store;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Web.Pages;

/// <summary>What is shown when there is no such page, or when something broke. Needs nothing but itself.</summary>
[AllowAnonymous]
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : PageModel
{
    public string Title { get; private set; } = "";

    public string Text { get; private set; } = "";

    public void OnGet(int? status)
    {
        if (DatabaseAbsence.Is(HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error))
        {
            Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
            (Title, Text) = (
                "The database does not answer",
                "A write that is going on waits for it, and its phone holds what it accepted: do not touch it. Nothing of yours was stored just now. When the database is back, load the page again."
            );
            return;
        }

        var error = HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error;
        if (error is JobBusyException)
        {
            Response.StatusCode = StatusCodes.Status409Conflict;
            (Title, Text) = ("A write is going on for this job", "Nothing of yours was stored. Do not touch the phone; look at the write.");
            return;
        }

        // What the database itself refuses of what was typed, and what the server refuses of a request, are mistakes of the input and not
        // of the program.
        if (
            error
            is DbUpdateException { InnerException: PostgresException { SqlState: ['2', '2', ..] } }
                or PostgresException { SqlState: ['2', '2', ..] }
        )
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            (Title, Text) = (
                "That cannot be kept",
                "Something that was typed is too long, or holds characters that cannot be kept. Nothing was stored. Go back and write it shorter, without special characters."
            );
            return;
        }

        if (error is BadHttpRequestException refused)
            Response.StatusCode = refused.StatusCode;
        (Title, Text) = Words(status ?? (error is BadHttpRequestException bad ? bad.StatusCode : null));
    }

    public void OnPost(int? status) => OnGet(status);

    /// <summary>Without a word of its own a page answers OPTIONS with 200, a refusal too.</summary>
    public void OnOptions(int? status) => OnGet(status);

    private static (string Title, string Text) Words(int? status) =>
        status switch
        {
            404 => ("There is no such page", "The ticket or the address may be mistyped. Nothing was changed."),
            403 => (
                "That is for another role",
                "Your account may not do this. Nothing was changed. Ask somebody whose work it is, or the lead for the role. Where leads need a second factor here: set it up at your account, and sign in with it."
            ),
            413 => ("That is too much at once", "Nothing was changed. Send less, or sign in first."),
            401 => ("Sign in first", "Nothing was changed. Sign in and try again."),
            400 => (
                "That was not understood",
                "The page may have been open for too long, or a field or the address holds what nothing here can mean: a character that is none, or a text far too long. Go back, load the page again, and repeat."
            ),
            { } other => ($"That did not work ({other})", "Nothing was changed. Go back and try again."),
            null => (
                "Something broke here",
                "If a write is going on, it goes on: do not touch the phone. What was stored is safe. Go back, load the page again, and see whether your last act is there."
            ),
        };
}
