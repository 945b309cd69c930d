using Junctra.Store;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.People;

/// <summary>Somebody on the staff page.</summary>
public sealed record PersonView(
    int Id,
    string Name,
    IReadOnlyList<string> Roles,
    bool IsClosed,
    bool IsLockedOut,
    bool HasSecondFactor,
    int SignIns,
    bool IsMe
);

/// <summary>Who works here. For the lead only; what is done to an account ends its sign-ins.</summary>
[Authorize(Policies.Lead)]
public sealed class StaffModel(
    UserManager<StaffRow> staff,
    Door door,
    SignIns signIns,
    JunctraDb db,
    TimeProvider time,
    Tokens tokens,
    SecondFactor factor,
    SignInAttempts attempts
) : PageModel
{
    // Closed accounts are locked for ever; those with too many wrong passwords for minutes.
    private static readonly DateTimeOffset ForEver = new(9000, 1, 1, 0, 0, 0, TimeSpan.Zero);

    public IReadOnlyList<PersonView> People { get; private set; } = [];

    public string? Problem { get; private set; }

    public string? TypedName { get; private set; }

    [TempData]
    public string? Done { get; set; }

    public Task OnGetAsync() => LoadAsync();

    public async Task<IActionResult> OnPostAddAsync(string? name, string? password, string[] roles)
    {
        TypedName = name?.Trim().ToLowerInvariant();
        if (Known(roles) is not { Count: > 0 } given)
            return await RefusedAsync("Give the account one role at least.");
        await using var transaction = await db.Database.BeginTransactionAsync();
        var row = new StaffRow { UserName = TypedName, HasGivenPassword = true };
        var made = await staff.CreateAsync(row, password ?? "");
        if (!made.Succeeded)
            return await RefusedAsync(StaffWords.Of(made));
        await staff.AddToRolesAsync(row, given);
        return await NotedAsync($"Made an account for {row.UserName}: {string.Join(", ", given)}.", transaction);
    }

    public Task<IActionResult> OnPostRolesAsync(int id, string[] roles) =>
        ChangeAsync(
            id,
            async row =>
            {
                var wanted = Known(roles);
                if (wanted.Count == 0)
                    return "Somebody without a role can do nothing. Close the account instead.";
                var now = await staff.GetRolesAsync(row);
                if (now.Contains(StaffRoles.Lead) && !wanted.Contains(StaffRoles.Lead) && await IsLastLeadAsync(row))
                    return "This is the last lead. Make another one first.";
                await staff.RemoveFromRolesAsync(row, now.Except(wanted));
                await staff.AddToRolesAsync(row, wanted.Except(now));
                return null;
            },
            row => $"Roles of {row.UserName}: {string.Join(", ", Known(roles))}."
        );

    public Task<IActionResult> OnPostPasswordAsync(int id, string? password) =>
        ChangeAsync(
            id,
            async row =>
            {
                foreach (var validator in staff.PasswordValidators)
                {
                    var valid = await validator.ValidateAsync(staff, row, password);
                    if (!valid.Succeeded)
                        return StaffWords.Of(valid);
                }

                row.HasGivenPassword = true;
                await staff.RemovePasswordAsync(row);
                var set = await staff.AddPasswordAsync(row, password!);
                if (!set.Succeeded)
                    return StaffWords.Of(set);
                // Whoever had the old one may have made tokens with it.
                await tokens.RevokeAllAsync(row, User.Identity!.Name!, HttpContext.RequestAborted);
                attempts.Forget(row.UserName!);
                return null;
            },
            row => $"Set a new password for {row.UserName}."
        );

    public Task<IActionResult> OnPostSignOutAsync(int id) =>
        ChangeAsync(
            id,
            async row =>
            {
                await tokens.RevokeAllAsync(row, User.Identity!.Name!, HttpContext.RequestAborted);
                return null;
            },
            row => $"Signed {row.UserName} out everywhere."
        );

    public Task<IActionResult> OnPostCodeOffAsync(int id) =>
        ChangeAsync(
            id,
            async row =>
            {
                if (!row.TwoFactorEnabled)
                    return "That account has no second factor.";
                // An open screen is no place to take one's own away.
                if (row.UserName == User.Identity!.Name)
                    return "Take your own away at your account, with a code.";
                await factor.TurnOffAsync(row);
                return null;
            },
            row => $"Took the second factor of {row.UserName} away."
        );

    public Task<IActionResult> OnPostCloseAsync(int id) =>
        ChangeAsync(
            id,
            async row =>
            {
                if (await staff.IsInRoleAsync(row, StaffRoles.Lead) && await IsLastLeadAsync(row))
                    return "This is the last lead. Make another one first.";
                await staff.SetLockoutEndDateAsync(row, ForEver);
                return null;
            },
            row => $"Closed the account of {row.UserName}."
        );

    public Task<IActionResult> OnPostOpenAsync(int id) =>
        ChangeAsync(
            id,
            async row =>
            {
                await staff.SetLockoutEndDateAsync(row, null);
                await staff.ResetAccessFailedCountAsync(row);
                attempts.Forget(row.UserName!);
                return null;
            },
            row => $"Opened the account of {row.UserName}."
        );

    private async Task<IActionResult> ChangeAsync(int id, Func<StaffRow, Task<string?>> change, Func<StaffRow, string> act)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        // Two leads who take the role from each other at once must not leave none.
        await db.Database.ExecuteSqlAsync($"lock table staff in exclusive mode");
        if (await staff.FindByIdAsync(id.ToString(System.Globalization.CultureInfo.InvariantCulture)) is not { } row)
            return await RefusedAsync("There is no such account.");
        if (await change(row) is { } problem)
            return await RefusedAsync(problem);
        await staff.UpdateSecurityStampAsync(row);
        // Whoever changes their own account stays signed in here.
        if (row.UserName == User.Identity!.Name)
            await door.GoOnAsync(HttpContext, row);
        return await NotedAsync(act(row), transaction);
    }

    private async Task<IActionResult> NotedAsync(string act, Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction transaction)
    {
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = User.Identity!.Name!,
                Act = act,
            }
        );
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        Done = act;
        return Redirect("/staff");
    }

    private async Task<bool> IsLastLeadAsync(StaffRow row) =>
        !(await staff.GetUsersInRoleAsync(StaffRoles.Lead)).Any(other => other.Id != row.Id && !(other.LockoutEnd >= ForEver));

    private static List<string> Known(IEnumerable<string> roles) => [.. StaffRoles.All.Where(roles.Contains)];

    private async Task<IActionResult> RefusedAsync(string problem)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        db.ChangeTracker.Clear();
        await LoadAsync();
        return Page();
    }

    private async Task LoadAsync()
    {
        var now = time.GetUtcNow();
        var places = await signIns.CountAsync(HttpContext.RequestAborted);
        var roles = await (
            from held in db.UserRoles
            join role in db.Roles on held.RoleId equals role.Id
            select new { held.UserId, role.Name }
        ).ToListAsync();
        People =
        [
            .. (await db.Users.AsNoTracking().OrderBy(user => user.UserName).ToListAsync()).Select(user => new PersonView(
                user.Id,
                user.UserName!,
                [.. StaffRoles.All.Where(role => roles.Any(held => held.UserId == user.Id && held.Name == role))],
                user.LockoutEnd >= ForEver,
                user.LockoutEnd > now,
                user.TwoFactorEnabled,
                places.GetValueOrDefault(user.Id),
                user.UserName == User.Identity!.Name
            )),
        ];
    }
}
