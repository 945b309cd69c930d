using Junctra.Core.Planning;

namespace Junctra.Core.Runs;

/// <summary>What a person does after a run that ended early.</summary>
public static class RunAdvice
{
    /// <summary>The next step by where the run broke, for every cause that says nothing better of its own.</summary>
    /// <param name="step">The step it broke in, or null when it broke before or between steps.</param>
    /// <param name="touched">Whether the phone was told to write or erase anything by then.</param>
    /// <param name="inDoubt">Whether it had not answered to that.</param>
    public static string Again(PlanStep? step, bool touched, bool inDoubt)
    {
        if (!touched) return "Nothing was written. Check the cable and begin again.";
        return step is { NoReturn: true } && inDoubt
            ? "Do not switch the phone off. If its bootloader menu still shows, read it and write again from the start at once. If it is black and no key works, only chip emergency mode is left."
            : "Try another cable or port first. Bring the phone into fastboot mode by keys, read it again, and write again from the start.";
    }

    /// <summary>The next step after this computer failed, not the link.</summary>
    /// <inheritdoc cref="Again"/>
    public static string AfterThisComputer(PlanStep? step, bool touched, bool inDoubt)
    {
        if (!touched) return "Nothing was written. Begin again.";
        return step is { NoReturn: true } && inDoubt
            ? Again(step, touched, inDoubt)
            : "Leave the phone as it is. If its bootloader menu shows, read it and write again from the start; if not, bring it there by keys first.";
    }
}
