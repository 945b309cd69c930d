using Junctra.Core.Facts;
using Junctra.Core.Runs;

namespace Junctra.Link.Running;

/// <summary>Junctra itself refuses to go on.</summary>
internal sealed class WriteRefusedException(string what, string next) : Exception(what)
{
    public string Next { get; } = next;
}

/// <summary>Puts into words what ended a run, and what a person does next.</summary>
internal static class WriteFailure
{
    /// <summary>What ended a run, and what next.</summary>
    /// <param name="error">What broke.</param>
    /// <param name="state">The run as it was written down by then.</param>
    /// <param name="sentInImage">Bytes of the image at hand that were given to the link.</param>
    public static RunFailed Describe(Exception error, RunState state, long sentInImage)
    {
        var touched = state.HasTouchedPhone;
        return error switch
        {
            WriteRefusedException refused => new RunFailed(refused.Message, refused.Next),
            OperationCanceledException => new RunFailed("Junctra was stopped while it was writing.", RunAdvice.AfterThisComputer(state)),
            PackageChangedException => new RunFailed(
                error.Message,
                touched
                    ? $"Leave the phone in {state.Mode}. Get the package again, let the library look at it, match, and write again from the start."
                    : "Nothing was written. Get the package again, let the library look at it, and match again."
            ),
            LinkException { Fault: LinkFault.Refused } => new RunFailed(
                error.Message,
                $"Leave the phone in {state.Mode}. Read it again and match again: what it refused tells which fact was wrong."
            )
            {
                IsRefusal = true,
            },
            LinkException { Fault: LinkFault.NoAnswer or LinkFault.NotUnderstood } when !touched => new RunFailed(
                error.Message,
                $"Nothing was written. Bring the phone into {state.Mode}, check the cable, and begin again."
            ),
            LinkException when state.At is { } partition => new RunFailed(
                $"{error.Message} {ByteSize.Text(sentInImage)} of {ByteSize.Text(state.BytesOf(partition))} of {partition} had been given to it (byte {sentInImage}).",
                RunAdvice.Again(state)
            ),
            LinkException => new RunFailed(error.Message, RunAdvice.Again(state)),
            InvalidDataException or FormatException => new RunFailed(error.Message, RunAdvice.AfterThisComputer(state)),
            _ => new RunFailed(
                $"The package file cannot be read or unpacked: {error.Message}",
                touched ? RunAdvice.AfterThisComputer(state) : "Nothing was written. Look through the library again."
            ),
        };
    }
}
