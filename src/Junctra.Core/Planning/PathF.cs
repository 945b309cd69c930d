using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Planning;

/// <summary>
/// Path F: a factory set, image by image in fastboot mode, with restarts between. Boot chain first and alone, because it
/// decides whether the phone answers at all; then the radio; then what starts the system; the system; the rest.
/// </summary>
public static class PathF
{
    private static readonly PartitionRole[] StartRoles = [PartitionRole.Boot, PartitionRole.Overlay, PartitionRole.Verification];
    private static readonly PartitionRole[] NeverWritten = [PartitionRole.Identity, PartitionRole.UserData];

    /// <summary>Makes the plan, or says why it cannot be made.</summary>
    /// <param name="phone">The phone, read over the link.</param>
    /// <param name="package">The package chosen for it.</param>
    /// <param name="eraseData">Whether to erase the user data.</param>
    /// <param name="catalogue">Models and figures.</param>
    /// <param name="needsCleanWrite">Whether the match allows the package only with the user data erased.</param>
    public static PlanOutcome Compile(Phone phone, Package package, bool eraseData, ModelCatalogue catalogue, bool needsCleanWrite = false)
    {
        var refusals = new List<string>();
        var model = catalogue.Model(phone[FactName.ModelCode].Value);
        if (model is null) refusals.Add("The model code is not known, or not in the catalogue. Read it from the phone.");
        var target = Target(phone, catalogue, refusals);
        if (needsCleanWrite && !eraseData) refusals.Add($"{package.Title} can only be written with the user data erased. Choose that, or another package.");
        if (package.Kind != PackageKind.FactorySet) refusals.Add($"{package.Title} is no factory set.");
        if (model is not null)
        {
            foreach (var missing in model.Partitions.Where(partition => partition.IsStock && package.Image(partition.Name) is null))
                refusals.Add($"The package brings no image for {missing.Name}, which belongs to a full stock write.");
        }

        if (model is null || target is null || refusals.Count > 0) return new PlanOutcome(null, refusals);

        var revision = package.Revisions.Count == 1 ? package.Revisions[0] : (int?)null;
        return new PlanOutcome(new Plan(
            eraseData ? "F · factory set, with erase" : "F · factory set, data kept",
            package.Id, package.Title, revision, target, eraseData,
            Steps(package, model, eraseData, catalogue.Figures),
            Fates(phone, target, revision, eraseData),
            Expectations(package, target, revision)), []);
    }

    /// <summary>Bytes of the images that this computer must unpack before the phone is touched.</summary>
    public static long UnpackedBytes(Package package, PhoneModel model) =>
        Written(package, model).Select(partition => package.Image(partition.Name)!.Body).Where(image => image.Offset is null).Sum(image => image.Bytes);

    private static IEnumerable<PartitionSpec> Written(Package package, PhoneModel model) =>
        model.Partitions.Where(partition => !NeverWritten.Contains(partition.Role) && package.Image(partition.Name) is not null);

    private static PlanTarget? Target(Phone phone, ModelCatalogue catalogue, List<string> refusals)
    {
        // What the write will be held against must come from the phone itself, not from a label or a memory.
        string? FromLink(FactName name)
        {
            if (phone[name].Claims.FirstOrDefault(fact => fact.Source == FactSource.Link) is { } read) return read.Value;
            refusals.Add($"{name.Label} was not read over the link since the last write. Read the phone first.");
            return null;
        }

        var serial = FromLink(FactName.Serial);
        var modelCode = FromLink(FactName.ModelCode);
        var lockState = FromLink(FactName.LockState);
        var hasFuses = catalogue.MakerOf(modelCode)?.HasRollbackFuses ?? true;
        var floor = hasFuses ? FromLink(FactName.RollbackFloor) : null;
        return serial is null || modelCode is null || lockState is null || (hasFuses && floor is null)
            ? null
            : new PlanTarget(serial, modelCode, floor is null ? null : int.Parse(floor), lockState);
    }

