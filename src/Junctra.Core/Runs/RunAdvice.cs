namespace Junctra.Core.Runs;

/// <summary>What a person does after a run that ended early.</summary>
public static class RunAdvice
{
    /// <summary>The next step by where the run broke, for every cause that says nothing better of its own.</summary>
    /// <param name="state">The run as its journal tells it.</param>
    public static string Again(RunState state)
    {
        if (!state.HasTouchedPhone)
            return "Nothing was written. Check the cable and begin again.";
        var mode = state.Mode;
        return state.Plan.RiskOf(state.Step, state.At).IsNoReturn && state.IsInDoubt
            ? $"Do not switch the phone off. If it still shows {mode}, read it and write again from the start at once. If it is black and no key works, only chip emergency mode is left."
            : $"Try another cable or port first. Bring the phone into {mode} by keys, read it again, and write again from the start.";
    }

    /// <summary>The next step after this computer failed, not the link.</summary>
    /// <inheritdoc cref="Again"/>
    public static string AfterThisComputer(RunState state)
    {
        if (!state.HasTouchedPhone)
            return "Nothing was written. Begin again.";
        return state.Plan.RiskOf(state.Step, state.At).IsNoReturn && state.IsInDoubt
            ? Again(state)
            : $"Leave the phone as it is. If it shows {state.Mode}, read it and write again from the start; if not, bring it there by keys first.";
    }
}
