using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Rescue;
using Junctra.Core.Runs;
using Junctra.Core.Triage;

namespace Junctra.Core.Jobs;

/// <summary>The stations of a job's line, in the order in which people work.</summary>
public enum Station
{
    /// <summary>Why is it here, whose is it, what may be lost.</summary>
    Intake,

    /// <summary>Facts with sources.</summary>
    FindOut,

    /// <summary>Which package may be written.</summary>
    Match,

    /// <summary>Into the write mode.</summary>
    Route,

    /// <summary>Gates and steps.</summary>
    Plan,

    /// <summary>The watched write.</summary>
    Write,

    /// <summary>As intended or not.</summary>
    Check,

    /// <summary>The sheet, and the phone back over the counter.</summary>
    HandBack,
}

/// <summary>Words for stations.</summary>
public static class Stations
{
    /// <summary>All stations in order.</summary>
    public static IReadOnlyList<Station> All { get; } = Enum.GetValues<Station>();

    /// <summary>Name over the station.</summary>
    public static string Label(this Station station) =>
        station switch
        {
            Station.FindOut => "Find out",
            Station.HandBack => "Hand back",
            _ => station.ToString(),
        };

    /// <summary>The station's part of an address.</summary>
    public static string Slug(this Station station) => EnumNames.Of(station);
}

/// <summary>What the line looks at.</summary>
/// <param name="Phone">The phone's facts.</param>
/// <param name="PackageChosen">Whether a package was chosen, or a path that takes none.</param>
/// <param name="RunStatus">How the last run stands, or null before the first.</param>
/// <param name="Checks">The check of the last finished run; empty before.</param>
/// <param name="HandedBack">Whether the phone went back over the counter.</param>
/// <param name="HasRollbackFuses">Whether the phone's maker uses rollback fuses, so that the floor must be known.</param>
/// <param name="Cell">State of the cell as seen at the counter.</param>
/// <param name="Way">The way out of the finding that was taken, or null.</param>
/// <param name="IsFound">Whether somebody has taken a finding.</param>
/// <param name="WriteMode">The mode in which the model's packages are written.</param>
/// <param name="NeedsLink">Whether the chosen path reads its target over a link.</param>
/// <param name="Goal">What it is here for.</param>
/// <param name="Hangs">Whether it was seen to hang on its way up since the last run has finished.</param>
/// <param name="IsBroughtBack">Whether the last run brought back what was saved before.</param>
/// <param name="HasNothingToCheck">Whether the last run left the phone as it was, so that nothing is to be read again.</param>
/// <param name="Rescue">Where the rescue of its board stands.</param>
public sealed record JobState(
    Phone Phone,
    bool PackageChosen,
    RunStatus? RunStatus,
    IReadOnlyList<CheckLine> Checks,
    bool HandedBack,
    bool HasRollbackFuses = true,
    CellState Cell = CellState.Sound,
    WayOut? Way = null,
    bool IsFound = true,
    PhoneMode WriteMode = PhoneMode.Fastboot,
    bool NeedsLink = true,
    JobGoal Goal = JobGoal.Stock,
    bool Hangs = false,
    bool HasNothingToCheck = false,
    bool IsBroughtBack = false,
    RescueStanding Rescue = RescueStanding.None
);

/// <summary>Where a job is, and what is next for the hands.</summary>
/// <param name="At">The station that waits.</param>
/// <param name="Next">What to do there, in a few words.</param>
/// <param name="IsDone">Whether the job is over.</param>
/// <param name="AtRescue">Whether it waits on the branch to board rescue.</param>
public sealed record JobStanding(Station At, string Next, bool IsDone = false, bool AtRescue = false);

/// <summary>Reads a job's place off its facts. Nothing is stored: what is done is done because its result is there.</summary>
public static class JobLine
{
    // An opened phone lies on a bench in pieces: that comes before whatever else is next for its job.
    private static JobStanding? AtRescue(JobState job) =>
        job.RunStatus?.IsOpen() == true
            ? null
            : job.Rescue switch
            {
                RescueStanding.EndedOpen => new JobStanding(Station.Write, "Put it back together", AtRescue: true),
                RescueStanding.Ended when job.RunStatus != RunStatus.Finished => new JobStanding(Station.HandBack, "Hand it back as it is"),
                RescueStanding.Open when job.RunStatus == RunStatus.Finished && job.Checks.Count > 0 && Checker.IsPassed(job.Checks) =>
                    new JobStanding(Station.HandBack, "Close it up", AtRescue: true),
                // Once its chip was read, package and plan go on.
                RescueStanding.Open when job.RunStatus is null && !job.Phone.Of(FactName.Mode).Is(PhoneMode.Emergency) => new JobStanding(
                    Station.Write,
                    "Go on at the opened phone",
                    AtRescue: true
                ),
                _ => null,
            };

