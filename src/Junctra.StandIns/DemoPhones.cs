using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>The phones of the demo world, as they come to the bench.</summary>
internal static partial class DemoPhones
{
    /// <summary>The phones by name, and the job to which each belongs; none to a spare one.</summary>
    public static IReadOnlyList<(string Name, string? Ticket, Func<ModelCatalogue, TwinOrigin> Birth)> All { get; } =
    [
        // A Cairn with a custom system, unlocked, to be sold. Somebody has brought it into its bootloader already.
        ("A", "0421", catalogue => Cairn(catalogue, "HX204", "HXA70431", PhoneMode.Fastboot, 71, "custom-2.1", true, "custom-2.1")),
        // A Cairn that restarts for ever since a write of its own build failed half way; the data is still there.
        ("B", "0424", catalogue =>
            Cairn(catalogue, "HX204", "HXB70988", PhoneMode.BootLoop, 64, "HX204/15.26w10-7.r3", false, "HX204/15.26w02-1.r3")
        ),
        // A Cairn Small with its own system, in its bootloader, for a job of one's own.
        ("C", null, catalogue =>
            Cairn(catalogue, "HX204C", "HXC70112", PhoneMode.Fastboot, 83, "HX204C/15.26w02-2.r3", true, "HX204C/15.26w02-2.r3")
        ),
        // A Halyard in its write mode, which the computer lists with a warning mark beside another phone.
        ("D", "0423", catalogue => Of(
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
        ("E", "0425", catalogue => Of(
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
        ("F", "0429", catalogue => Of(
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
        ("G", "0428", catalogue => Of(
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
        ("H", "0418", catalogue => Of(
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
        // A Tern 4, healthy, whose owner wants the update of another region.
        ("I", "0415", catalogue => Of(
                catalogue,
                "TN41E",
                PhoneMode.System,
                new TwinNature
                {
                    Serial = "TNI10415",
                    Build = "TN41E.2.2540.WHM1",
                    Os = 11,
                    Revision = 2,
                    ChargePercent = 83,
                }
            )),
        // A carrier's Tern 4 with somebody else's system.
        ("J", "0416", catalogue => Of(
                catalogue,
                "TN41K",
                PhoneMode.System,
                new TwinNature
                {
                    Serial = "TNJ10416",
                    Build = "custom-1.3",
                    Os = 11,
                    Revision = 2,
                    Unlocked = true,
                    System = SoftwareKind.Custom,
                    ChargePercent = 62,
                }
            )),
        // A Tern 6 with root, which allows this computer.
        ("K", "0419", catalogue => Of(
                catalogue,
                "TN63E",
                PhoneMode.System,
                new TwinNature
                {
                    Serial = "TNK60419",
                    Build = "TN63E.5.2606.WHM1",
                    Os = 15,
                    Revision = 5,
                    Unlocked = true,
                    Root = "8.2",
                    Debugging = true,
                    Allowed = [BenchPhone.Computer],
                    ChargePercent = 91,
                    Account = "owner",
                    Computer = BenchPhone.Computer,
                }
            )),
        // A Fell with somebody else's system and recovery; its own backup lies on a card.
        ("L", "0420", catalogue => Of(
                catalogue,
                "OB17",
                PhoneMode.System,
                new TwinNature
                {
                    Serial = "OBF20117",
                    Build = "custom-0.9",
                    Os = 2,
                    Revision = 4,
                    Unlocked = true,
                    CustomRecovery = true,
                    System = SoftwareKind.Custom,
                    ChargePercent = 74,
                }
            )),
        // A Fell whose update lies in the wrong place under the wrong name.
        ("M", "0422", catalogue => Of(
                catalogue,
                "OB17",
                PhoneMode.System,
                new TwinNature
                {
                    Serial = "OBM20422",
                    Build = "OB17_2.6.112_r04_DNM",
                    Os = 2,
                    Revision = 4,
                    ChargePercent = 79,
                }
            ) with { HasCard = true, Files = [(false, "update.zip.zip", "update.zip.zip")] }),
        // Two Terns of which not even the chip answers by itself: their boot chains are gone.
        ("N", "0426", catalogue => Dead(catalogue, "TNN60426", 7)),
        ("O", "0427", catalogue => Dead(catalogue, "TNO60427", 6)),
        // A Cairn Two in its bootloader, for a job of one's own.
        ("P", null, catalogue => Of(
                catalogue,
                "HX310",
                PhoneMode.Fastboot,
                new TwinNature
                {
                    Serial = "HXP70310",
                    Build = "HX310/16.26w02-1.r2",
                    Os = 16,
                    Revision = 2,
                    Unlocked = true,
                    ChargePercent = 80,
                    Computer = BenchPhone.Computer,
                }
            )),
        // The other phone at port D: a Tern 4 whose driver nobody installed.
        ("X", null, catalogue => Of(
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
}
