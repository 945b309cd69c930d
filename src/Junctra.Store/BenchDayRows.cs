namespace Junctra.Store;

/// <summary>When the shop works, and with what. One row.</summary>
public sealed class BenchHoursRow
{
    /// <summary>The id of the one row.</summary>
    public const int One = 1;

    public int Id { get; set; } = One;

    /// <summary>The hours, as JSON.</summary>
    public required string Hours { get; set; }

    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public uint Version { get; set; }
}

/// <summary>The timetable that people know. One row.</summary>
public sealed class TimetableRow
{
    public int Id { get; set; } = BenchHoursRow.One;

    public DateTimeOffset MadeAt { get; set; }

    /// <summary>Of what it was made: another one means that it is to be made anew.</summary>
    public required string Of { get; set; }

    /// <summary>Day, timetable and chances, as JSON.</summary>
    public required string Made { get; set; }
}
