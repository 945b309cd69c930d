namespace Junctra.Core.Boards;

/// <summary>What a net is for, as far as a rescue asks.</summary>
public enum NetRole
{
    /// <summary>Resets the storage chip: held to ground at power-up, the chip finds nothing to start from.</summary>
    StorageReset,

    /// <summary>Selects where the chip starts from.</summary>
    BootSelect,

    /// <summary>Ground; the shields are part of it.</summary>
    Ground,

    /// <summary>A supply rail: a needle that slips onto it ends the board.</summary>
    Supply,
}

/// <summary>A shield over a part of a side.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Side">Its side.</param>
/// <param name="Low">Lower left corner, seen from the front.</param>
/// <param name="High">Upper right corner.</param>
/// <param name="Lifts">Whether it is a tape that is lifted, so that what lies below can be reached.</param>
public sealed record BoardShield(string Name, BoardSide Side, BoardPoint Low, BoardPoint High, bool Lifts)
{
    /// <summary>Whether a point lies below it.</summary>
    public bool Covers(BoardPoint at) => at.X >= Low.X && at.X <= High.X && at.Y >= Low.Y && at.Y <= High.Y;
}

/// <summary>Something on a board that everybody recognises.</summary>
/// <param name="Part">Its part in the netlist.</param>
/// <param name="Name">What a person calls it, without an article.</param>
public sealed record Landmark(string Part, string Name);

/// <summary>What the shop knows of a model's board beside its netlist (specification: section 12 of the job).</summary>
/// <param name="Nets">Which nets have which role.</param>
/// <param name="Shields">Its shields.</param>
/// <param name="Landmarks">What everybody recognises.</param>
public sealed record BoardMap(
    IReadOnlyDictionary<NetRole, IReadOnlyList<string>> Nets,
    IReadOnlyList<BoardShield> Shields,
    IReadOnlyList<Landmark> Landmarks
)
{
    /// <summary>The role of a net; null where it has none that matters.</summary>
    public NetRole? RoleOf(string net)
    {
        foreach (var (role, nets) in Nets)
            if (nets.Contains(net, StringComparer.OrdinalIgnoreCase))
                return role;
        return null;
    }

    /// <summary>The shield that covers a pad from a side for good; null where none does.</summary>
    public BoardShield? Over(BoardPad pad, BoardSide side) =>
        Shields.FirstOrDefault(shield => shield.Side == side && !shield.Lifts && shield.Covers(pad.At));
}
