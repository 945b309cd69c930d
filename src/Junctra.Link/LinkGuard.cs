using System.Net.Sockets;

namespace Junctra.Link;

/// <summary>What can go wrong on a link, said as a <see cref="LinkException"/>, the same for every protocol.</summary>
internal static class LinkGuard
{
    /// <summary>Lets something happen on a link.</summary>
    /// <param name="act">What happens.</param>
    /// <param name="when">The moment in words: "after ...", "while ...".</param>
    /// <param name="cancel">The caller's own end; only the clocks' is silence.</param>
    /// <exception cref="LinkException">The phone fell silent, answered nonsense, or the link broke.</exception>
    public static async Task RunAsync(Func<Task> act, string when, CancellationToken cancel)
    {
        try
        {
            await act().ConfigureAwait(false);
        }
        catch (OperationCanceledException error) when (!cancel.IsCancellationRequested)
        {
            throw new LinkException(LinkFault.Silent, $"The phone fell silent {when}.", error);
        }
        catch (InvalidDataException error)
        {
            throw new LinkException(LinkFault.NotUnderstood, $"What answers made no sense {when}. {error.Message}", error);
        }
        catch (IOException error) when (error is EndOfStreamException || error.InnerException is SocketException or ObjectDisposedException)
        {
            throw new LinkException(LinkFault.Lost, $"The link broke {when}.", error);
        }
    }

    /// <summary>Of a phone that does not keep to its protocol.</summary>
    public static LinkException Nonsense(string what) =>
        new(LinkFault.NotUnderstood, $"The phone {what}. What answers there does not keep to the protocol.");
}
