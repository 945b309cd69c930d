namespace Junctra.Core.Plans.Acts;

/// <summary>
/// What takes time in a plan. What one phone, cable or person was slower or faster in than usual holds for acts of one kind.
/// </summary>
public enum TimeKind
{
    /// <summary>A file is read through and its digest taken.</summary>
    Verify,

    /// <summary>Something is unpacked.</summary>
    Unpack,

    /// <summary>Images go over a link and are written.</summary>
    Write,

    /// <summary>Files are copied to the phone or from it.</summary>
    Copy,

    /// <summary>Partitions are erased.</summary>
    Erase,

    /// <summary>The phone restarts into a mode from which it answers.</summary>
    Restart,

    /// <summary>The phone answers to a question.</summary>
    Answer,

    /// <summary>A person does something with the phone.</summary>
    Hands,

    /// <summary>The first start of a new system.</summary>
    FirstBoot,

    /// <summary>A start as on any day.</summary>
    Start,

    /// <summary>The phone puts in what was sent to it, or an update.</summary>
    Install,

    /// <summary>The phone prepares its apps.</summary>
    Optimising,

    /// <summary>A person reads what came of it.</summary>
    Check,
}

/// <summary>Words for what takes time.</summary>
public static class TimeKinds
{
    /// <summary>The kind as a table names it.</summary>
    public static string Label(this TimeKind kind) =>
        kind switch
        {
            TimeKind.Verify => "Verify a package",
            TimeKind.Unpack => "Unpack",
            TimeKind.Write => "Write",
            TimeKind.Copy => "Copy files",
            TimeKind.Erase => "Erase",
            TimeKind.Restart => "Restart",
            TimeKind.Answer => "Answer to a question",
            TimeKind.Hands => "By hands",
            TimeKind.FirstBoot => "First boot",
            TimeKind.Start => "Start",
            TimeKind.Install => "Put in an update",
            TimeKind.Optimising => "Prepare apps",
            _ => "Check",
        };
}
