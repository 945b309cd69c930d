namespace Junctra.Link;

/// <summary>What went wrong on the link.</summary>
public enum LinkFault
{
    /// <summary>Nothing answers at the address.</summary>
    NoAnswer,

    /// <summary>Something answers, but it does not speak this protocol.</summary>
    NotUnderstood,

    /// <summary>The connection broke.</summary>
    Lost,

    /// <summary>The connection stands, but no byte was taken or no answer came in time.</summary>
    Silent,

    /// <summary>The phone refused a command in its own words.</summary>
    Refused,
}

/// <summary>A fault of the link; <see cref="Exception.Message"/> is one sentence for the technician.</summary>
public sealed class LinkException(LinkFault fault, string message, Exception? inner = null) : Exception(message, inner)
{
    /// <summary>What went wrong.</summary>
    public LinkFault Fault { get; } = fault;
}
