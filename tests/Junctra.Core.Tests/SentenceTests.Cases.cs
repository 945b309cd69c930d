using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Phones, packages and shop rules among which every sentence must come up.</summary>
public partial class SentenceTests
{
    private static readonly (FactName Name, string[] Values)[] Facts =
    [
        (FactName.ModelCode, ["TN63E", "TN63W", "TN41E", "TN41K", "HX204", "HX204C", "TRB62", "OB17", "ZZ999"]),
        (FactName.ChipFamily, ["Merak Four", "Dolan Major"]),
        (FactName.CarrierLocked, ["yes", "no"]),
        (FactName.Region, ["WHM", "SRV", "LNT"]),
        (FactName.RegionGroup, ["north", "east"]),
        (FactName.RollbackFloor, ["3", "5", "6", "2"]),
        (FactName.BootloaderRevision, ["3", "5", "7"]),
        (
            FactName.Build,
            ["TN63E.5.2606.WHM1", "TN63E.6.2640.WHM1", "gibberish", "OB17_2.6.112_r04_DNM", "HX204/15.26w10-7.r3", "TN41E.2.2610.WHM1"]
        ),
        (FactName.OsVersion, ["2", "14", "15"]),
        (FactName.SecurityPatch, ["2026-03", "2026-09"]),
        (FactName.DeviceStatus, ["official", "custom"]),
        (FactName.Root, ["present"]),
        (FactName.RootManager, ["8.1", "8.2"]),
        (FactName.LockState, ["locked", "unlocked"]),
        (FactName.Serial, ["OBF20117", "T1"]),
        (FactName.StorageSize, ["64", "128"]),
        (FactName.RadioBuild, ["HX204-R-26w01", "HX204-R-26w06", "HX204-R-26w20", "TRB62-R-N-20260301", "TRB62-R-N-20260601"]),
        (FactName.Mode, ["system", "fastboot", "download", "emergency", "off", "boot-loop", "lock-change", "update-running"]),
        (FactName.Reached(PhoneMode.Fastboot), ["yes", "no"]),
        (FactName.Reached(PhoneMode.Download), ["yes", "no"]),
        (FactName.Card, ["present", "none"]),
        (FactName.CardPlace, ["root", "internal"]),
        (FactName.CardFileName, ["fell-update.zip", "fell-update.zip.zip"]),
        (FactName.CardFree, ["0", "900"]),
        (FactName.PartitionSize("system"), ["1000", "200000000"]),
    ];