    private static List<PlanStep> Steps(Package package, PhoneModel model, bool eraseData, Figures figures)
    {
        var steps = new List<PlanStep>();
        var digestPerByte = 1 / 1e9;
        var unpacked = UnpackedBytes(package, model);
        Add(StepKind.Verify, $"Verify {ByteSize.Text(package.Contents.SizeBytes)} against its digest{(unpacked > 0 ? $", unpack {ByteSize.Text(unpacked)}" : "")}", null, 0,
            new Band(figures.DigestSecondsPerGigabyte.Typical * digestPerByte * package.Contents.SizeBytes, figures.DigestSecondsPerGigabyte.Slow * digestPerByte * package.Contents.SizeBytes),
            "Nothing has been written. Begin again.");
        Add(StepKind.Reread, "Read serial, model, floor and lock again", null, 0, new Band(2, 10), "Nothing has been written. Begin again.");

        var written = Written(package, model).ToList();
        foreach (var partition in written.Where(p => p.Role == PartitionRole.BootChain)) Write(partition);
        AddRestart("Restart the bootloader on its new boot chain");
        var radio = written.Where(p => p.Role == PartitionRole.Radio).ToList();
        radio.ForEach(Write);
        if (radio.Count > 0) AddRestart("Restart the bootloader with the new radio");
        foreach (var role in StartRoles)
            foreach (var partition in written.Where(p => p.Role == role)) Write(partition);
        foreach (var partition in written.Where(p => p.Role == PartitionRole.System)) Write(partition);
        var rest = written.Where(p => p.Role is not (PartitionRole.BootChain or PartitionRole.Radio or PartitionRole.System) && !StartRoles.Contains(p.Role));
        foreach (var partition in rest) Write(partition);

        if (eraseData)
        {
            foreach (var partition in model.Partitions.Where(p => p.Role == PartitionRole.UserData))
                Add(StepKind.Erase, "Erase the user data", partition.Name, 0, figures.EraseSeconds, "The system is whole; the user data must be erased again.", role: PartitionRole.UserData);
        }

        Add(StepKind.RestartSystem, "Restart into the system", null, 0, figures.RestartSeconds, "Everything is written. Start the phone by its power key.");
        Add(StepKind.FirstBoot, "First boot", null, 0, new Band(figures.FirstBootMinutes.Typical * 60, figures.FirstBootMinutes.Slow * 60),
            "Everything is written. Leave it on the charger and let it start again.");
        Add(StepKind.Check, "Check what became of it", null, 0, new Band(180, 300), "Nothing is lost; read again.", hands: true);
        return steps;

        void Write(PartitionSpec partition)
        {
            var image = package.Image(partition.Name)!;
            var megabytes = image.Body.Bytes / 1e6;
            var noReturn = partition.Role == PartitionRole.BootChain;
            Add(StepKind.Write, $"Write {partition.Name}", partition.Name, image.Body.Bytes,
                new Band(Math.Max(1, megabytes / figures.WriteMegabytesPerSecond.Typical), Math.Max(2, megabytes / figures.WriteMegabytesPerSecond.Slow)),
                noReturn
                    ? "No way back but chip emergency mode: the phone may not answer again."
                    : "The phone stays in fastboot mode, or is brought back into it by keys. Write again from the start.",
                noReturn: noReturn, role: partition.Role);
        }

        void AddRestart(string title) => Add(StepKind.RestartBootloader, title, null, 0, figures.RestartSeconds,
            "Bring the phone into its bootloader by keys and write again from the start.");

        void Add(StepKind kind, string title, string? partition, long bytes, Band seconds, string ifBroken, bool hands = false, bool noReturn = false, PartitionRole? role = null) =>
            steps.Add(new PlanStep(steps.Count + 1, kind, title, partition, bytes, seconds, hands, ifBroken, noReturn, role));
    }

    private static List<Fate> Fates(Phone phone, PlanTarget target, int? revision, bool eraseData)
    {
        var fromCustom = phone[FactName.DeviceStatus].Values.Contains("custom");
        var keptReason = fromCustom
            ? "No part that is written holds it, but a phone that comes from a custom system is likely to loop until it is wiped."
            : "No part that is written holds it. Not promised: a loop after the write may force a wipe.";
        var data = eraseData
            ? new Fate("Photos, apps, messages", FateKind.Lost, "lost", "The user data is erased.")
            : new Fate("Photos, apps, messages", FateKind.Unknown, "kept if it starts", keptReason);
        return
        [
            data,
            eraseData
                ? new Fate("Accounts", FateKind.Lost, "signed out", "The set-up may ask for the account that was signed in last.")
                : new Fate("Accounts", FateKind.Kept, "kept", "They lie with the user data."),
            new Fate("Root, custom system", FateKind.Lost, "replaced by stock", "Boot and system are written over."),
            new Fate("Custom recovery", FateKind.Replaced, "replaced by stock", "Recovery is written over."),
            new Fate("Lock state", FateKind.Kept, $"stays {target.LockState}", "Closing the lock is a plan of its own, after proof of stock and one boot."),
            revision > target.RollbackFloor
                ? new Fate("Rollback floor", FateKind.OneWay, $"{target.RollbackFloor} becomes {revision}", "For ever: no older revision can be written after this.")
                : new Fate("Rollback floor", FateKind.Kept, target.RollbackFloor is null ? "none" : $"stays {target.RollbackFloor}", "The package brings the same revision."),
            new Fate("SIM and storage card", FateKind.Kept, "untouched", "Take them out anyway; they go back in at hand-back."),
            new Fate("Identity numbers", FateKind.Kept, "untouched", "Junctra never writes them."),
            new Fate("Warranty", FateKind.Unknown, "not known", "It depends on the maker and on local consumer law; ask there."),
        ];
    }

    private static List<Expectation> Expectations(Package package, PlanTarget target, int? revision)
    {
        var expected = new List<Expectation>
        {
            new(FactName.Serial, target.Serial, "the same phone", true),
            new(FactName.ModelCode, target.ModelCode, "the same phone", true),
            new(FactName.LockState, target.LockState, "this plan does not change it", true),
        };
        if (package.Build is { } build) expected.Add(new Expectation(FactName.Build, build.Build, "the package", true));
        if (package.Build?.Os is { } os) expected.Add(new Expectation(FactName.OsVersion, os, "the package", false));
        if (revision is { } number) expected.Add(new Expectation(FactName.BootloaderRevision, number.ToString(), "the package", true));
        if (target.RollbackFloor is { } floor)
            expected.Add(new Expectation(FactName.RollbackFloor, Math.Max(floor, revision ?? 0).ToString(), revision > floor ? "raised by the package" : "unchanged", true));
        if (package.Says(FactName.RadioBuild) is [var radio]) expected.Add(new Expectation(FactName.RadioBuild, radio, "the package", true));
        expected.Add(new Expectation(FactName.DeviceStatus, "official", "full stock", false));
        expected.Add(new Expectation(FactName.Root, "none", "full stock", false));
        return expected;
    }
}
