using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>The phones of the demo world, as they come to the bench.</summary>
internal static class DemoPhones
{
    private const int EndMarkAt = 8192;

    /// <summary>The phones by name; those with a port lie on a cable, the others are only in somebody's hands.</summary>
    public static IReadOnlyList<(string Name, Func<ModelCatalogue, TwinOrigin> Birth)> All { get; } =
    [
        // A Cairn with a custom system, unlocked, to be sold. Somebody has brought it into its bootloader already.
        ("A", catalogue => Cairn(catalogue, "HX204", "HXA70431", PhoneMode.Fastboot, 71, "custom-2.1", true, "custom-2.1")),
        // A Cairn that restarts for ever since a write of its own build failed half way; the data is still there.
        ("B", catalogue =>
            Cairn(catalogue, "HX204", "HXB70988", PhoneMode.BootLoop, 64, "HX204/15.26w10-7.r3", false, "HX204/15.26w02-1.r3")
        ),
        // A Cairn Small with its own system, in its bootloader, for a job of one's own.
        ("C", catalogue =>
            Cairn(catalogue, "HX204C", "HXC70112", PhoneMode.Fastboot, 83, "HX204C/15.26w02-2.r3", true, "HX204C/15.26w02-2.r3")
        ),
        // A Halyard in its write mode, which the computer lists with a warning mark beside another phone.
        ("D", catalogue => Of(
                catalogue,
                "TRB62",
                PhoneMode.Download,
                new TwinNature
                {
                    Serial = "TRD40551",
                    Build = "TRB62-N-14c-04-20260311",
                    Revision = 4,
                    ChargePercent = 77,
                    Computer = BenchPhone.Computer,
                }
            )),
        // A Cairn Small on recovery's idle picture.
        ("E", catalogue => Of(
                catalogue,
                "HX204C",
                PhoneMode.NoCommand,
                new TwinNature
                {
                    Serial = "HXC70533",
                    Build = "HX204C/15.26w02-2.r3",
                    Os = 15,
                    ChargePercent = 58,
                }
            )),
        // A Cairn that seems dead: its cell is flat to the bottom.
        ("F", catalogue => Of(
                catalogue,
                "HX204",
                PhoneMode.Off,
                new TwinNature
                {
                    Serial = "HXA70777",
                    Build = "HX204/15.26w02-1.r3",
                    Os = 15,
                    ChargePercent = 0,
                }
            )
                is var dead
                ? dead with
                {
                    State = dead.State with { SignOfLifeAt = 12_000_000 },
                }
                : dead),
        // A Tern 6, stock and unlocked, that is to be locked again.
        ("G", catalogue => Of(
                catalogue,
                "TN63E",
                PhoneMode.System,
                new TwinNature
                {
                    Serial = "TNG60214",
                    Build = "TN63E.5.2608.WHM2",
                    Os = 14,
                    Revision = 5,
                    Unlocked = true,
                    ChargePercent = 66,
                    Account = "owner",
                    Seed = 2,
                }
            )),
        // A Tern 6 that restarts for ever since a custom system was put on it; the customer's data are those of the stock system before.
        ("H", catalogue => Of(
                catalogue,
                "TN63E",
                PhoneMode.BootLoop,
                new TwinNature
                {
                    Serial = "TNH60418",
                    Build = "custom-4.0",
                    Os = 14,
                    Revision = 5,
                    Unlocked = true,
                    System = SoftwareKind.Custom,
                    ChargePercent = 88,
                    Computer = BenchPhone.Computer,
                }
            )
                is var looping
                ? looping with
                {
                    State = looping.State with
                    {
                        Tripped = true,
                        Data = new TwinData("TN63E.5.2608.WHM2", 14, SoftwareKind.Stock, 40, "owner"),
                    },
                }
                : looping),
        // The other phone at port D: a Tern 4 whose driver nobody installed.
        ("X", catalogue => Of(
                catalogue,
                "TN41E",
                PhoneMode.Download,
                new TwinNature
                {
                    Serial = "TNX10093",
                    Build = "TN41E.2.2540.WHM1",
                    Revision = 2,
                    ChargePercent = 41,
                    Computer = BenchPhone.Computer,
                }
            )),
    ];

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
