namespace Junctra.Core.Jobs;

/// <summary>How a job went out, or that it has not.</summary>
public enum JobOutcome
{
    /// <summary>The phone is still here.</summary>
    Open,

    /// <summary>It was written or wiped, and every check that was needed holds.</summary>
    InOrder,

    /// <summary>Nothing on it was changed.</summary>
    AsItCame,

    /// <summary>Its owner took it before it was in order.</summary>
    NotInOrder,

    /// <summary>Its cell was not sound: it was set apart.</summary>
    SetApart,
}

/// <summary>Words for outcomes.</summary>
public static class JobOutcomes
{
    /// <summary>How a job went out.</summary>
    /// <param name="isHandedBack">Whether the phone went back over the counter.</param>
    /// <param name="cell">State of the cell as seen at the counter.</param>
    /// <param name="wasTouched">Whether any run told the phone to write or erase something.</param>
    /// <param name="isInOrder">Whether the last run was finished and its checks are passed.</param>
    public static JobOutcome Of(bool isHandedBack, Triage.CellState cell, bool wasTouched, bool isInOrder) =>
        !isHandedBack ? JobOutcome.Open
        : cell != Triage.CellState.Sound ? JobOutcome.SetApart
        : !wasTouched ? JobOutcome.AsItCame
        : isInOrder ? JobOutcome.InOrder
        : JobOutcome.NotInOrder;

    /// <summary>The outcome in a word or two.</summary>
    public static string Label(this JobOutcome outcome) =>
        outcome switch
        {
            JobOutcome.Open => "still here",
            JobOutcome.InOrder => "in order",
            JobOutcome.AsItCame => "as it came",
            JobOutcome.NotInOrder => "not in order",
            _ => "set apart",
        };
}
