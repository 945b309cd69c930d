using Junctra.Core.Catalogue;

namespace Junctra.Store;

/// <summary>A cable or a computer of the bench, with its label. Ports have rows of their own.</summary>
public sealed class BenchThingRow
{
    public int Id { get; set; }
    public LinkThing Kind { get; set; }

    /// <summary>What is written on it; no two of a kind have the same.</summary>
    public required string Label { get; set; }

    /// <summary>Since when it is no longer used, or null; its record stays.</summary>
    public DateTimeOffset? RetiredAt { get; set; }
}

/// <summary>A try to get a computer to see a phone. Rows are never changed.</summary>
public sealed class LinkTryRow
{
    public int Id { get; set; }
    public int? JobId { get; set; }

    /// <summary>The sign before.</summary>
    public required string Sign { get; set; }
    public required string Remedy { get; set; }

    /// <summary>The sign after it.</summary>
    public required string SignAfter { get; set; }
    public bool Worked { get; set; }

    /// <summary>The cable in use after the remedy, or null where nobody said.</summary>
    public int? CableId { get; set; }

    /// <summary>The computer in use after it, or null.</summary>
    public int? ComputerId { get; set; }

    /// <summary>The port in use after it, or null.</summary>
    public string? PortName { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
}
