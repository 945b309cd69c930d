using Junctra.Core.Catalogue;

namespace Junctra.Link;

/// <summary>How long the link waits before it calls something a fault. There is no ceiling while bytes move.</summary>
/// <param name="Connect">For a connection and its greeting.</param>
/// <param name="Answer">For an answer to a question.</param>
/// <param name="Transfer">For the next bytes of a transfer to be taken.</param>
/// <param name="Restart">For the phone to be back after a restart.</param>
/// <param name="Commit">For the phone to write or erase so many bytes.</param>
public sealed record LinkClocks(TimeSpan Connect, TimeSpan Answer, TimeSpan Transfer, TimeSpan Restart, Func<long, TimeSpan> Commit)
{
    /// <summary>The clocks that follow from the shop's figures.</summary>
    public static LinkClocks From(Figures figures) =>
        new(
            TimeSpan.FromSeconds(5),
            TimeSpan.FromSeconds(10),
            TimeSpan.FromSeconds(figures.TransferStallFaultSeconds),
            TimeSpan.FromSeconds(figures.RestartFaultSeconds),
            bytes => TimeSpan.FromSeconds(figures.CommitFaultSeconds(bytes))
        );
}
