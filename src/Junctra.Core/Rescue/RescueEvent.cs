using System.Text.Json.Serialization;

namespace Junctra.Core.Rescue;

/// <summary>What the computer heard while a needle was held.</summary>
public enum Heard
{
    /// <summary>Nothing at all.</summary>
    Nothing,

    /// <summary>A port that came and was gone again.</summary>
    CameAndWent,

    /// <summary>A serial port of the chip, which stays.</summary>
    Port,
}

/// <summary>
/// What happened at the opened phone, one record for each kind. The list is only appended; how a rescue stands is a fold over it
/// (<see cref="RescueState"/>), so that another person can take over after each entry.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(StepTicked), "step")]
[JsonDerivedType(typeof(StepTakenBack), "step-back")]
[JsonDerivedType(typeof(ScrewOut), "screw-out")]
[JsonDerivedType(typeof(ScrewIn), "screw-in")]
[JsonDerivedType(typeof(NeedleHeld), "needle")]
[JsonDerivedType(typeof(LoaderTried), "loader")]
[JsonDerivedType(typeof(AttemptTakenBack), "attempt-back")]
[JsonDerivedType(typeof(DriverRule), "driver-rule")]
[JsonDerivedType(typeof(GivenUp), "given-up")]
public abstract record RescueEvent;

/// <summary>A step was done.</summary>
/// <param name="Step">Its id.</param>
public sealed record StepTicked(string Step) : RescueEvent;

/// <summary>A step that was ticked was not done, or was undone.</summary>
/// <param name="Step">Its id.</param>
public sealed record StepTakenBack(string Step) : RescueEvent;

/// <summary>A screw came out, and lies in its field of the tray.</summary>
/// <param name="Screw">Its id.</param>
public sealed record ScrewOut(string Screw) : RescueEvent;

/// <summary>A screw went in.</summary>
/// <param name="Screw">Id of the place.</param>
/// <param name="LengthMm">Length of the screw that was put there.</param>
public sealed record ScrewIn(string Screw, double LengthMm) : RescueEvent;

/// <summary>A needle was held on a pad: one attempt.</summary>
/// <param name="Pad">Line of the pad in the board's file; null where nobody said which.</param>
/// <param name="Heard">What the computer heard.</param>
/// <param name="Port">What it lists the port as; empty where none.</param>
public sealed record NeedleHeld(int? Pad, Heard Heard, string Port) : RescueEvent;

/// <summary>A loader was supplied on the port that was heard.</summary>
/// <param name="Answered">Whether a first answer came within seconds.</param>
public sealed record LoaderTried(bool Answered) : RescueEvent;

/// <summary>The last attempt, with needle or loader, was noted by mistake.</summary>
public sealed record AttemptTakenBack : RescueEvent;

/// <summary>The computer's rule for drivers was changed for the emergency port, or put back as it was.</summary>
/// <param name="Changed">True where it was changed, false where it was put back.</param>
/// <param name="Computer">Which computer.</param>
public sealed record DriverRule(bool Changed, string Computer) : RescueEvent;

/// <summary>The rescue was given up: the phone is put together as it is. Or it was taken up again.</summary>
/// <param name="Up">True where it was given up, false where it was taken up again.</param>
/// <param name="Why">Why, in a few words; empty where it was taken up again.</param>
public sealed record GivenUp(bool Up, string Why) : RescueEvent;

/// <summary>An entry of a rescue's list.</summary>
/// <param name="At">When.</param>
/// <param name="By">Who.</param>
/// <param name="Event">What.</param>
public sealed record RescueEntry(DateTimeOffset At, string By, RescueEvent Event);
