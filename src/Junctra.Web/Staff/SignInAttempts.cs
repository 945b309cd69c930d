using System.Collections.Concurrent;

namespace Junctra.Web.Staff;

/// <summary>
/// Counts wrong passwords, by account and address together and by address alone, so that a stranger who tries holds up himself and nobody
/// else: a computer at which somebody has signed in before is known by a cookie of its own and counts by itself.
/// </summary>
public sealed class SignInAttempts(TimeProvider time)
{
    /// <summary>Wrong passwords after which an account is held up for an address, or for a known computer.</summary>
    public const int MaxForAccount = 5;

    /// <summary>Wrong passwords after which an address is held up for every account.</summary>
    public const int MaxForAddress = 60;

    /// <summary>How long tries count, and how long somebody is held up.</summary>
    public static readonly TimeSpan Window = TimeSpan.FromMinutes(5);

    private const int MaxKept = 20_000;
    private readonly ConcurrentDictionary<string, (int Count, DateTimeOffset Since)> tries = new(StringComparer.Ordinal);

    /// <summary>Whether a try is refused, whatever its password.</summary>
    /// <param name="account">The name as typed.</param>
    /// <param name="address">Where it comes from.</param>
    /// <param name="computer">Id of a computer that is known for this account, or null.</param>
    public bool IsHeldUp(string account, string address, string? computer) =>
        computer is not null
            ? CountOf(ComputerKey(computer)) >= MaxForAccount
            : CountOf(AccountKey(account, address)) >= MaxForAccount || CountOf(AddressKey(address)) >= MaxForAddress;

    /// <summary>Counts a wrong password.</summary>
    /// <returns>How many of this account and place that makes.</returns>
    public int Wrong(string account, string address, string? computer)
    {
        if (tries.Count > MaxKept)
            foreach (var (key, value) in tries)
                if (time.GetUtcNow() - value.Since > Window)
                    tries.TryRemove(key, out _);
        if (computer is not null)
            return Add(ComputerKey(computer));
        Add(AddressKey(address));
        return Add(AccountKey(account, address));
    }

    /// <summary>Forgets what was counted for an account: its password was right, or a lead opened it.</summary>
    public void Forget(string account)
    {
        foreach (var key in tries.Keys.Where(key => key.StartsWith($"account {account} ", StringComparison.Ordinal)))
            tries.TryRemove(key, out _);
    }

    private int CountOf(string key) => tries.TryGetValue(key, out var one) && time.GetUtcNow() - one.Since <= Window ? one.Count : 0;

    private int Add(string key)
    {
        var now = time.GetUtcNow();
        return tries.AddOrUpdate(key, _ => (1, now), (_, one) => now - one.Since > Window ? (1, now) : (one.Count + 1, one.Since)).Count;
    }

    private static string AccountKey(string account, string address) => $"account {account} {address}";

    private static string AddressKey(string address) => $"address {address}";

    private static string ComputerKey(string computer) => $"computer {computer}";
}
