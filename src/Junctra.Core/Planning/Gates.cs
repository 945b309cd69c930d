using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Planning;

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
public sealed record Gate(string Id, string Title, bool Holds, string Why, IReadOnlyList<GateOption> Options, string? Answered = null);

/// <summary>A person's answer to a gate.</summary>
/// <param name="GateId">The gate.</param>
/// <param name="OptionId">The option chosen.</param>
/// <param name="At">When.</param>
/// <param name="By">Role of who answered.</param>
public sealed record GateAnswer(string GateId, string OptionId, DateTimeOffset At, string By);

/// <summary>What the gates look at besides the plan.</summary>
/// <param name="Phone">The phone's facts now.</param>
/// <param name="Report">The match, judged again with the facts as they are now.</param>
/// <param name="OwnershipStated">Whether ownership was stated at intake.</param>
/// <param name="FreeDiskBytes">Room on this computer for what must be unpacked.</param>
/// <param name="PackageFileBytes">Size of the package file on this computer now, or null when it is not there.</param>
/// <param name="PortsWithTarget">Ports on which the target's serial answered at the last look.</param>
/// <param name="Answers">What people answered.</param>
public sealed record GateContext(
    Phone Phone, MatchReport Report, bool OwnershipStated, long FreeDiskBytes, long? PackageFileBytes,
    IReadOnlyList<string> PortsWithTarget, IReadOnlyList<GateAnswer> Answers);

/// <summary>The gates before anything irreversible. All must hold; there is no override.</summary>
public static class Gates
{
    /// <summary>How every gate stands.</summary>
    public static IReadOnlyList<Gate> Evaluate(Plan plan, Package package, GateContext context, ModelCatalogue catalogue)
    {
        var gates = new List<Gate>
        {
            Computed("match", "The package still matches", context.Report.MayBeChosen, context.Report.Headline),
            Computed("ownership", "Ownership stated", context.OwnershipStated,
                context.OwnershipStated ? "Stated at intake." : "Nobody has stated whose phone this is. Say so at intake; a phone of doubtful ownership is not worked on."),
            Computed("package", "Package here, whole, verified",
                context.PackageFileBytes == package.Contents.SizeBytes,
                context.PackageFileBytes is null ? "The file is no longer in the library folder."
                    : context.PackageFileBytes == package.Contents.SizeBytes ? "On this computer; its digest is read once more before the first byte."
                    : "The file has changed size since it was checked. Look through the library again."),
            Computed("target", "One and only one target", context.PortsWithTarget.Count == 1, context.PortsWithTarget.Count switch
            {
                1 => $"Serial {plan.Target.Serial}, on {context.PortsWithTarget[0]} only.",
                0 => $"Serial {plan.Target.Serial} was not seen on any port. Read the phone again.",
                _ => $"Serial {plan.Target.Serial} answers on {string.Join(" and ", context.PortsWithTarget)}. Unplug the other phone.",
            }),
            Battery(context, catalogue.Figures),
            Asked(context, "backup", "Backup",
                new GateOption("made", "A backup was made, and it can be read."),
                new GateOption("waived", "The customer waived a backup in writing.")),
        };
        if (Room(plan, package, context.FreeDiskBytes, catalogue) is { } room) gates.Add(room);
        gates.Add(plan.ErasesData
            ? Asked(context, "data-loss", "Loss of data", new GateOption("agreed", "The customer agreed that photos, apps and messages are erased."))
            : Asked(context, "data-loss", "Data may go", new GateOption("agreed", "The customer agreed that a wipe may follow if the phone still loops.")));
        // A wipe may follow a write that keeps the data, and then too the phone asks for the account.
        gates.Add(Asked(context, "accounts", "Accounts",
            new GateOption("signed-out", "All accounts were signed out on the phone."),
            new GateOption("owner-knows", "The phone does not start; the owner confirms knowing account and password.")));

        if (plan.RaisesFloor)
        {
            gates.Add(Asked(context, "one-way", "One-way step",
                new GateOption("agreed", $"The customer agreed: the floor rises from {plan.Target.RollbackFloor} to {plan.PackageRevision} for ever.")));
        }

        foreach (var care in context.Report.Results.Where(result => result.Verdict == Verdict.Care && result.RuleId != "M04"))
            gates.Add(Asked(context, "care-" + care.RuleId, care.Title, new GateOption("agreed", $"Accepted: {care.Sentence}")));

        gates.Add(Asked(context, "modification", "Root and custom system", new GateOption("agreed", "The customer agreed that root and any custom system are lost, and knows that the warranty position is not ours to judge.")));
        gates.Add(Asked(context, "program", "Maker's companion program", new GateOption("closed", "It is closed on this computer, or was never installed.")));
        gates.Add(Asked(context, "cable", "Cable and place", new GateOption("steady", "The cable is seated, directly in the computer; the phone lies still.")));
        return gates;
    }

    /// <summary>Room for what must be unpacked; null where the images are written as they lie in the package.</summary>
    private static Gate? Room(Plan plan, Package package, long free, ModelCatalogue catalogue)
    {
        var needed = catalogue.Model(plan.Target.ModelCode) is { } model ? PathF.UnpackedBytes(package, model) : 0;
        return needed == 0 ? null : Computed("room", "Room on this computer", needed <= free,
            $"{ByteSize.Text(needed)} must be unpacked before the phone is touched; {ByteSize.Text(free)} are free.");
    }

    private static Gate Battery(GateContext context, Figures figures)
    {
        var battery = context.Phone[FactName.BatteryPercent];
        if (battery.Best is { } read)
        {
            var enough = int.Parse(read.Value) >= figures.BatteryFloorPercent;
            return Computed("battery", "Battery", enough, enough
                ? $"{read.Value} % ({read.Source.Label()}), floor {figures.BatteryFloorPercent} %."
                : $"{read.Value} % ({read.Source.Label()}) is below the floor of {figures.BatteryFloorPercent} %. Charge it, then read the phone again.");
        }

        return Asked(context, "battery", "Battery", new GateOption("charged", $"It cannot be read; the phone was {figures.ChargeInsteadMinutes} minutes on a measured charger."));
    }

    private static Gate Computed(string id, string title, bool holds, string why) => new(id, title, holds, why, []);

    private static Gate Asked(GateContext context, string id, string title, params GateOption[] options)
    {
        var answer = context.Answers.LastOrDefault(a => a.GateId == id);
        var chosen = options.FirstOrDefault(option => option.Id == answer?.OptionId);
        return new Gate(id, title, chosen is not null,
            chosen is not null ? $"{answer!.By}, {answer.At:HH:mm}" : "Waits for an answer.", options, chosen?.Id);
    }
}
