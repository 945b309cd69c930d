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
    public static RunFailed Describe(Exception error, PlanStep? step)
    {
        var touches = step?.Kind is StepKind.Write or StepKind.Erase or StepKind.RestartBootloader;
        return error switch
        {
            WriteRefusedException refused => new RunFailed(refused.Message, refused.Next),
            OperationCanceledException => new RunFailed("Junctra was stopped while it was writing.", Again(step, touches)),
            LinkException { Fault: LinkFault.Refused } => new RunFailed(
                error.Message, "Leave the phone in its bootloader. Read it again and match again: what it refused tells which fact was wrong."),
            LinkException { Fault: LinkFault.NoAnswer or LinkFault.NotUnderstood } when !touches => new RunFailed(
                error.Message, "Nothing was written. Bring the phone into fastboot mode, check the cable, and begin again."),
            LinkException => new RunFailed(error.Message, Again(step, touches)),
            _ => new RunFailed($"The package file cannot be read: {error.Message}", touches ? Again(step, touches) : "Nothing was written. Look through the library again."),
        };
    }

    private static string Again(PlanStep? step, bool touches)
    {
        if (!touches) return "Nothing was written. Check the cable and begin again.";
        return step!.NoReturn
            ? "Do not switch the phone off. If its bootloader menu still shows, read it and write again from the start at once. If it is black and no key works, only chip emergency mode is left."
            : "Try another cable or port first. Bring the phone into fastboot mode by keys, read it again, and write again from the start.";
    }
}
