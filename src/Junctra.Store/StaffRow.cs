using Microsoft.AspNetCore.Identity;

namespace Junctra.Store;

/// <summary>Somebody who works here, by the name under which acts are recorded.</summary>
public sealed class StaffRow : IdentityUser<int>
{
    /// <summary>Whether somebody else chose the password, so that it should be changed.</summary>
    public bool HasGivenPassword { get; set; }

    /// <summary>Whether the line was shown to this person, and put away.</summary>
    public bool HasSeenTheLine { get; set; }
}

/// <summary>
/// Somebody's sign-in at one browser. It counts until it is ended, or until the account's stamp is another: then a copy of its cookie
/// counts no more.
/// </summary>
public sealed class SignInRow
{
    /// <summary>The sign-in, 32 hexadecimal digits.</summary>
    public required string Id { get; set; }
    public int StaffId { get; set; }

    /// <summary>The account's security stamp when it was made.</summary>
    public required string Stamp { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>When it was last used; noted once a minute at most.</summary>
    public DateTimeOffset SeenAt { get; set; }

    /// <summary>Address from which it was made.</summary>
    public required string Address { get; set; }

    /// <summary>Whether it was made at a phone or tablet, as far as its browser says so.</summary>
    public bool IsHandheld { get; set; }

    /// <summary>Whether a second factor was asked for, and right.</summary>
    public bool BySecondFactor { get; set; }
    public DateTimeOffset? EndedAt { get; set; }
}

/// <summary>The roles of a shop.</summary>
public static class StaffRoles
{
    /// <summary>Takes phones in and hands them back.</summary>
    public const string Counter = "counter";

    /// <summary>Works on phones.</summary>
    public const string Bench = "bench";

    /// <summary>Changes the shop's rules, its catalogue and its staff.</summary>
    public const string Lead = "lead";

    /// <summary>All roles.</summary>
    public static IReadOnlyList<string> All { get; } = [Counter, Bench, Lead];

    /// <summary>What a role is for, in a few words.</summary>
    public static string Says(string role) =>
        role switch
        {
            Counter => "takes phones in and hands them back",
            Bench => "works on phones",
            Lead => "changes shop rules, catalogue and staff",
            _ => role,
        };
}
