using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>What happened to a phone that nobody brings back, and what that would have cost a customer.</summary>
/// <param name="Cost">What it would have cost, in a sentence.</param>
/// <param name="Rule">The sentence of the rule behind it.</param>
public sealed record Irreversible(string Cost, string Rule)
{
    /// <summary>What is so now and was not before; null where all can be brought back.</summary>
    public static Irreversible? Between(TwinState before, TwinState now) =>
        now.Faults.Shorted && !before.Faults.Shorted
            ? new("The board is shorted: this phone is gone.", "A needle is held on the wanted pad and on nothing else.")
        : now.Unlocked != before.Unlocked
            ? new(
                now.Unlocked ? "The lock is open and everything on the phone is erased." : "The lock is closed over what may not start.",
                "The lock is changed only where that is the job, with the owner's consent, and with what it erases said before."
            )
        : before.Data is not null && now.Data is null
            ? new("Everything that the customer had on it is erased.", "Data are erased only where that was agreed, in writing.")
        : now.Tripped && !before.Tripped
            ? new("The tamper fuse is blown, for good.", "What trips the fuse is said before, and waived by the owner.")
        : now.Floor > before.Floor
            ? new(
                $"Revisions below {now.Floor} are refused from now on.",
                "The floor never falls: it is raised only by a plan that says so."
            )
        : now.Parts.FirstOrDefault(part => !part.Value.Whole && before.Parts.GetValueOrDefault(part.Key)?.Whole != false)
            is { Key: { } name }
            ? new(
                $"{name} is half written: the phone may not start again.",
                "While something is written, cable, keys and battery stay as they are."
            )
        : before.Parts.Keys.FirstOrDefault(name => !now.Parts.ContainsKey(name)) is { } gone
            ? new($"{gone} is gone, and what was in it with it.", "Nothing is formatted that the plan does not write again.")
        : null;
}