    /// <summary>Where the job is.</summary>
    public static JobStanding Standing(JobState job)
    {
        if (job.HandedBack)
            return new JobStanding(Station.HandBack, "Handed back", true);
        if (job.Cell != CellState.Sound && job.RunStatus?.IsOpen() is not true)
            return new JobStanding(Station.Intake, $"Stop: {job.Cell.ToString().ToLowerInvariant()}. Set it apart");
        if (AtRescue(job) is { } branch)
            return branch;
        switch (job.RunStatus)
        {
            case RunStatus.Queued or RunStatus.Writing:
                return new JobStanding(Station.Write, "Do not touch: writing");
            case RunStatus.Waiting:
                return new JobStanding(Station.Write, "Hands are wanted");
            case RunStatus.Failed:
                return new JobStanding(Station.Write, "The write ended early: look at it");
            case RunStatus.Stopped:
                return new JobStanding(Station.Write, "The write was stopped: go on from there");
            case RunStatus.Finished when job.IsBroughtBack:
                return new JobStanding(Station.HandBack, "Hand the phone back");
            case RunStatus.Finished when job.HasNothingToCheck:
                return new JobStanding(Station.Match, "Choose what is written now");
            case RunStatus.Finished when job.Hangs:
                return new JobStanding(Station.Check, "It loops: go on from there");
            // What was written proves the software; closing the lock over it is the job's second plan.
            case RunStatus.Finished
                when job.Goal == JobGoal.Relock
                    && job.Phone.Of(FactName.LockState).Is(LockState.Unlocked)
                    && job.Checks.Count > 0
                    && Checker.IsPassed(job.Checks):
                return new JobStanding(Station.Plan, "Plan closing its lock");
            case RunStatus.Finished:
                return Checker.IsPassed(job.Checks) && job.Checks.Count > 0 ? new JobStanding(Station.HandBack, "Hand the phone back")
                    : job.Checks.Any(line => line.State == CheckState.Differs)
                        ? new JobStanding(Station.Check, "Something is not as intended")
                    : new JobStanding(Station.Check, "Read the phone and check");
        }

        // A finding that asks for no write leads there, whatever else is known.
        if (job.Way is { Paths.Count: 0 } way && job.RunStatus is null)
            return new JobStanding(Stations.All.FirstOrDefault(station => station.Slug() == way.Station, Station.FindOut), way.Title);
        var conflict = job.Phone.Names.FirstOrDefault(name => job.Phone[name].State == FactState.Conflicting);
        if (conflict.Value is not null)
            return new JobStanding(Station.FindOut, $"{conflict.Label}: sources disagree");
        FactName[] needed = job.HasRollbackFuses
            ? [FactName.ModelCode, FactName.LockState, FactName.RollbackFloor]
            : [FactName.ModelCode, FactName.LockState];
        var readFromLink = needed.All(name => job.Phone[name].Claims.Any(fact => fact.Source == FactSource.Link));
        if (!job.PackageChosen)
        {
            // What takes no package is never sent to choose one.
            if (job.Way is { Station: "plan" } planned)
                return new JobStanding(Station.Plan, planned.Title);
            // What may have to be opened is looked at before that: what it would take to help it.
            if (job.Way?.Toll >= Toll.EmergencyMode)
                return new JobStanding(Station.Match, "Is it worth opening?");
            if (job.Goal == JobGoal.Relock && job.Phone[FactName.LockState].State == FactState.Known)
                return new JobStanding(Station.Plan, "Plan closing its lock");
            return needed.All(name => job.Phone[name].State == FactState.Known)
                ? new JobStanding(Station.Match, "Choose the package")
                : new JobStanding(Station.FindOut, job.IsFound || readFromLink ? "Read from the phone" : "Find out what is wrong");
        }

        return readFromLink || !job.NeedsLink
            ? new JobStanding(Station.Plan, "Answer the gates, then begin")
            : new JobStanding(Station.Route, $"Bring it into {job.WriteMode.Label()}");
    }
}
