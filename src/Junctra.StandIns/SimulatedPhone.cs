using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Modes;
using Junctra.Formats.Sparse;

namespace Junctra.StandIns;

/// <summary>What a simulated phone remembers when its program ends.</summary>
internal sealed record PhoneMemory
{
    public required string Model { get; init; }
    public required string Serial { get; init; }
    public required PhoneMode Mode { get; init; }
    public required int RollbackFloor { get; init; }
    public required int RunningRevision { get; init; }
    public required string RunningRadio { get; init; }
    public required bool Unlocked { get; init; }
    public required int BatteryPercent { get; init; }
    public required bool CableIn { get; init; }

    /// <summary>Build whose system made the user data; null when the user data is empty.</summary>
    public required string? UserDataOf { get; init; }
}

/// <summary>A command that the phone refuses, in its own words.</summary>
internal sealed class PhoneRefusesException(string text) : Exception(text);

/// <summary>
/// A simulated phone: its partitions are files of their true size, its memory a JSON file, and it obeys the rules of the
/// bench. It refuses writes when locked, boot chains below its floor, images that do not fit; it raises its floor when it
/// starts a newer boot chain; it loops on a half-written system or on data of another system. Not for use by two callers at once.
/// </summary>
internal sealed class SimulatedPhone
{
    private static readonly JsonSerializerOptions Json = new() { WriteIndented = true };
    private readonly string folder;
    private readonly PhoneModel model;

    private SimulatedPhone(string folder, PhoneModel model, PhoneMemory memory)
    {
        this.folder = folder;
        this.model = model;
        Memory = memory;
    }

    public PhoneMemory Memory { get; private set; }

    public PhoneModel Model => model;

    public bool AnswersFastboot => Memory is { Mode: PhoneMode.Fastboot, CableIn: true };

    /// <summary>Opens a phone's folder, or makes it as the birth record says.</summary>
    public static SimulatedPhone Open(string folder, ModelCatalogue catalogue, PhoneBirth birth)
    {
        var file = Path.Combine(folder, "memory.json");
        if (File.Exists(file))
        {
            var memory = JsonSerializer.Deserialize<PhoneMemory>(File.ReadAllText(file), Json)!;
            return new SimulatedPhone(folder, catalogue.Model(memory.Model)!, memory);
        }

        Directory.CreateDirectory(folder);
        var model = catalogue.Model(birth.Memory.Model)!;
        var phone = new SimulatedPhone(folder, model, birth.Memory);
        foreach (var partition in model.Partitions)
        {
            using var stream = File.Create(phone.PathOf(partition.Name));
            stream.SetLength(partition.SizeBytes);
        }

        foreach (var (partition, text) in birth.Contents) phone.WriteText(partition, text);
        phone.Remember(birth.Memory);
        return phone;
    }

    public string? Variable(string name) => name switch
    {
        "version" => "0.4",
        "product" => Memory.Model,
        "serialno" => Memory.Serial,
        "is-userspace" => "no",
        "chip-family" => model.ChipFamily,
        "unlocked" => Memory.Unlocked ? "yes" : "no",
        "bootloader-revision" => Memory.RunningRevision.ToString(),
        "rollback-floor" => Memory.RollbackFloor.ToString(),
        "battery-percent" => Memory.BatteryPercent.ToString(),
        "version-baseband" => Memory.RunningRadio,
        "system-build" => DemoImages.Stamp(PathOf("system"))?.GetValueOrDefault("build"),
        _ when name.StartsWith("partition-size:", StringComparison.Ordinal) =>
            model.Partition(name["partition-size:".Length..]) is { } partition ? $"0x{partition.SizeBytes:x}" : null,
        _ => null,
    };

    /// <summary>Writes a downloaded image to a partition.</summary>
    /// <exception cref="PhoneRefusesException">The phone refuses it.</exception>
    public async Task FlashAsync(string name, ReadOnlyMemory<byte> image)
    {
        var partition = Writable(name);
        if (partition.Role == PartitionRole.BootChain) CheckBootChain(image.Span);
        await using var file = new FileStream(PathOf(name), FileMode.Open, FileAccess.Write);
        if (!SparseHeader.IsSparse(image.Span))
        {
            if (image.Length > partition.SizeBytes) throw new PhoneRefusesException($"image of {image.Length} bytes, {name} holds {partition.SizeBytes}");
            await file.WriteAsync(image);
            return;
        }

        try
        {
            var reader = await SparseReader.OpenAsync(new MemoryStream(MemoryMarshal.TryGetArray(image, out var held) ? held.Array! : image.ToArray(), held.Offset, image.Length));
            if (reader.Header.ExpandedBytes > partition.SizeBytes)
                throw new PhoneRefusesException($"image of {reader.Header.ExpandedBytes} bytes, {name} holds {partition.SizeBytes}");
            await reader.ReadAllAsync(null, async (chunk, part, offset) =>
            {
                if (chunk.Kind == SparseChunkKind.DontCare) return;
                file.Position = offset;
                await file.WriteAsync(part);
            });
        }
        catch (SparseFormatException error)
        {
            throw new PhoneRefusesException(error.Message);
        }
    }

