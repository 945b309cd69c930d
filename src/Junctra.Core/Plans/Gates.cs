using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>Id of a gate, under which an answer is stored.</summary>
/// <param name="Value">Lower case with hyphens; of a gate for a care of the match, the rule's id follows.</param>
public readonly record struct GateId(string Value)
{
    private const string CarePrefix = "care-";

    /// <summary>The match, judged again.</summary>
    public static GateId Match { get; } = new("match");
    /// <summary>Whose phone it is.</summary>
    public static GateId Ownership { get; } = new("ownership");
    /// <summary>The package file.</summary>
    public static GateId Package { get; } = new("package");
    /// <summary>The one phone.</summary>
    public static GateId Target { get; } = new("target");
    /// <summary>Charge.</summary>
    public static GateId Battery { get; } = new("battery");
    /// <summary>A backup, or its waiver.</summary>
    public static GateId Backup { get; } = new("backup");
    /// <summary>Room on this computer.</summary>
    public static GateId Room { get; } = new("room");
    /// <summary>Consent to the loss of data.</summary>
    public static GateId DataLoss { get; } = new("data-loss");
    /// <summary>The account that the phone will ask for.</summary>
    public static GateId Accounts { get; } = new("accounts");
    /// <summary>Consent to a floor that rises.</summary>
    public static GateId OneWay { get; } = new("one-way");
    /// <summary>Consent to the loss of root.</summary>
    public static GateId Modification { get; } = new("modification");
    /// <summary>The maker's own program on this computer.</summary>
    public static GateId Program { get; } = new("program");
    /// <summary>Cable and place.</summary>
    public static GateId Cable { get; } = new("cable");

    /// <summary>A care of the match, accepted for itself.</summary>
    public static GateId Care(string ruleId) => new(CarePrefix + ruleId);

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>One way in which a person can answer a gate.</summary>
/// <param name="Id">Id that is stored.</param>
/// <param name="Text">What the person confirms, in the words that are kept.</param>
public sealed record GateOption(string Id, string Text);

/// <summary>A gate and how it stands.</summary>
/// <param name="Id">Id under which an answer is stored.</param>
/// <param name="Title">What must hold before anything irreversible.</param>
/// <param name="Holds">Whether it holds.</param>
/// <param name="Why">Why it holds, or what opens it.</param>
/// <param name="Options">How a person can answer; empty where Junctra computes it.</param>
/// <param name="Answered">The option that was chosen, or null.</param>
public sealed record Gate(GateId Id, string Title, bool Holds, string Why, IReadOnlyList<GateOption> Options, string? Answered = null);

/// <summary>A person's answer to a gate.</summary>
/// <param name="GateId">The gate.</param>
/// <param name="OptionId">The option chosen.</param>
/// <param name="At">When.</param>
/// <param name="By">Role of who answered.</param>
public sealed record GateAnswer(GateId GateId, string OptionId, DateTimeOffset At, string By);

/// <summary>What the gates look at.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Package">Its package, or null.</param>
/// <param name="Phone">The phone's facts now.</param>
/// <param name="Report">The match, judged again with the facts as they are now; null without a package.</param>
/// <param name="OwnershipStated">Whether ownership was stated at intake.</param>
/// <param name="FreeDiskBytes">Room on this computer for what must be unpacked.</param>
/// <param name="PackageFileBytes">Size of the package file on this computer now, or null when it is not there.</param>
/// <param name="PortsWithTarget">Ports on which the target's serial answered at the last look.</param>
/// <param name="Answers">What people answered.</param>
/// <param name="Figures">The shop's figures.</param>
public sealed record GateCase(
    Plan Plan, Package? Package, Phone Phone, MatchReport? Report, bool OwnershipStated, long FreeDiskBytes, long? PackageFileBytes,
    IReadOnlyList<string> PortsWithTarget, IReadOnlyList<GateAnswer> Answers, Figures Figures)
{
    /// <summary>Bytes that must be unpacked before the phone is touched.</summary>
    public long UnpackedBytes => Plan.Steps.Select(step => step.Act).OfType<VerifyFiles>().Sum(verify => verify.UnpackedBytes);
}

/// <summary>A gate: for which plans it stands, and how it stands.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Applies">Whether a plan must pass it.</param>
/// <param name="Judge">How it stands.</param>
public sealed record GateRule(GateId Id, Func<GateCase, bool> Applies, Func<GateCase, Gate> Judge);

/// <summary>The gates before anything irreversible. All must hold; there is no override.</summary>
public static class Gates
{
    // Raising the floor has a gate of its own, whatever the match says of it.
    private const string RevisionRule = "M04";

    /// <summary>All gates, in the order in which they are shown; one for each care of the match follows.</summary>
    public static IReadOnlyList<GateRule> Rules { get; } =
    [
        new(GateId.Match, c => c.Report is not null, c => Computed(GateId.Match, "The package still matches", c.Report!.MayBeChosen, c.Report.Headline)),
        new(GateId.Ownership, _ => true, c => Computed(GateId.Ownership, "Ownership stated", c.OwnershipStated,
            c.OwnershipStated ? "Stated at intake." : "Nobody has stated whose phone this is. Say so at intake; a phone of doubtful ownership is not worked on.")),
        new(GateId.Package, c => c.Package is not null, JudgePackage),
        new(GateId.Target, c => c.Plan.NeedsLink, JudgeTarget),
        new(GateId.Battery, _ => true, JudgeBattery),
        new(GateId.Backup, _ => true, c => Asked(c, GateId.Backup, "Backup",
            new GateOption("made", "A backup was made, and it can be read."),
            new GateOption("waived", "The customer waived a backup in writing."))),
        new(GateId.Room, c => c.UnpackedBytes > 0, c => Computed(GateId.Room, "Room on this computer", c.UnpackedBytes <= c.FreeDiskBytes,
            $"{ByteSize.Text(c.UnpackedBytes)} must be unpacked before the phone is touched; {ByteSize.Text(c.FreeDiskBytes)} are free.")),
        new(GateId.DataLoss, _ => true, c => c.Plan.ErasesData
            ? Asked(c, GateId.DataLoss, "Loss of data", new GateOption("agreed", "The customer agreed that photos, apps and messages are erased."))
            : Asked(c, GateId.DataLoss, "Data may go", new GateOption("agreed", "The customer agreed that a wipe may follow if the phone still loops."))),
        // A wipe may follow a write that keeps the data, and then too the phone asks for the account.
        new(GateId.Accounts, _ => true, c => Asked(c, GateId.Accounts, "Accounts",
            new GateOption("signed-out", "All accounts were signed out on the phone."),
            new GateOption("owner-knows", "The phone does not start; the owner confirms knowing account and password."))),
        new(GateId.OneWay, c => c.Plan.RaisesFloor, c => Asked(c, GateId.OneWay, "One-way step",
            new GateOption("agreed", $"The customer agreed: the floor rises from {c.Plan.Target.RollbackFloor} to {c.Plan.Package?.Revision} for ever."))),
        new(GateId.Modification, c => c.Plan.Writes, c => Asked(c, GateId.Modification, "Root and custom system",
            new GateOption("agreed", "The customer agreed that root and any custom system are lost, and knows that the warranty position is not ours to judge."))),
        new(GateId.Program, c => c.Plan.NeedsLink, c => Asked(c, GateId.Program, "Maker's companion program", new GateOption("closed", "It is closed on this computer, or was never installed."))),
        new(GateId.Cable, c => c.Plan.NeedsLink, c => Asked(c, GateId.Cable, "Cable and place", new GateOption("steady", "The cable is seated, directly in the computer; the phone lies still."))),
    ];

    /// <summary>How every gate of a plan stands.</summary>
    public static IReadOnlyList<Gate> Evaluate(GateCase @case) =>
    [
        .. Rules.Where(rule => rule.Applies(@case)).Select(rule => rule.Judge(@case)),
        .. (@case.Report?.Results ?? []).Where(result => result.Verdict == Verdict.Care && result.RuleId != RevisionRule)
            .Select(care => Asked(@case, GateId.Care(care.RuleId), care.Title, new GateOption("agreed", $"Accepted: {care.Sentence}"))),
    ];

    private static Gate JudgePackage(GateCase c) => Computed(GateId.Package, "Package here, whole, verified", c.PackageFileBytes == c.Package!.Contents.SizeBytes,
        c.PackageFileBytes is null ? "The file is no longer in the library folder."
            : c.PackageFileBytes == c.Package.Contents.SizeBytes ? "On this computer; its digest is read once more before the first byte."
            : "The file has changed size since it was checked. Look through the library again.");

    private static Gate JudgeTarget(GateCase c) => Computed(GateId.Target, "One and only one target", c.PortsWithTarget.Count == 1, c.PortsWithTarget.Count switch
    {
        1 => $"Serial {c.Plan.Target.Serial}, on {c.PortsWithTarget[0]} only.",
        0 => $"Serial {c.Plan.Target.Serial} was not seen on any port. Read the phone again.",
        _ => $"Serial {c.Plan.Target.Serial} answers on {string.Join(" and ", c.PortsWithTarget)}. Unplug the other phone.",
    });

    private static Gate JudgeBattery(GateCase c)
    {
        var floor = c.Figures.BatteryFloorPercent;
        if (c.Phone[FactName.BatteryPercent].Best is not { } read || c.Phone.Of(FactName.BatteryPercent).Best() is not { } charge)
            return Asked(c, GateId.Battery, "Battery", new GateOption("charged", $"It cannot be read; the phone was {c.Figures.ChargeInsteadMinutes} minutes on a measured charger."));
        var enough = charge.Number >= floor;
        return Computed(GateId.Battery, "Battery", enough, enough
            ? $"{read.Value} % ({read.Source.Label()}), floor {floor} %."
            : $"{read.Value} % ({read.Source.Label()}) is below the floor of {floor} %. Charge it, then read the phone again.");
    }

    private static Gate Computed(GateId id, string title, bool holds, string why) => new(id, title, holds, why, []);

    private static Gate Asked(GateCase c, GateId id, string title, params GateOption[] options)
    {
        var answer = c.Answers.LastOrDefault(a => a.GateId == id);
        var chosen = options.FirstOrDefault(option => option.Id == answer?.OptionId);
        return new Gate(id, title, chosen is not null, chosen is not null ? $"{answer!.By}, {answer.At:HH:mm}" : "Waits for an answer.", options, chosen?.Id);
    }
}
