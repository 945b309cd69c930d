using Junctra.Core.Boards;

namespace Junctra.Core.Catalogue;

/// <summary>A screw of a phone. Lengths differ: a longer one in the place of a shorter one goes through what lies below.</summary>
/// <param name="Id">What it is called on the map, unique in its phone.</param>
/// <param name="X">Millimetres from the left edge of the opened phone, its display down and its socket below.</param>
/// <param name="Y">Millimetres from its upper edge.</param>
/// <param name="LengthMm">Its length.</param>
/// <param name="Holds">What it holds.</param>
/// <param name="ForKeys">Whether keys and socket need it: the few that go in before the phone is written.</param>
public sealed record Screw(string Id, double X, double Y, double LengthMm, string Holds, bool ForKeys);

/// <summary>When in a rescue a step is done.</summary>
public enum RescuePhase
{
    /// <summary>Until the pad lies bare.</summary>
    Open,

    /// <summary>So far back together that keys and socket work.</summary>
    CloseForKeys,

    /// <summary>All of it, once the checks hold.</summary>
    CloseUp,
}

/// <summary>A step of opening or closing a phone.</summary>
/// <param name="Id">Its id, unique in its phone.</param>
/// <param name="Phase">When it is done.</param>
/// <param name="Title">What is done, in a few words.</param>
/// <param name="Words">How, in sentences.</param>
/// <param name="Minutes">How long it takes.</param>
public sealed record RescueStep(string Id, RescuePhase Phase, string Title, IReadOnlyList<string> Words, Band Minutes)
{
    /// <summary>What can go wrong just here, and hurt (section 15 of the job).</summary>
    public IReadOnlyList<string> Cautions { get; init; } = [];

    /// <summary>Screws that come out in it, or go in, by their ids.</summary>
    public IReadOnlyList<string> Screws { get; init; } = [];

    /// <summary>Whether the phone is no longer closed from it on. What takes screws out, or the supply away, opens it too.</summary>
    public bool Opens { get; init; }

    /// <summary>
    /// Of a step that closes: the steps of the opening that it undoes, by their ids. Where none of them was done it is not needed; without
    /// any it always is.
    /// </summary>
    public IReadOnlyList<string> Undoes { get; init; } = [];

    /// <summary>Whether it takes the supply away: nothing else is offered before it is done.</summary>
    public bool Disconnects { get; init; }

    /// <summary>Whether screws go in, and not out.</summary>
    public bool PutsScrewsIn => Phase != RescuePhase.Open;
}

/// <summary>What a phone and its parts are worth to the shop, in its own money; figures it may edit.</summary>
/// <param name="Phone">The phone, working and empty.</param>
/// <param name="Parts">Its parts, dead as it is.</param>
/// <param name="LabourAnHour">An hour of trained hands.</param>
/// <param name="Succeeds">Of ten rescues begun on a phone whose loader answers to its revision, how many come to their end, as a chance.</param>
public sealed record RescueFigures(double Phone, double Parts, double LabourAnHour, double Succeeds);

/// <summary>All that the shop knows of a model's inside (specification: section 12 of the job).</summary>
/// <param name="Models">Codes of the models that have this board.</param>
/// <param name="Board">The board, out of its netlist.</param>
/// <param name="Map">What is known of the board besides.</param>
/// <param name="Screws">Its screws.</param>
/// <param name="WidthMm">Width of the opened phone.</param>
/// <param name="HeightMm">Its height.</param>
/// <param name="Steps">Opening and closing, in order.</param>
/// <param name="Figures">What it is worth.</param>
public sealed record BoardGuide(
    IReadOnlyList<string> Models,
    Netlist Board,
    BoardMap Map,
    IReadOnlyList<Screw> Screws,
    double WidthMm,
    double HeightMm,
    IReadOnlyList<RescueStep> Steps,
    RescueFigures Figures
)
{
    /// <summary>The steps of a phase, in order.</summary>
    public IEnumerable<RescueStep> Of(RescuePhase phase) => Steps.Where(step => step.Phase == phase);

    /// <summary>The screw of an id; null where there is none.</summary>
    public Screw? Screw(string id) => Screws.FirstOrDefault(screw => screw.Id == id);

    /// <summary>The step of an id; null where there is none.</summary>
    public RescueStep? Step(string id) => Steps.FirstOrDefault(step => step.Id == id);
}
