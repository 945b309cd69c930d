namespace Junctra.Core.Jobs;

/// <summary>
/// What the scannable code on a label, a slip or a sheet holds: the ticket behind a stroke. A hand scanner types it as a person would; the
/// stroke is the key that goes to the find field, so that a scan leads to its job from any page, and it is dropped wherever a ticket is
/// asked for.
/// </summary>
public static class TicketCode
{
    /// <summary>The key that goes before the ticket.</summary>
    public const char Stroke = '/';

    /// <summary>The text of a ticket's code.</summary>
    public static string Of(string ticket) => Stroke + ticket;

    /// <summary>The ticket that was typed or scanned, in capitals; empty where nothing was.</summary>
    public static string Read(string? typed) => (typed ?? "").Trim().TrimStart(Stroke).Trim().ToUpperInvariant();
}
