using Junctra.Core.Packages;
using Junctra.Core.Planning;
using Junctra.Core.Runs;

namespace Junctra.Link;

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
    /// <param name="step">The step it broke in, or null before the first.</param>
    /// <param name="touches">Whether the phone was told to write or erase anything by then.</param>
    /// <param name="inDoubt">Whether it had not answered to that.</param>
    /// <param name="sentInStep">Bytes of the step's image that were given to the link.</param>
    public static RunFailed Describe(Exception error, PlanStep? step, bool touches, bool inDoubt, long sentInStep)
    {
        return error switch
        {
            WriteRefusedException refused => new RunFailed(refused.Message, refused.Next),
            OperationCanceledException => new RunFailed("Junctra was stopped while it was writing.", RunAdvice.AfterThisComputer(step, touches, inDoubt)),
            PackageChangedException => new RunFailed(error.Message, touches
                ? "Leave the phone in its bootloader. Get the package again, let the library look at it, match, and write again from the start."
                : "Nothing was written. Get the package again, let the library look at it, and match again."),
            LinkException { Fault: LinkFault.Refused } => new RunFailed(
                error.Message, "Leave the phone in its bootloader. Read it again and match again: what it refused tells which fact was wrong."),
            LinkException { Fault: LinkFault.NoAnswer or LinkFault.NotUnderstood } when !touches => new RunFailed(
                error.Message, "Nothing was written. Bring the phone into fastboot mode, check the cable, and begin again."),
            LinkException when step is { Kind: StepKind.Write } => new RunFailed(
                $"{error.Message} {ByteSize.Text(sentInStep)} of {ByteSize.Text(step.Bytes)} of {step.Partition} had been given to it (byte {sentInStep}).", RunAdvice.Again(step, touches, inDoubt)),
            LinkException => new RunFailed(error.Message, RunAdvice.Again(step, touches, inDoubt)),
            InvalidDataException or FormatException => new RunFailed(error.Message, RunAdvice.AfterThisComputer(step, touches, inDoubt)),
            _ => new RunFailed($"The package file cannot be read or unpacked: {error.Message}", touches ? RunAdvice.AfterThisComputer(step, touches, inDoubt) : "Nothing was written. Look through the library again."),
        };
    }
}
