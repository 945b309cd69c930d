using Junctra.Core.Catalogue;
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

    /// <summary>What came of the maker's online writer, where a shop tries it first.</summary>
    public static GateId OnlineWriter { get; } = new("online-writer");

    /// <summary>What lies on the phone is proved to be its maker's.</summary>
    public static GateId ProvenStock { get; } = new("proven-stock");

    /// <summary>Whether this computer can carry out every step.</summary>
    public static GateId Carried { get; } = new("carried");

    /// <summary>Storage card and SIM.</summary>
    public static GateId CardsOut { get; } = new("cards-out");

    /// <summary>Room on the phone, or on its card.</summary>
    public static GateId RoomThere { get; } = new("room-there");

    /// <summary>Whether the loader supports the phone's revision.</summary>
    public static GateId Loader { get; } = new("loader");

    /// <summary>Who opens a phone.</summary>
    public static GateId Trained { get; } = new("trained");

    /// <summary>Whose backup is restored.</summary>
    public static GateId OwnBackup { get; } = new("own-backup");

    /// <summary>A passed exercise of this kind of work, where the shop asks for one.</summary>
    public static GateId Licence { get; } = new("licence");

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
    Plan Plan,
    Package? Package,
    Phone Phone,
    MatchReport? Report,
    bool OwnershipStated,
    long FreeDiskBytes,
    long? PackageFileBytes,
    IReadOnlyList<string> PortsWithTarget,
    IReadOnlyList<GateAnswer> Answers,
    Figures Figures
)
{
    /// <summary>Whether this computer can carry out an act, by itself or over a link that it has.</summary>
    public Func<Act, bool> Carries { get; init; } = _ => true;

    /// <summary>How shop and customer want it planned.</summary>
    public PlanPolicy Policy { get; init; } = PlanPolicy.Usual;

    /// <summary>What proves that the phone's software is its maker's.</summary>
    public StockProof Stock { get; init; } = StockProof.None;

    /// <summary>
    /// Whether whoever is to begin has passed an exercise of this kind of work, and what follows; null where the shop asks for none.
    /// </summary>
    public (bool Holds, string Why)? Licence { get; init; }

    /// <summary>Bytes that must be unpacked before the phone is touched.</summary>
    public long UnpackedBytes => Plan.Steps.Select(step => step.Act).OfType<VerifyFiles>().Sum(verify => verify.UnpackedBytes);
}

/// <summary>A gate: for which plans it stands, and how it stands.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Applies">Whether a plan must pass it.</param>
/// <param name="Judge">How it stands.</param>
public sealed record GateRule(GateId Id, Func<GateCase, bool> Applies, Func<GateCase, Gate> Judge);
