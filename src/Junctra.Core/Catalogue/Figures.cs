namespace Junctra.Core.Catalogue;

/// <summary>A typical figure and a slow one, in the unit of the figure they belong to. Slow is never better than typical.</summary>
/// <param name="Typical">What half of the jobs do.</param>
/// <param name="Slow">What nine of ten jobs beat.</param>
public readonly record struct Band(double Typical, double Slow);

/// <summary>Field figures a shop may edit; the logbook replaces them once it knows better.</summary>
/// <param name="BatteryFloorPercent">Least battery before anything irreversible, 0 to 100.</param>
/// <param name="ChargeInsteadMinutes">Minutes on a measured charger that stand in where the battery cannot be read.</param>
/// <param name="DigestSecondsPerGigabyte">Time to verify, in seconds a decimal gigabyte.</param>
/// <param name="WriteMegabytesPerSecond">Rate of writing, in decimal megabytes a second; slow is the smaller number.</param>
/// <param name="RestartSeconds">A restart of the bootloader.</param>
/// <param name="EraseSeconds">Erasing the user data.</param>
/// <param name="FirstBootMinutes">First boot after a full write.</param>
/// <param name="FirstBootStuckMinutes">Minutes after which a first boot counts as stuck.</param>
/// <param name="TransferStallWarnSeconds">No byte taken for so long: warn.</param>
/// <param name="TransferStallFaultSeconds">No byte taken for so long: fault.</param>
/// <param name="CommitSecondsPer100Megabytes">Typical time in which the phone writes what it holds.</param>
/// <param name="CommitWarnTimes">Warn at so many times the typical commit.</param>
/// <param name="CommitFaultTimes">Fault at so many times the typical commit.</param>
/// <param name="CommitFaultFloorSeconds">A commit is never judged failed before this.</param>
public sealed record Figures(
    int BatteryFloorPercent,
    int ChargeInsteadMinutes,
    Band DigestSecondsPerGigabyte,
    Band WriteMegabytesPerSecond,
    Band RestartSeconds,
    Band EraseSeconds,
    Band FirstBootMinutes,
    double FirstBootStuckMinutes,
    double TransferStallWarnSeconds,
    double TransferStallFaultSeconds,
    double CommitSecondsPer100Megabytes,
    double CommitWarnTimes,
    double CommitFaultTimes,
    double CommitFaultFloorSeconds
)
{
    private const int RestartFaultTimes = 3;

    /// <summary>Seconds after which a phone that restarts counts as gone.</summary>
    public double RestartFaultSeconds => RestartSeconds.Slow * RestartFaultTimes;

    /// <summary>Seconds in which a phone usually writes so many bytes that it holds.</summary>
    public double CommitSeconds(long bytes) => CommitSecondsPer100Megabytes * bytes / 100e6;

    /// <summary>Seconds that it may say nothing while it writes or erases so many bytes, before that is a fault.</summary>
    public double CommitFaultSeconds(long bytes) => Math.Max(CommitFaultFloorSeconds, CommitSeconds(bytes) * CommitFaultTimes);
}