    /// <summary>Erases a partition.</summary>
    /// <exception cref="PhoneRefusesException">The phone refuses.</exception>
    public void Erase(string name)
    {
        var partition = Writable(name);
        using var file = new FileStream(PathOf(name), FileMode.Open, FileAccess.Write);
        file.SetLength(0);
        file.SetLength(partition.SizeBytes);
        if (partition.Role == PartitionRole.UserData) Remember(Memory with { UserDataOf = null });
    }

    /// <summary>Starts the boot chain anew: a newer one raises the floor for ever. Where it leads is the caller's question.</summary>
    public void StartBootChain()
    {
        var chain = DemoImages.Stamp(PathOf("bootloader"));
        var radio = DemoImages.Stamp(PathOf("radio"));
        if (chain is null || chain.GetValueOrDefault("model") != Memory.Model)
        {
            Remember(Memory with { Mode = PhoneMode.Unknown });
            return;
        }

        var revision = int.Parse(chain.GetValueOrDefault("revision") ?? "0");
        Remember(Memory with
        {
            RunningRevision = revision,
            RollbackFloor = Math.Max(Memory.RollbackFloor, revision),
            RunningRadio = radio?.GetValueOrDefault("radio") ?? "",
        });
    }

    /// <summary>Where a start into the system ends up.</summary>
    public PhoneMode BootsTo()
    {
        var system = DemoImages.Stamp(PathOf("system"));
        if (system is null || !DemoImages.IsWhole(PathOf("system"))) return PhoneMode.BootLoop;
        if (Memory.UserDataOf is null) return PhoneMode.SetupWizard;
        return SystemKind(Memory.UserDataOf) == SystemKind(system["build"]) ? PhoneMode.System : PhoneMode.BootLoop;
    }

    /// <summary>What the settings of a running system show; null when it does not run.</summary>
    public IReadOnlyDictionary<string, string>? Settings() =>
        Memory.Mode is PhoneMode.System or PhoneMode.SetupWizard ? DemoImages.Stamp(PathOf("system")) : null;

    public void Enter(PhoneMode mode)
    {
        var system = mode is PhoneMode.System or PhoneMode.SetupWizard ? DemoImages.Stamp(PathOf("system")) : null;
        Remember(Memory with { Mode = mode, UserDataOf = system is null ? Memory.UserDataOf : system["build"] });
    }

    public void MoveCable(bool isIn) => Remember(Memory with { CableIn = isIn });

    private static string SystemKind(string build) => build.StartsWith("custom", StringComparison.Ordinal) ? "custom" : "stock";

    private PartitionSpec Writable(string name)
    {
        if (!Memory.Unlocked) throw new PhoneRefusesException("the bootloader is locked");
        var partition = model.Partition(name) ?? throw new PhoneRefusesException($"no partition {name}");
        return partition.Role == PartitionRole.Identity ? throw new PhoneRefusesException($"{name} is protected") : partition;
    }

    private void CheckBootChain(ReadOnlySpan<byte> image)
    {
        var stamp = DemoImages.Stamp(image);
        if (stamp is null || stamp.GetValueOrDefault("model") != Memory.Model) throw new PhoneRefusesException("boot chain is not for this model");
        if (int.Parse(stamp["revision"]) < Memory.RollbackFloor) throw new PhoneRefusesException($"boot chain revision {stamp["revision"]} is below the floor {Memory.RollbackFloor}");
    }

    private void WriteText(string partition, string text)
    {
        using var file = new FileStream(PathOf(partition), FileMode.Open, FileAccess.Write);
        file.Write(Encoding.UTF8.GetBytes(text));
    }

    private string PathOf(string partition) => Path.Combine(folder, partition + ".bin");

    private void Remember(PhoneMemory memory)
    {
        Memory = memory;
        var file = Path.Combine(folder, "memory.json");
        File.WriteAllText(file + ".new", JsonSerializer.Serialize(memory, Json));
        File.Move(file + ".new", file, overwrite: true);
    }
}

/// <summary>A phone as it first comes to the bench.</summary>
/// <param name="Memory">What it remembers.</param>
/// <param name="Contents">Stamps at the start of partitions.</param>
internal sealed record PhoneBirth(PhoneMemory Memory, IReadOnlyDictionary<string, string> Contents);
