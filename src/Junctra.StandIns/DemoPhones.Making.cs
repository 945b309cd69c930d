using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

// How the phones of the demo world are made.
internal static partial class DemoPhones
{
    private const int EndMarkAt = 8192;

    /// <summary>A Tern 6 without a boot chain, and without a sign of life.</summary>
    private static TwinOrigin Dead(ModelCatalogue catalogue, string serial, int revision)
    {
        var dead = Of(
            catalogue,
            "TN63W",
            PhoneMode.Emergency,
            new TwinNature
            {
                Serial = serial,
                Build = $"TN63W.{revision}.2612.WHM1",
                Os = 15,
                Revision = revision,
                ChargePercent = 55,
            }
        );
        // Its chip answers to a needle on the right pad, and to nothing else.
        return dead with
        {
            State = dead.State with
            {
                Stage = PhoneStage.Off,
                Faults = new TwinFaults { DeadBoard = true },
            },
        };
    }

    private static TwinOrigin Of(ModelCatalogue catalogue, string code, PhoneMode mode, TwinNature nature)
    {
        var model = catalogue.Model(code)!;
        var chain = model.Partitions.First(spec => spec.Role == PartitionRole.BootChain).Name;
        return new TwinOrigin(
            TwinFactory.In(model, mode, nature),
            new Dictionary<string, string>
            {
                [chain] = DemoImages.StampText(("model", code), ("part", chain), ("revision", nature.Revision.ToString())),
            }
        );
    }

    private static TwinOrigin Cairn(
        ModelCatalogue catalogue,
        string code,
        string serial,
        PhoneMode mode,
        int battery,
        string build,
        bool systemIsWhole,
        string dataOf
    )
    {
        var system = DemoImages.StampText(
            ("model", code),
            ("part", "system"),
            ("build", build),
            ("os", "15"),
            ("end", EndMarkAt.ToString())
        );
        static SoftwareKind KindOf(string build) =>
            build.StartsWith("custom", StringComparison.Ordinal) ? SoftwareKind.Custom : SoftwareKind.Stock;
        var state = TwinFactory.In(
            catalogue.Model(code)!,
            mode,
            new TwinNature
            {
                Serial = serial,
                Build = build,
                Os = 15,
                Revision = 3,
                Unlocked = true,
                ChargePercent = battery,
                System = KindOf(build),
                Computer = BenchPhone.Computer,
            }
        );
        return new TwinOrigin(
            state with
            {
                Data = state.Data! with { Build = dataOf, Kind = KindOf(dataOf) },
                Parts = systemIsWhole ? state.Parts : state.Parts.SetItem("system", state.Parts["system"] with { Whole = false }),
            },
            new Dictionary<string, string>
            {
                ["bootloader"] = DemoImages.StampText(("model", code), ("part", "bootloader"), ("revision", "3")),
                ["radio"] = DemoImages.StampText(("model", code), ("part", "radio"), ("radio", code + "-R-26w02")),
                ["system"] = systemIsWhole ? system.PadRight(EndMarkAt, '\0') + "junctra demo image ends\n" : system,
            }
        );
    }
}