    private static readonly Package[] Packages =
    [
        Sample.Set("TN63E", "TN63E.4.2536.WHM1"),
        Sample.Set("TN63E", "TN63E.5.2608.WHM2"),
        Sample.Set("TN63E", "TN63E.6.2630.WHM1", published: false),
        Sample.Set("TN63E", "TN63E.5.2609.SRV1"),
        Sample.Set("TN63E", "TN63E.55.2608.WHM2"),
        Sample.Set("TN63W", "TN63W.6.2612.WHM1"),
        Sample.Set("TN63E", "TN63E.5.2608.WHM2", "version-bootloader=6"),
        Sample.Set("TN63E", "TN63E.5.2608.WHM2", "storage-gb=64"),
        Sample.Set("TN63E", "TN63E.5.2608.WHM2", "chip=Merak~Four chip=Dolan~Major"),
        Sample.Set("TN63E", "none", "os-version=14 security-patch=2026-03"),
        Sample.Set("TN63E", "TN63E.5.2608.WHM2", "patched-by=root~manager~8.2", published: false, only: ["boot", "system"]),
        Sample.Set("TN63E", "TN63E.5.2608.WHM2", "patched-by=somebody", published: false, only: ["boot", "system"]),
        Sample.Set("TN41E", "TN41E.2.2610.WHM1"),
        Sample.Set("TN41E", "TN41E.2.2624.SRV1"),
        Sample.Set("TN41K", "TN41K.2.2610.LNT1"),
        Sample.Set("HX204", "HX204/15.26w10-7.r3", "version-baseband=HX204-R-26w06"),
        Sample.Set("HX204", "HX204/15.26w10-7.r3", "channel=preview"),
        Sample.Set("HX204", "none"),
        Sample.Set("HX204C", "HX204C/15.26w10-4.r3"),
        Sample.Set("HX204", "HX204/15.26w10-7.r3", only: ["boot", "nowhere"]),
        Sample.Set("HX204", "HX204/15.26w10-7.r3", only: []),
        Sample.Set("", "HX204/15.26w10-7.r3", "version-bootloader=3"),
        Sample.Set("ZZ999", "none"),
        Sample.Set("", "none"),
        Sample.Set("TRB62", "TRB62-N-14c-04-20260311", "version-baseband=TRB62-R-N-20260311"),
        Sample.Set("TRB62", "TRB62-E-14c-04-20260311", "version-baseband=TRB62-R-E-20260311"),
        Sample.Set("TRB62", "TRB62-N-14c-04-20260311"),
        Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM"),
        Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM pre-build=OB17_2.6.112_r04_DNM", only: []),
        Sample.Set(
            "OB17",
            "OB17_2.6.118_r04_DNM",
            "post-build=OB17_2.6.118_r04_DNM pre-build=OB17_2.6.112_r04_DNM",
            published: false,
            only: []
        ),
        Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
        Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 system=stock"),
        Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=modified", only: ["boot"]),
        Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14"),
        Sample.Set("OB17", "OB17_2.6.118_r04_DNM", only: ["recovery"]),
        Sample.Set("OB17", "OB17_2.6.118_r04_DNM", only: ["boot"]),
        PackageReader.Read(
            "cut.tar",
            Sample.Set("TN63E", "TN63E.5.2608.WHM2").Contents with
            {
                Findings = [new PackageFinding(FindingWeight.Fatal, "The file is cut off.")],
            },
            Repo.Catalogue
        ),
        PackageReader.Read(
            "locked.zip",
            Sample.Set("TN63E", "TN63E.5.2608.WHM2").Contents with
            {
                IsLocked = true,
                Members = [],
            },
            Repo.Catalogue
        ),
    ];

    private static (Phone Phone, Package Package, MatchPolicy Policy) Case(Random random)
    {
        var facts = new List<Fact>();
        foreach (var (name, values) in Facts)
        {
            // Seldom nothing is known of it, sometimes two sources disagree.
            var claims = random.Next(10) switch
            {
                < 4 => 0,
                < 9 => 1,
                _ => 2,
            };
            for (var i = 0; i < claims; i++)
                facts.Add(
                    Sample.Fact(
                        name,
                        values[random.Next(values.Length)],
                        random.Next(3) switch
                        {
                            0 => FactSource.Label,
                            1 => FactSource.Link,
                            _ => FactSource.Settings,
                        }
                    )
                );
        }

        T Any<T>()
            where T : struct, Enum => Enum.GetValues<T>()[random.Next(Enum.GetValues<T>().Length)];
        string[] wishes =
        [
            "none",
            "newest",
            "exactly TN63E.5.2608.WHM2",
            "exactly 15",
            "not-above TN63E.5.2608.WHM2",
            "not-above 14",
            "same-revision",
            "exactly OB17_2.6.118_r04_DNM",
            "not-above HX204/15.26w10-7.r3",
        ];
        return (
            new Phone(facts),
            Packages[random.Next(Packages.Length)],
            new MatchPolicy(Any<RegionSchool>(), random.Next(2) == 0)
            {
                Revision = Any<RevisionSchool>(),
                Origin = Any<OriginSchool>(),
                Digests = Any<DigestSchool>(),
                Goal = Any<JobGoal>(),
                Wish = GoalWords.ReadWish(wishes[random.Next(wishes.Length)])!,
                NeedsBoardRescue = random.Next(4) == 0,
            }
        );
    }
}
